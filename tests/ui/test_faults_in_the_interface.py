"""What a clerk sees when something goes wrong, and when there is much at once."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import hostile
from playwright.sync_api import Page, expect

from tests.ui.conftest import Application, serious_findings
from tests.ui.test_interface import docket, open_desk, row, saved, take_in


def test_a_document_that_was_stopped_says_why_and_can_be_read_on(
    page: Page, application: Application, drop: Callable[..., None], tmp_path: Path
) -> None:
    name = "a pattern of a thousandth.pdf"
    hostile.SOURCES[name](tmp_path / name)
    page.goto(application.address)
    drop(page, tmp_path / name)
    mine = docket(page, name)
    expect(mine.locator(".state")).to_have_text("reading 0 of 1")
    mine.get_by_role("button", name="Stop").click()
    expect(mine.locator(".state")).to_have_text("stopped")
    expect(mine.locator(".problem")).to_have_text("Reading was stopped.")
    assert serious_findings(page) == []
    mine.get_by_role("button", name="Read on").click()
    expect(mine.locator(".state")).to_have_text("reading 0 of 1")
    mine.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("article")).to_have_count(0)


def test_what_needs_a_person_is_said_until_it_is_over(page: Page, application: Application) -> None:
    said = {"number": 1, "documents": [], "everything": False, "problems": ["Less than 300 MB of the disk are left."]}
    page.route("**/api/events*", lambda route: route.fulfill(json=said))
    page.goto(application.address)
    notice = page.get_by_text("Less than 300 MB of the disk are left.")
    expect(notice).to_be_visible()
    page.get_by_role("button", name="Close this message").click()
    expect(notice).to_be_hidden()
    page.wait_for_timeout(2000)
    expect(notice).to_be_hidden()
    said["problems"] = []
    page.wait_for_timeout(2000)
    said["problems"] = ["Less than 300 MB of the disk are left."]
    expect(notice).to_be_visible()


def test_eight_windows_on_one_document(
    page: Page, application: Application, drop: Callable[..., None], typeset: Callable[..., Path]
) -> None:
    take_in(page, application, drop, typeset("One row.\n\nAnother row.\n\nA third row.", "Windows"))
    open_desk(page, "Windows.pdf")
    others = [page.context.new_page() for _ in range(7)]
    for other in others:
        other.goto(page.url)
        other.locator(".row").first.wait_for()
    row(page, "Another").locator(".gutter").click()
    page.keyboard.press("x")
    saved(page, 1)
    for other in others:
        expect(other.get_by_role("button", name="Bring back")).to_have_count(1)
    others[-1].get_by_role("button", name="Bring back").click()
    for window in (page, *others[:-1]):
        expect(window.get_by_role("button", name="Bring back")).to_have_count(0)
