"""Tables as a clerk corrects them: cells typed in one after another, the header, a table made of rows and back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, take_in

PAGE = """#set page(width: 320pt, height: 300pt)
The levels of the week are these.
#table(columns: 3, [*Station*], [*Height*], [*Days*], [North pier], [2.31], [14], [Ferry slip], [0.87], [1O4], [Sill], [3.05], [7])
They were read at noon."""


def test_cells_are_typed_in_and_a_table_becomes_rows_and_a_table_again(page, application, drop, typeset):
    path = typeset(PAGE, "levels")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    table = row(page, "Ferry slip")
    cell = table.get_by_role("cell")
    expect(cell).to_have_count(12)
    expect(table.locator(".gutter")).to_have_attribute("aria-label", re.compile("Table"))

    # A letter among digits is asked about in its cell, and answered there.
    page.keyboard.press("q")
    expect(page.locator(".slip")).to_contain_text("Query 1 of")
    page.keyboard.press("n")  # past the doubt about the heading of the page
    expect(page.locator(".slip")).to_contain_text("a letter among digits")
    expect(table.locator(".doubt.current")).to_have_text("1O4")
    page.keyboard.press("t")
    page.keyboard.type("104")
    page.keyboard.press("Enter")
    expect(cell.nth(8)).to_have_text("104")
    page.keyboard.press("Escape")

    # Keys alone: into the table, from cell to cell, out again.
    table.locator(".gutter").click()
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Row 1, column 1 of the table")).to_be_focused()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Row 2, column 2 of the table")).to_be_focused()
    page.keyboard.type(" m")
    page.keyboard.press("Shift+Tab")
    expect(cell.nth(4)).to_have_text("2.31 m")
    assert serious_findings(page) == []
    page.keyboard.press("Escape")
    table.get_by_label("Rows of its header").select_option("0")
    expect(table.locator("tr.header")).to_have_count(0)

    page.keyboard.press("Escape")
    table.locator(".gutter").click()
    page.keyboard.press("y")
    expect(page.get_by_role("cell")).to_have_count(0)
    expect(row(page, "North pier")).to_contain_text("2.31 m")
    row(page, "Station").locator(".gutter").click()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    page.get_by_role("button", name="Make a table").click()
    expect(page.get_by_role("cell")).to_have_count(12)
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(row(page, "Ferry slip").get_by_role("cell")).to_have_count(12)


def test_of_a_long_table_the_rows_near_the_window_are_drawn(page, application, drop, typeset):
    rows = ", ".join(f"[Station {n}], [{n}.05]" for n in range(400))
    path = typeset(f"#table(columns: 2, {rows})", "long")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    table = page.get_by_role("region", name="Table of 400 rows, 2 columns")
    expect(table.get_by_role("cell", name="Station 1", exact=True)).to_be_visible()
    assert 100 < table.get_by_role("cell").count() < 500
    expect(table.get_by_role("cell", name="Station 399")).to_have_count(0)
    page.locator(".pane").evaluate("pane => pane.scrollTo(0, pane.scrollHeight)")
    last = table.get_by_role("cell", name="Station 399")
    expect(last).to_be_visible()
    last.locator(".text").click()
    page.keyboard.press("End")
    page.keyboard.type(" B")
    page.keyboard.press("Escape")
    expect(table.get_by_role("cell", name="Station 399 B")).to_be_visible()
