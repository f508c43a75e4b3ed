"""Tables as a clerk corrects them: cells typed in one after another, the header, a table made of rows and back."""

from __future__ import annotations

import io
import re

import openpyxl
from playwright.sync_api import expect

from tests.ui.conftest import act, choose, held_back, serious_findings
from tests.ui.test_interface import open_desk, row, saved, take_in

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
    act(page, "Rows", "No header")
    expect(table.locator("tr.header")).to_have_count(0)
    page.keyboard.press("Escape")

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


LEVELS = """#set page(width: 320pt, height: 300pt)
The levels of the week are these.
#table(columns: 3, [*Station*], [*Height*], [*Days*], [North pier], [2.31], [14], [Ferry slip], [0.87], [104])
#v(30pt)
#table(columns: 3, [*Station*], [*Height*], [*Days*], [Sill], [3.05], [7])
They were read at noon."""


def cells(table) -> list[str]:
    return [text.strip() for text in table.get_by_role("cell").all_inner_texts()]


def test_rows_columns_and_cells_are_changed_by_hand(page, application, drop, typeset):
    path = typeset(LEVELS, "by hand")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    first, second = row(page, "Ferry slip"), row(page, "Sill")
    expect(second.get_by_role("cell")).to_have_count(6)

    # Two halves become one table; the header that is said again is left out.
    first.get_by_role("cell", name="Ferry slip").locator(".text").click()
    act(page, "Table", "Join with the table after")
    expect(first.get_by_role("cell")).to_have_count(12)
    assert cells(first)[9:] == ["Sill", "3.05", "7"]

    # A row is put in below, with the keys alone, and typing goes on where it was.
    first.get_by_role("cell", name="Ferry slip").locator(".text").click()
    expect(page.get_by_role("textbox", name="Row 3, column 1 of the table")).to_be_focused()
    page.keyboard.press("Alt+Enter")
    expect(page.get_by_role("button", name="Bold")).to_be_focused()
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("menuitem", name="New row above")).to_be_focused()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(first.get_by_role("cell")).to_have_count(15)
    expect(page.get_by_role("textbox", name="Row 3, column 1 of the table")).to_be_focused()
    assert cells(first)[9:12] == ["", "", ""]
    act(page, "Table", "Take out what is empty")
    expect(first.get_by_role("cell")).to_have_count(12)

    # Cells of the header are marked with keys and merged.
    first.get_by_role("cell", name="Height").locator(".text").click()
    expect(page.get_by_role("textbox", name="Row 1, column 2 of the table")).to_be_focused()
    page.keyboard.press("Alt+Shift+ArrowRight")
    expect(first.locator("td.marked")).to_have_count(2)
    assert serious_findings(page) == []
    act(page, "Cells", "Merge the marked cells")
    merged = first.get_by_role("cell", name="Height Days")
    expect(merged).to_have_attribute("colspan", "2")
    act(page, "Cells", "No lines")
    expect(merged).to_have_css("border-top-style", "none")
    # A menu that is opened before a change is saved stays open, and keeps the keys, when it is.
    with held_back(page, "**/operations") as held:
        act(page, "Cells", "Line below")
        page.keyboard.press("Enter")
        expect(page.get_by_role("menuitem", name="Merge the marked cells")).to_be_visible()
    (ruling,) = held
    ruling.continue_()
    expect(merged).to_have_css("border-bottom-style", "solid")
    choose(page, "Shade")
    expect(merged).to_have_css("background-color", "rgb(228, 224, 216)")
    expect(merged).to_have_css("border-top-style", "none")

    # Cells of a spreadsheet are pasted, and what they need is added.
    first.get_by_role("cell", name="3.05").locator(".text").click()
    expect(page.get_by_role("textbox", name="Row 4, column 2 of the table")).to_be_focused()
    page.evaluate(
        r"""() => { const data = new DataTransfer(); data.setData('text/plain', '3.1\t8\nLow\t9');
             document.activeElement.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true})); }"""
    )
    expect(first.get_by_role("cell", name="Low")).to_have_count(1)
    assert cells(first)[-6:] == ["Sill", "3.1", "8", "", "Low", "9"]

    # All of it is undone step by step.
    page.keyboard.press("Escape")
    for _ in range(8):
        page.keyboard.press("Control+z")
    expect(second.get_by_role("cell")).to_have_count(6)


def test_edges_of_columns_are_dragged_and_moved_with_keys_and_a_table_is_saved(page, application, drop, typeset):
    path = typeset(LEVELS, "by hand")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    table = row(page, "Ferry slip")
    table.get_by_role("cell", name="Ferry slip").locator(".text").click()
    edge = table.get_by_role("separator", name="Right edge of column 1")
    before = int(edge.get_attribute("aria-valuenow"))
    box = edge.bounding_box()
    page.mouse.move(box["x"] + 6, box["y"] + 6)
    page.mouse.down()
    page.mouse.move(box["x"] + 36, box["y"] + 6, steps=5)
    page.mouse.up()
    saved(page, 1)
    assert int(edge.get_attribute("aria-valuenow")) > before + 5
    edge.focus()
    page.keyboard.press("ArrowLeft")
    saved(page, 2)
    with page.expect_download() as download:
        act(page, "Table", "Save as XLSX")
    sheet = openpyxl.load_workbook(io.BytesIO(download.value.path().read_bytes())).active
    assert [cell.value for cell in sheet[2]] == ["North pier", 2.31, 14]


READINGS = """#set page(width: 320pt, height: 300pt)
The readings of the week were these.

Monday #h(1fr) 2.31 #h(1fr) rough#h(2cm)

Tuesday #h(1fr) 2.28 #h(1fr) calm#h(2cm)

They were written down at noon."""


def test_lines_drawn_on_the_strips_make_a_table_and_can_be_moved_later(page, application, drop, typeset):
    path = typeset(READINGS, "readings")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    row(page, "Monday").locator(".gutter").click()
    page.keyboard.press("Shift+ArrowDown")
    page.get_by_role("button", name="Columns by lines").click()
    layers = page.get_by_role("group", name="Column lines: click, or press +, to put one")
    expect(layers).to_have_count(2)
    expect(layers.first).to_be_focused()
    box = layers.first.bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.3, box["y"] + box["height"] / 2)
    # The second one with the keys: between the first and the right side, then a little to the left.
    page.keyboard.press("+")
    lines = layers.first.get_by_role("slider")
    expect(lines).to_have_count(2)
    expect(lines.nth(1)).to_be_focused()
    page.keyboard.press("ArrowRight")
    assert serious_findings(page) == []
    page.keyboard.press("Enter")
    table = row(page, "Tuesday")
    expect(table.get_by_role("cell")).to_have_count(6)
    assert cells(table) == ["Monday", "2.31", "rough", "Tuesday", "2.28", "calm"]

    # The lines of a table are where its columns end; one is taken away.
    act(page, "Table", "Columns by lines on the strip")
    expect(lines).to_have_count(2)
    lines.nth(1).focus()
    page.keyboard.press("Delete")
    expect(lines).to_have_count(1)
    page.get_by_role("button", name="Make columns").click()
    expect(table.get_by_role("cell")).to_have_count(4)
    assert cells(table) == ["Monday", "2.31 rough", "Tuesday", "2.28 calm"]
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    expect(row(page, "Tuesday").get_by_role("cell")).to_have_count(0)
    expect(row(page, "Monday")).to_have_count(1)


def typed_and_saved(page, text: str, *keys: str) -> None:
    """Types something, and waits until the document has another revision with it."""
    status = page.locator("footer .saved")
    before = status.inner_text().rpartition(" ")[2]
    page.keyboard.type(text)
    for key in keys:
        page.keyboard.press(key)
    expect(status).to_have_text(re.compile(rf"^(Saved .*|All saved) · revision (?!{before}$)\d+$"))


def test_a_cell_becomes_a_list_and_a_column_stands_by_its_decimals(page, application, drop, typeset):
    path = typeset(PAGE, "levels_listed")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    table = row(page, "North pier")
    cell = table.get_by_role("cell")

    cell.nth(6).click()
    expect(page.get_by_role("textbox", name="Row 3, column 1 of the table")).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("Shift+Enter")
    typed_and_saved(page, "Old quay")
    act(page, "Cells", "List with signs")
    expect(cell.nth(6).locator(".mark")).to_have_text(["•", "•"])
    expect(page.get_by_role("textbox", name="Row 3, column 1 of the table")).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("Enter")
    typed_and_saved(page, "Steps")
    expect(cell.nth(6).locator(".mark")).to_have_text(["•", "•", "•"])
    assert serious_findings(page) == []
    page.keyboard.press("Home")
    page.keyboard.press("Backspace")
    expect(cell.nth(6).locator(".mark")).to_have_count(2)
    expect(page.get_by_role("textbox", name="Row 3, column 1 of the table")).to_be_focused()

    cell.nth(7).click()
    expect(page.get_by_role("textbox", name="Row 3, column 2 of the table")).to_be_focused()
    page.keyboard.press("Control+A")
    typed_and_saved(page, "10.8", "Enter")
    act(page, "Columns", "Align: by decimals")
    expect(table.locator(".decimal")).to_have_count(3)
    page.keyboard.press("Escape")
    signs = [
        one.evaluate("""cell => {
          const texts = document.createTreeWalker(cell, NodeFilter.SHOW_TEXT);
          while (texts.nextNode() && !texts.currentNode.data.includes('.'));
          const [text, range] = [texts.currentNode, document.createRange()];
          const at = text.data.indexOf('.');
          range.setStart(text, at); range.setEnd(text, at + 1);
          return range.getBoundingClientRect().left;
        }""")
        for one in (cell.nth(4), cell.nth(7), cell.nth(10))
    ]
    assert max(signs) - min(signs) < 1.5
