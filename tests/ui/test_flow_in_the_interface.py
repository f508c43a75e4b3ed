"""Structure corrected as a clerk does it: paragraphs over page ends, several rows at once, the outline."""

from __future__ import annotations

import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, take_in

CUT = """#set page(width: 300pt, height: 260pt)
= North Pier
The float was found hard against the guide wire and then the keeper, who was not told of it at all and
#pagebreak()
so could not know it, wound the clock.

== What is wanted

A lamp

Two oilskins

A bicycle

= Ferry slip
The pressure gauge worked without interruption."""


@pytest.fixture
def desk(page: Page, application_with, typeset) -> Page:
    path = typeset(CUT, "gauges")
    page.goto(application_with(path).address)
    open_desk(page, path.name)
    expect(row(page, "A bicycle")).to_have_count(1)
    return page


def select(page: Page, text: str) -> None:
    row(page, text).locator(".gutter").click()
    expect(row(page, text).locator(".gutter")).to_have_attribute("aria-pressed", "true")


def test_a_paragraph_put_together_over_a_page_end_is_asked_about_and_parted_with_one_key(desk):
    expect(row(desk, "at all and so could not know it")).to_have_count(1)
    desk.keyboard.press("q")
    slip = desk.locator(".slip")
    while "a new row may begin" not in slip.inner_text():
        desk.keyboard.press("n")
    desk.get_by_role("button", name="part it there").click()
    expect(row(desk, "so could not know it")).to_have_count(1)
    expect(row(desk, "at all and so could")).to_have_count(0)
    desk.keyboard.press("Escape")
    desk.keyboard.press("Control+z")
    expect(row(desk, "at all and so could")).to_have_count(1)


def test_three_rows_are_made_a_list_together_and_undone_as_one_step(desk):
    select(desk, "A lamp")
    desk.keyboard.press("Shift+ArrowDown")
    desk.keyboard.press("Shift+ArrowDown")
    expect(desk.get_by_role("toolbar", name="Tools for the marked rows")).to_contain_text("3 rows marked")
    desk.keyboard.press("l")
    for text in ("A lamp", "Two oilskins", "A bicycle"):
        expect(row(desk, text).locator(".gutter")).to_have_attribute("aria-label", re.compile("List item"))
    assert serious_findings(desk) == []
    desk.keyboard.press("Control+z")
    for text in ("A lamp", "Two oilskins", "A bicycle"):
        expect(row(desk, text).locator(".gutter")).to_have_attribute("aria-label", re.compile("Paragraph"))
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("toolbar", name="Tools for the marked rows")).to_have_count(0)


def test_marked_rows_are_dragged_to_another_place(desk):
    select(desk, "Two oilskins")
    row(desk, "A bicycle").locator(".gutter").click(modifiers=["Shift"])
    row(desk, "A bicycle").locator(".gutter").drag_to(row(desk, "A lamp").locator(".proof"))
    expect(desk.locator(".slot", has_text="Two oilskins")).to_have_attribute("data-place", "3")
    expect(desk.locator(".slot", has_text="A lamp")).to_have_attribute("data-place", "5")


def test_the_outline_goes_to_headings_and_moves_sections(desk):
    desk.keyboard.press("u")
    outline = desk.get_by_role("complementary", name="Outline")
    entries = outline.locator("li")
    expect(entries).to_have_text([re.compile("North Pier"), re.compile("What is wanted"), re.compile("Ferry slip")])
    entries.nth(2).locator("button").click()
    expect(row(desk, "Ferry slip").locator(".gutter")).to_have_attribute("aria-pressed", "true")
    entries.nth(2).locator("button").press("Alt+ArrowUp")
    expect(entries).to_have_text([re.compile("Ferry slip"), re.compile("North Pier"), re.compile("What is wanted")])
    entries.nth(2).locator("button").press("[")
    expect(row(desk, "What is wanted").locator(".gutter")).to_have_attribute("aria-label", re.compile("level 1"))
    assert serious_findings(desk) == []
    entries.nth(0).locator("button").press("Escape")
    expect(outline).to_have_count(0)
    desk.keyboard.press("Control+z")
    desk.keyboard.press("Control+z")
    expect(desk.locator(".slot").first).to_contain_text("North Pier")


def test_columns_can_be_given_up_before_delivery_and_come_back(page, application, drop, typeset):
    column = " ".join(f"Sentence {n} tells of the pier and of the slip." for n in range(14))
    path = typeset(f"#columns(2)[#set par(justify: true)\n{column}\n#colbreak()\n{column}]", "news", paper="a4")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.get_by_role("link", name="Deliver").click()
    button = page.get_by_role("button", name="Set it all in one column")
    button.click()
    expect(button).to_have_count(0)
    page.get_by_role("link", name="Back to the desk").click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    page.get_by_role("link", name="Deliver").click()
    expect(button).to_have_count(1)
    assert serious_findings(page) == []


def test_no_key_of_a_row_does_two_things(desk):
    desk.keyboard.press("?")
    keys = desk.get_by_role("dialog", name="Keys")
    on_rows = keys.locator("dl").nth(1)
    expect(on_rows).to_contain_text("make it: endnote")
    said = [key for key in on_rows.locator("kbd").all_inner_texts() if len(key) == 1 and key.isalpha()]
    assert len(said) == len(set(said)) > 15


def test_rows_are_made_terms_definitions_and_endnotes_by_their_keys(desk):
    for text, key, kind in (
        ("A lamp", "w", "Term"),
        ("Two oilskins", "a", "Definition"),
        ("A bicycle", "b", "Endnote"),
    ):
        select(desk, text)
        desk.keyboard.press(key)
        expect(row(desk, text).locator(".gutter")).to_have_attribute("aria-label", re.compile(kind))
    for _ in range(3):
        desk.keyboard.press("Control+z")
    expect(row(desk, "A bicycle").locator(".gutter")).to_have_attribute("aria-label", re.compile("Paragraph"))


def test_a_sign_in_a_line_is_shown_there_and_stays_when_the_text_is_corrected(
    page, application, drop, typeset, tmp_path
):
    Image.effect_noise((60, 60), 90).save(tmp_path / "sign.png")
    line = 'Then press #box(image("sign.png", height: 10pt)) twice, and write down the height that the staff shows by then.'
    path = typeset(f"= At the well\n{line}", "signs")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    text = row(page, "Then press").locator(".text")
    drawn = text.get_by_role("img", name="Picture in the line")
    expect(drawn).to_be_visible()
    assert drawn.evaluate("image => image.complete && image.naturalWidth") == 60
    assert serious_findings(page) == []
    text.click()
    page.keyboard.press("Control+End")
    page.keyboard.type(" Early.")
    expect(page.locator(".typing").get_by_role("img")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("footer .saved")).to_contain_text("Saved")
    page.reload()
    expect(row(page, "by then. Early.").get_by_role("img", name="Picture in the line")).to_be_visible()
