"""Signing in as a clerk sees it: before, in the middle of work, and what a lead can do."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from evenquill import cli
from evenquill.store.database import DATABASE
from tests.ui.conftest import Application, serious_findings
from tests.ui.test_interface import open_desk, type_in

NAME, PASSWORD = "Oske", "keel and tide 77"


@pytest.fixture
def guarded(tmp_path: Path) -> Iterator[Application]:
    """An application in which people sign in, with one lead."""
    data, file = tmp_path / "data", tmp_path / "password"
    file.write_text(PASSWORD, encoding="utf-8")
    assert cli.main(["account", "add", NAME, "--data", str(data), "--password-file", str(file)]) == cli.DONE
    made = Application(data, "serve", "--sign-in")
    yield made
    made.kill()


def sign_in(page: Page, name: str, password: str) -> None:
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Password", exact=True).fill(password)
    page.keyboard.press("Enter")


def test_work_goes_on_where_it_was_after_signing_in_again(
    page: Page, guarded: Application, typeset: Callable[..., Path], drop: Callable[..., None]
) -> None:
    page.goto(guarded.address)
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    assert serious_findings(page) == []
    sign_in(page, NAME, "keel and tide 78")
    expect(page.get_by_role("alert")).to_have_text("Name or password are wrong.")
    sign_in(page, NAME, PASSWORD)
    expect(page.get_by_role("heading", name="In-tray")).to_be_visible()

    drop(page, typeset("The float was found at the Keel light.", name="Float"))
    open_desk(page, "Float.pdf")
    type_in(page, "The float was found")
    page.keyboard.press("End")
    # The session ends while the clerk types; what is typed waits, and arrives.
    with sqlite3.connect(guarded.data / DATABASE) as store:
        store.execute("DELETE FROM sessions")
    page.keyboard.insert_text(" It was dry.")
    expect(page.get_by_text("You were signed out.")).to_be_visible()
    sign_in(page, NAME, PASSWORD)
    expect(page.get_by_text("You were signed out.")).to_be_hidden()
    expect(page.get_by_text("Keel light. It was dry.")).to_be_visible()
    page.reload()
    expect(page.get_by_text("Keel light. It was dry.")).to_be_visible()


def test_a_lead_gives_accounts_and_a_clerk_takes_another_password(page: Page, guarded: Application) -> None:
    page.goto(guarded.address)
    sign_in(page, NAME, PASSWORD)
    page.get_by_role("button", name="People").click()
    people = page.get_by_role("dialog")
    people.get_by_label("Name").fill("Mirre")
    people.get_by_label("First password").fill("Mirre 1")
    people.get_by_role("button", name="Add").click()
    expect(people.get_by_role("alert")).to_contain_text("10 characters or more")
    assert serious_findings(page) == []
    people.get_by_label("First password").fill("lantern room 5")
    people.get_by_role("button", name="Add").click()
    expect(people.get_by_role("list", name="Accounts").get_by_role("listitem")).to_have_count(2)
    people.get_by_label(f"Role of {NAME}").select_option("clerk")
    expect(people.get_by_role("alert")).to_have_text("Somebody has to be a lead. Make another one first.")
    expect(people.get_by_label(f"Role of {NAME}")).to_have_value("lead")
    page.keyboard.press("Escape")

    page.get_by_role("button", name=NAME).click()
    page.get_by_role("button", name="Sign out").click()
    sign_in(page, "Mirre", "lantern room 5")
    expect(page.get_by_role("button", name="People")).to_have_count(0)
    page.get_by_role("button", name="Mirre").click()
    page.get_by_label("Password so far").fill("lantern room 5")
    page.get_by_label("New password, 10").fill("lantern room 6")
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_text("The new password holds from now on.")).to_be_visible()
    page.get_by_role("button", name="Mirre").click()
    page.get_by_role("button", name="Sign out").click()
    sign_in(page, "mirre", "lantern room 6")
    expect(page.get_by_role("button", name="Mirre")).to_be_visible()
