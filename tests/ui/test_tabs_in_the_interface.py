"""Tab stops on the rows: shown as they are written, moved on the measure, lined up."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import act, serious_findings
from tests.ui.test_interface import FIRST_REVISIONS, open_desk, saved, shown_revision, take_in, type_in

FORM = """#let line(width, label, value) = [#box(width: width, label) #value]
#line(46mm)[Name of the keeper:][Mira Sollen]

#line(54mm)[Office of the harbour:][Lower Wendle]

#line(50mm)[Date of the order:][3 May]

#let led(what, count) = [#what #box(width: 1fr, repeat[. ]) #count]
#led[Wire for the float][40]

The order is delivered to the lock by the end of the month, as was agreed with the keeper."""


def left_of(page: Page, text: str) -> float:
    """Where a text begins, in pixels."""
    box = page.locator(".line .text span", has_text=text).first.bounding_box()
    assert box is not None
    return box["x"]


def right_of(page: Page, text: str) -> float:
    box = page.locator(".line .text span", has_text=text).last.bounding_box()
    assert box is not None
    return box["x"] + box["width"]


@pytest.fixture
def desk(page, application_with, typeset) -> Page:
    path = typeset(FORM, "Form")
    page.goto(application_with(path).address)
    open_desk(page, path.name)
    return page


def test_rows_out_of_line_are_lined_up_and_the_stops_are_moved_by_keys(desk: Page):
    values = ("Mira Sollen", "Lower Wendle", "3 May")
    assert len({round(left_of(desk, value) / 5) for value in values}) == 3
    desk.locator(".line .text").first.click()
    desk.keyboard.press("Escape")
    for _ in range(2):
        desk.keyboard.press("Shift+ArrowDown")
    desk.get_by_role("toolbar", name="Tools for the marked rows").get_by_role("button", name="Line up").click()
    saved(desk, 1)
    assert len({round(left_of(desk, value)) for value in values}) == 1
    desk.get_by_role("button", name="Unmark").click()

    desk.get_by_text("Lower Wendle").click()
    desk.keyboard.press("Escape")
    stop = desk.get_by_role("slider", name="Tab stop 1")
    before, place = stop.get_attribute("aria-valuenow"), left_of(desk, "Lower Wendle")
    stop.focus()
    for _ in range(5):
        desk.keyboard.press("ArrowRight")
    expect(stop).to_have_attribute("aria-valuenow", str(int(before or 0) + 10))
    # On a slow machine the pause that ends a move may come between two keys.
    desk.wait_for_timeout(1500)
    expect(desk.locator("footer .saved")).to_contain_text("Saved")
    moved = shown_revision(desk) - FIRST_REVISIONS[desk]
    assert 2 <= moved <= 6
    assert left_of(desk, "Lower Wendle") > place + 5
    stop.focus()
    desk.keyboard.press("Enter")
    saved(desk, moved + 1)
    expect(stop).to_have_accessible_name("Tab stop 1: what follows is in the middle here")
    stop.focus()
    desk.keyboard.press(".")
    saved(desk, moved + 2)
    expect(desk.locator(".row.active .tab.led, [aria-current] .tab.led, .tab.led").first).to_be_visible()
    stop.focus()
    desk.keyboard.press("Delete")
    saved(desk, moved + 3)
    expect(desk.get_by_role("slider")).to_have_count(0)
    assert serious_findings(desk) == []


def test_dots_lead_to_numbers_at_the_right_while_one_types(desk: Page):
    end = right_of(desk, "40")
    desk.get_by_text("Wire for the float").click()
    desk.keyboard.press("End")
    desk.keyboard.type("00")
    saved(desk, 1)
    desk.keyboard.press("Escape")
    assert abs(right_of(desk, "4000") - end) < 2
    expect(desk.locator(".tab.led")).to_have_count(1)


def test_a_tab_is_put_at_the_caret_and_a_stop_where_one_clicks(desk: Page):
    type_in(desk, "The order is delivered")
    desk.keyboard.press("Control+Home")
    act(desk, "Row", "Tab at the caret")
    saved(desk, 1)
    desk.keyboard.press("Escape")
    desk.get_by_title("Click to put a tab stop").click(position={"x": 150, "y": 8})
    saved(desk, 2)
    expect(desk.get_by_role("slider")).to_have_count(1)
    tab = desk.locator(".line .text", has_text="The order is delivered").locator(".tab").bounding_box()
    assert tab is not None
    assert abs(tab["width"] - 150) < 3


INDENTED = """#set page(width: 340pt, height: 260pt)
#set par(first-line-indent: (amount: 18pt, all: true), justify: true)
The float was found hard against the guide wire, and the trace for the two days is lost to the office and the harbour.

The well was pumped dry, the orifice cleared of weed, and the float hung again on a new wire of phosphor bronze."""


def test_indents_are_shown_and_moved_on_the_measure_for_all_rows_of_the_style(page, application, drop, typeset):
    path = typeset(INDENTED, "indented")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    lines = page.locator(".line .text")
    first_lines = "nodes => nodes.map((node) => parseFloat(getComputedStyle(node).textIndent))"
    assert len(set(lines.evaluate_all(first_lines))) == 1
    before = lines.evaluate_all(first_lines)[0]
    assert before > 10

    lines.first.click()
    act(page, "Look", "Measure with indents")
    page.keyboard.press("Escape")
    first = page.get_by_role("slider", name="First lines of Body text begin here")
    expect(first).to_have_attribute("aria-valuenow", "18")
    assert serious_findings(page) == []
    first.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(first).to_have_attribute("aria-valuenow", "24")
    page.wait_for_timeout(1500)
    expect(page.locator("footer .saved")).to_contain_text("Saved")
    after = lines.evaluate_all(first_lines)
    assert len(set(after)) == 1
    assert after[0] == pytest.approx(before * 24 / 18, rel=0.05)

    left = page.get_by_role("slider", name="Rows of Body text begin here")
    box = left.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 2, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + 32, box["y"] + 4, steps=4)
    page.mouse.up()
    expect(left).not_to_have_attribute("aria-valuenow", "0")
    expect(page.locator(".line").last).not_to_have_css("padding-left", "0px")
    act(page, "Look", "Hide the measure")
    expect(left).to_have_count(0)
