"""Finding and replacing over rows and tables, with the keys."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, take_in, type_in

PAGE = """#set page(width: 320pt, height: 300pt)
= The float of the pier
The float was found hard against the guide wire. A second float hangs in the well; *floats* are painted red.
#table(columns: 2, [Float], [2.31], [Wire], [0.87])
They were read at noon."""


def test_found_over_rows_and_tables_and_replaced_all_some_or_one(page, application, drop, typeset):
    path = typeset(PAGE, "floats")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    type_in(page, "second float")
    page.keyboard.press("Control+f")
    panel = page.get_by_role("complementary", name="Find")
    expect(panel.get_by_label("Find", exact=True)).to_be_focused()
    page.keyboard.type("float")
    expect(panel.get_by_role("status")).to_have_text("5 found")
    hits = panel.get_by_role("listitem")
    expect(hits).to_have_count(5)
    expect(hits.nth(4)).to_contain_text("Float")
    expect(hits.nth(1).locator("img")).to_have_js_property("complete", True)
    panel.get_by_label("whole words").check()
    expect(panel.get_by_role("status")).to_have_text("4 found")
    panel.get_by_label("Make it").fill("buoy")
    expect(hits.first).to_contain_text("buoy")
    assert serious_findings(page) == []

    # The first stays as it is, the second alone is replaced, then the rest.
    page.keyboard.press("ArrowDown")
    page.keyboard.press("x")
    expect(hits.first).to_contain_text("stays as it is")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("r")
    expect(row(page, "The buoy was found")).to_have_count(1)
    expect(panel.get_by_role("status")).to_have_text("3 found")
    panel.get_by_label("Find", exact=True).focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("x")
    panel.get_by_role("button", name="Replace 2").click()
    expect(page.get_by_role("cell").first).to_have_text("buoy")
    expect(row(page, "A second buoy hangs")).to_contain_text("floats are painted")
    expect(row(page, "The float of the pier")).to_have_count(1)

    # Both steps are undone.
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("cell").first).to_have_text("Float")
    page.get_by_role("button", name="Undo").click()
    expect(row(page, "The float was found")).to_have_count(1)

    # A look, and a pattern that is not understood.
    panel.get_by_label("whole words").uncheck()
    panel.get_by_label("In the look").select_option("Bold")
    expect(hits).to_have_count(1)
    panel.get_by_label("In the look").select_option("any look")
    panel.get_by_label("pattern", exact=True).check()
    panel.get_by_label("Find", exact=True).fill(r"(\d)\.(\d+")
    expect(panel.get_by_role("status")).to_contain_text("not understood")
    panel.get_by_label("Find", exact=True).fill(r"(\d)\.(\d+)")
    panel.get_by_label("Make it").fill(r"\1,\2")
    expect(hits.first).to_contain_text("2,31")
    panel.get_by_role("button", name="Replace all 2").click()
    expect(page.get_by_role("cell").nth(3)).to_have_text("0,87")
    expect(panel.get_by_role("status")).to_have_text("Not found.")
    panel.get_by_label("Find", exact=True).fill("noon")
    expect(panel.get_by_role("status")).to_contain_text("What it becomes is not understood")
    panel.get_by_label("Make it").fill("")
    hits.first.get_by_role("button").click()
    expect(row(page, "They were read").locator(".gutter")).to_have_attribute("aria-pressed", "true")
    panel.get_by_label("Find", exact=True).focus()
    page.keyboard.press("Escape")
    expect(panel).to_have_count(0)


FAULTS = """#set page(width: 320pt, height: 300pt)
The float was found hard against the guide wire , and it was wet .

A second second float hangs in the well ; it is painted red."""


def test_small_faults_are_swept_by_kind_and_undone_as_one_step(page, application, drop, typeset):
    path = typeset(FAULTS, "faults")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.keyboard.press("Control+f")
    page.get_by_role("button", name="Sweep", exact=True).click()
    panel = page.get_by_role("complementary", name="Sweep")
    signs, twice = panel.get_by_label("spaces before signs"), panel.get_by_label("words that stand twice")
    expect(signs).to_be_checked()
    expect(twice).not_to_be_checked()
    assert serious_findings(page) == []
    panel.get_by_role("button", name="hangs in the well").click()
    expect(row(page, "painted red").locator(".gutter")).to_have_attribute("aria-pressed", "true")
    twice.check()
    panel.get_by_role("button", name="Sweep 4").click()
    expect(panel).to_contain_text("There is nothing to sweep.")
    expect(row(page, "A second float hangs in the well; it is painted red.")).to_have_count(1)
    expect(row(page, "the guide wire, and it was wet.")).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    expect(row(page, "guide wire , and it was wet .")).to_have_count(1)
    expect(row(page, "second second")).to_have_count(1)
    page.keyboard.press("Escape")
