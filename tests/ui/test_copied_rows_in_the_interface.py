"""Rows copied in one document and put into another, with the keys of the clipboard."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, saved, take_in

FROM = """= Tides
#text(fill: rgb("b3261e"))[The float was found hard against the guide wire.]

#table(columns: 2, table.header([*Gauge*], [*High*]), [North Pier], [2.31], [Ferry slip], [1.90])

The rest is not wanted."""


def test_rows_are_copied_into_another_document_and_onto_the_clipboard_of_others(page: Page, application, drop, typeset):
    take_in(page, application, drop, typeset(FROM, "From"), typeset("The first row.\n\nThe last row.", "Into"))
    open_desk(page, "From.pdf")
    row(page, "Tides").locator(".gutter").click()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Control+c")
    expect(page.get_by_text("3 rows are on the clipboard.")).to_be_visible()
    page.goto(f"{application.address}/#/")
    open_desk(page, "Into.pdf")
    row(page, "The first row.").locator(".gutter").click()
    page.keyboard.press("Control+v")
    saved(page, 1)
    expect(page.locator("[data-place]")).to_have_count(5)
    expect(row(page, "Tides").locator(".gutter")).to_have_text("H1")
    expect(page.locator("[data-place='3'] td, [data-place='3'] th")).to_have_text(
        ["Gauge", "High", "North Pier", "2.31", "Ferry slip", "1.90"]
    )
    assert serious_findings(page) == []
    page.keyboard.press("Control+z")
    expect(page.locator("[data-place]")).to_have_count(2)


def test_the_clipboard_of_a_field_stays_that_of_the_field(page: Page, application, drop, typeset):
    take_in(page, application, drop, typeset("Plain words only.\n\nOthers.", "Words"))
    open_desk(page, "Words.pdf")
    row(page, "Plain words only.").locator(".gutter").click()
    page.keyboard.press("Control+c")
    expect(page.get_by_text("1 row is on the clipboard.")).to_be_visible()
    page.keyboard.press("Control+f")
    field = page.get_by_role("textbox", name="Find")
    field.focus()
    page.keyboard.press("Control+v")
    expect(field).to_have_value("Plain words only.")
    expect(page.locator("[data-place]")).to_have_count(2)
