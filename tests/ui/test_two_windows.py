"""What other windows, lost connections and quick fingers do to one another: nothing is lost, and nothing lands where it does not belong."""

from __future__ import annotations

import re

import numpy as np
import pytest
import scan_effects
from playwright.sync_api import BrowserContext, Page, expect

from tests.ui.test_interface import FIRST_REVISIONS, docket, open_desk, row, saved, shown_revision, take_in, type_in

TEXTS = ".slot .proof .text, .slot .proof .typing"


def texts(page: Page) -> list[str]:
    return page.locator(TEXTS).all_inner_texts()


@pytest.fixture
def windows(page, application_with, typeset):
    """Two windows on one document of four rows."""
    path = typeset("One row.\n\nAnother row.\n\nA third row.\n\nA fourth row.", "Windows")
    page.goto(application_with(path).address)
    open_desk(page, "Windows.pdf")
    other = page.context.new_page()
    other.goto(page.url)
    other.locator(".row").first.wait_for()
    FIRST_REVISIONS[other] = FIRST_REVISIONS[page]
    yield page, other
    other.close()


def test_what_was_queued_behind_a_refused_change_does_not_pass_either(windows):
    first, second = windows
    # The second window hears nothing for a while.
    second.route("**/api/events*", lambda route: route.abort())
    row(first, "One row").locator(".gutter").click()
    first.keyboard.press("x")
    saved(first, 1)
    row(second, "Another").locator(".gutter").click()
    # Three keys at once: all of them are made of what this window still shows.
    second.evaluate(
        """() => { for (const key of ['x', 'ArrowDown', 'x'])
             document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key, bubbles: true, cancelable: true})); }"""
    )
    expect(second.locator(".notices")).to_contain_text("changed in another window")
    expect(second.get_by_role("button", name="Bring back")).to_have_count(1)
    saved(second, 1)
    # After that, it goes on.
    second.unroute("**/api/events*")
    row(second, "fourth").locator(".gutter").click()
    second.keyboard.press("x")
    saved(second, 2)
    expect(first.get_by_role("button", name="Bring back")).to_have_count(2)


def offline(page: Page, *, lost: bool) -> None:
    context: BrowserContext = page.context
    context.set_offline(lost)


def test_what_is_typed_while_the_server_is_gone_is_sent_when_it_is_back(page, application, drop, typeset):
    take_in(page, application, drop, typeset("One row.\n\nAnother row.", "Gone"))
    open_desk(page, "Gone.pdf")
    offline(page, lost=True)
    type_in(page, "One row")
    page.keyboard.press("End")
    page.keyboard.type(" Typed without a server.")
    page.keyboard.press("Escape")  # closes the row
    expect(page.locator(".notices")).to_contain_text("kept in this browser")
    expect(page.locator("footer")).to_contain_text("1 change waits for the server")
    expect(row(page, "Typed without a server.")).to_be_visible()
    offline(page, lost=False)
    saved(page, 1)
    expect(row(page, "One row. Typed without a server.")).to_be_visible()


def test_what_is_typed_before_the_window_is_closed_is_sent_by_the_next_one(page, application, drop, typeset):
    take_in(page, application, drop, typeset("One row.\n\nAnother row.", "Closed"))
    open_desk(page, "Closed.pdf")
    address, first = page.url, shown_revision(page)
    offline(page, lost=True)
    type_in(page, "One row")
    page.keyboard.press("End")
    page.keyboard.type(" Typed at the last moment.")
    page.keyboard.press("Escape")
    expect(page.locator("footer")).to_contain_text("1 change waits for the server")
    page.evaluate("location.href = 'about:blank'")
    offline(page, lost=False)
    page.goto(address)
    expect(row(page, "Typed at the last moment.")).to_be_visible()
    expect(page.locator("footer .saved")).to_have_text(re.compile(rf"^Saved .* · revision {first + 1}$"))


def test_two_windows_type_without_a_server_and_the_second_is_told(windows):
    first, second = windows
    offline(first, lost=True)
    for page, text in ((first, " Mine."), (second, " Yours.")):
        type_in(page, "One row")
        page.keyboard.press("End")
        page.keyboard.type(text)
        page.keyboard.press("Escape")
        expect(page.locator("footer")).to_contain_text("waits for the server")
        if page is first:
            # They share what the browser keeps; the first one's change is there once.
            page.wait_for_timeout(200)
    offline(first, lost=False)
    expect(first.locator("footer")).not_to_contain_text("waits")
    expect(second.locator("footer")).not_to_contain_text("waits")
    told = " ".join(page.locator(".notices").inner_text() + " ".join(texts(page)) for page in (first, second))
    assert "Mine." in told
    assert "Yours." in told


def test_ten_windows_on_one_server_are_all_answered(page, application, drop, typeset):
    take_in(page, application, drop, typeset("One row.", "Ten"))
    others = [page.context.new_page() for _ in range(10)]
    for other in others:
        other.goto(application.address)
        expect(docket(other, "Ten.pdf")).to_be_visible()
    drop(page, typeset("Another document.", "Eleven"))
    for other in others:
        expect(docket(other, "Eleven.pdf").locator(".state")).to_have_text("to correct")
        other.close()


def test_home_end_and_page_keys_go_through_the_rows(page, application, drop, typeset):
    names = [f"Row {chr(97 + n // 26)}{chr(97 + n % 26)}x of many." for n in range(120)]
    take_in(page, application, drop, typeset("\n\n".join(names), "Far"))
    open_desk(page, "Far.pdf")
    row(page, names[1]).locator(".gutter").click()
    for key, place in (("PageDown", 11), ("End", 119), ("PageUp", 109), ("Home", 0)):
        page.keyboard.press(key)
        expect(page.locator(".row.active")).to_contain_text(names[place])
        expect(page.locator(".row.active")).to_be_in_viewport()


PAGE = (
    "The keeper xqzvk went down at noon and wrqk the wire, then zvxq the float and qwrk the well once more. "
    "Nobody saw the float that day.\n\nThe keeper went home at two."
)


@pytest.fixture
def scan(page, application_with, typeset, tmp_path):
    """A scanned page with words that no list knows, open on the desk."""
    sheet = scan_effects.turned(
        scan_effects.printed(scan_effects.drawn(typeset(PAGE), 1, 200), np.random.default_rng(3)), 0.6
    )
    path = tmp_path / "page.pdf"
    path.write_bytes(scan_effects.as_pdf([sheet]))
    page.goto(application_with(path).address)
    open_desk(page, path.name)
    return page


def test_quick_answers_in_one_row_all_find_their_words(scan):
    """Each is made before the one before is answered, so that its place in the text is that of before."""
    page = scan
    page.keyboard.press("q")
    expect(page.locator(".slip")).to_be_visible()
    open_before = int(re.search(r"(\d+) open", page.locator("footer").inner_text())[1])
    assert open_before >= 3
    page.evaluate(
        """() => { for (let n = 0; n < 3; n++)
             document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: '1', bubbles: true, cancelable: true})); }"""
    )
    expect(page.locator("footer")).to_contain_text("3 settled")
    assert "no longer there" not in page.locator(".notices").inner_text()


def test_a_key_that_is_held_down_answers_one_query(scan):
    page = scan
    page.keyboard.press("q")
    expect(page.locator(".slip")).to_be_visible()
    page.evaluate(
        """() => { for (let n = 0; n < 12; n++)
             document.activeElement.dispatchEvent(
               new KeyboardEvent('keydown', {key: '0', repeat: n > 0, bubbles: true, cancelable: true})); }"""
    )
    expect(page.locator("footer")).to_contain_text("1 settled")
    page.wait_for_timeout(400)
    expect(page.locator("footer")).to_contain_text("1 settled")


def test_reading_again_keeps_a_split_and_a_kind_and_undo_brings_the_first_reading_back(scan):
    page = scan
    type_in(page, "Nobody saw")
    page.keyboard.press("Home")
    before = texts(page)[0]
    for _ in range(before.index("Nobody")):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    saved(page, 1)
    page.keyboard.press("Escape")
    row(page, "went home").locator(".gutter").click()
    page.keyboard.press("h")
    saved(page, 2)
    made = texts(page)
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Take specks off").uncheck()
    dialog.get_by_role("button", name="Read again").click()
    # It can be corrected while it is read.
    type_in(page, "went home")
    page.keyboard.press("End")
    page.keyboard.type(" Early.")
    page.keyboard.press("Escape")
    expect(page.locator("footer .under-way")).to_be_hidden()
    expect(page.locator("footer .saved")).to_contain_text(f"revision {FIRST_REVISIONS[page] + 4}")
    expect(page.locator(TEXTS)).to_have_text([*made[:-1], f"{made[-1]} Early."])
    expect(row(page, "went home").locator(".gutter")).to_contain_text("H1")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("footer .saved")).to_contain_text(f"revision {FIRST_REVISIONS[page] + 5}")
    expect(page.locator(".row").first).to_be_visible()
