"""Styles changed in their panel: all rows follow, at once."""

from __future__ import annotations

import re

import docx
from docx.shared import Pt
from playwright.sync_api import expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, saved, take_in

PAGE = """#set page(width: 320pt, height: 300pt)
= North pier
The float was found hard against the guide wire.
= Ferry slip
The pressure gauge worked without interruption."""


def size_of(page, text: str) -> float:
    return row(page, text).locator(".text").evaluate("node => parseFloat(getComputedStyle(node).fontSize)")


def test_a_style_is_changed_named_given_and_merged(page, application, drop, typeset):
    path = typeset(PAGE, "styles")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    row(page, "guide wire").locator(".gutter").click()
    page.keyboard.press("s")
    panel = page.get_by_role("complementary", name="Styles")
    named = panel.get_by_role("listitem")
    heading = panel.get_by_role("button", name="Heading 1 · 2")
    expect(heading).to_contain_text("North pier")
    before = size_of(page, "Ferry slip")

    # The size, and slant, of a style: both headings follow.
    heading.focus()
    page.keyboard.press("Enter")
    said = panel.get_by_role("group", name="Style Heading 1")
    said.get_by_label("Size in points").fill("10,5")
    page.keyboard.press("Tab")
    saved(page, 1)
    expect(said.get_by_label("Size in points")).to_have_value("10.5")
    expect(row(page, "Ferry slip").locator(".text")).not_to_have_css("font-size", f"{before:g}px")
    assert size_of(page, "North pier") == size_of(page, "Ferry slip") < before
    said.get_by_role("button", name="upright").click()
    expect(row(page, "Ferry slip").locator(".text")).to_have_css("font-style", "italic")
    assert serious_findings(page) == []

    # What no size can be is refused with a sentence, and stays as it was.
    said.get_by_label("Size in points").fill("999")
    page.keyboard.press("Tab")
    expect(page.locator(".notices")).to_contain_text("Letters are 3 to 300 points.")

    # Another name; the row in hand is given the style and becomes a heading.
    said.get_by_label("Name of the style").fill("Station")
    page.keyboard.press("Tab")
    expect(panel.get_by_role("button", name="Station · 2")).to_be_visible()
    panel.get_by_role("button", name="Give it to the row in hand").click()
    expect(row(page, "guide wire").locator(".gutter")).to_contain_text("H1")
    expect(panel.get_by_role("button", name="Station · 3")).to_be_visible()

    # A new style of a row, merged away again.
    panel.get_by_role("button", name="New style from the row in hand").click()
    made = panel.get_by_role("group", name="Style New style")
    expect(made).to_be_visible()
    count = named.count()
    made.get_by_label("Merge it with").select_option("Station")
    expect(named).to_have_count(count - 1)
    for _ in range(6):
        page.get_by_role("button", name="Undo").click()
    expect(panel.get_by_role("button", name="Heading 1 · 2")).to_be_visible()
    expect(row(page, "guide wire").locator(".gutter")).to_contain_text("¶")
    expect(row(page, "Ferry slip").locator(".text")).to_have_css("font-size", f"{before:g}px")


LOUD = """#set page(width: 320pt, height: 300pt, columns: 2)
#set text(size: 9pt)
= North pier
*The float* was found hard against the guide wire, and _nobody_ knew of it until noon, when the tide had gone out again.
#quote(block: true)[The gauge worked without interruption.]"""


def test_everything_is_made_plain_after_saying_what_that_does_and_undone(page, application, drop, typeset):
    path = typeset(LOUD, "loud")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    expect(row(page, "The float").locator(".proof strong, .proof b, .proof span").first).to_have_css(
        "font-weight", "700"
    )
    page.keyboard.press("s")
    page.get_by_role("button", name="Everything plain").click()
    dialog = page.get_by_role("dialog", name="Everything plain")
    expect(dialog).to_contain_text("lose their looks")
    assert serious_findings(page) == []
    dialog.get_by_label("Typeface").select_option("Carlito")
    dialog.get_by_role("button", name="Make it plain").click()
    saved(page, 1)
    body = page.get_by_role("complementary", name="Styles").locator(".named").first
    body.click()
    expect(page.get_by_label("Typeface", exact=True)).to_have_value("Carlito")
    expect(row(page, "The float").locator(".text")).to_have_css("font-weight", "400")
    assert "strong" not in row(page, "The float").locator(".proof .text").inner_html()
    page.get_by_role("button", name="Undo").click()
    saved(page, 2)
    expect(page.get_by_label("Typeface", exact=True)).not_to_have_value("Carlito")


def test_looks_are_taken_from_a_docx_file(page, application, drop, typeset, tmp_path):
    path = typeset(PAGE, "styles")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    made = docx.Document()
    made.styles["Normal"].font.name = "Carlito"
    made.styles["Heading 1"].font.size = Pt(9)
    made.save(tmp_path / "office.docx")
    (tmp_path / "wrong.docx").write_text("no file")
    before = size_of(page, "Ferry slip")
    page.keyboard.press("s")
    panel = page.get_by_role("complementary", name="Styles")
    panel.get_by_label("DOCX file to take looks from").set_input_files(tmp_path / "wrong.docx")
    expect(page.locator(".notices")).to_contain_text("This is no DOCX file with styles.")
    panel.get_by_label("DOCX file to take looks from").set_input_files(tmp_path / "office.docx")
    saved(page, 1)
    expect(row(page, "Ferry slip").locator(".text")).not_to_have_css("font-size", f"{before:g}px")
    assert size_of(page, "Ferry slip") < before
    panel.locator(".named").first.click()
    expect(page.get_by_label("Typeface", exact=True)).to_have_value("Carlito")
    panel.get_by_label("Looks from another document").focus()
    expect(panel.get_by_label("Looks from another document").get_by_role("option")).to_have_count(1)


def test_another_typeface_stands_for_one_and_all_rows_show_it(page, application, drop, typeset):
    path = typeset(f'#set text(font: "DejaVu Sans")\n{PAGE}', "typefaces")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    text = row(page, "guide wire").locator(".text")
    page.keyboard.press("s")
    panel = page.get_by_role("complementary", name="Styles")
    chosen = panel.get_by_label("Stands for DejaVu Sans", exact=True)
    expect(chosen.locator("option").first).to_contain_text("Liberation Sans, by itself")
    every = panel.get_by_role("button", name="every document")
    expect(every).to_be_disabled()
    chosen.select_option("Carlito")
    saved(page, 1)
    expect(text).to_have_css("font-family", re.compile('^"DejaVu Sans", Carlito'))
    assert serious_findings(page) == []

    every.click()
    expect(page.locator(".notices")).to_contain_text(
        "Carlito stands for DejaVu Sans in documents that are read from now on."
    )
    expect(every).to_have_attribute("aria-pressed", "true")
    every.click()
    expect(every).to_have_attribute("aria-pressed", "false")
    page.get_by_role("button", name="Undo").click()
    saved(page, 2)
    expect(chosen).to_have_value("")
    expect(text).not_to_have_css("font-family", re.compile("Carlito"))


def test_the_typefaces_that_ship_are_there_without_the_machines_own(page, application, drop, typeset):
    page.goto(application.address)
    loaded = page.evaluate(
        "async () => (await Promise.all(['Liberation Serif', 'Liberation Sans', 'Liberation Mono', 'Carlito', 'Caladea']"
        ".map((face) => document.fonts.load(`italic 700 16px '${face}'`, 'Gauge')))).map((found) => found.length)"
    )
    assert loaded == [1] * 5


def test_each_sentence_becomes_a_row_for_translators_and_paragraphs_come_back(page, application, drop, typeset):
    path = typeset(f"{PAGE} It was read by Dr. Sollen at noon.", "sentences")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    expect(page.locator(".row")).to_have_count(4)
    page.keyboard.press("s")
    panel = page.get_by_role("complementary", name="Styles")
    panel.get_by_role("button", name="A row for each sentence").click()
    saved(page, 1)
    expect(page.locator(".row")).to_have_count(5)
    expect(row(page, "Dr. Sollen").locator(".text")).to_have_text("It was read by Dr. Sollen at noon.")
    panel.get_by_role("button", name="Sentences into paragraphs").click()
    saved(page, 2)
    expect(page.locator(".row")).to_have_count(4)
    panel.get_by_role("button", name="Sentences into paragraphs").click()
    expect(page.locator(".notices")).to_contain_text("No row is a sentence of the one before it.")


def test_the_looks_of_a_document_are_kept_by_the_office_and_given_to_another(page, application, drop, typeset):
    first, second = typeset(PAGE, "house"), typeset(PAGE.replace("guide wire", "old mooring"), "guest")
    take_in(page, application, drop, first)
    open_desk(page, first.name)
    page.keyboard.press("s")
    panel = page.get_by_role("complementary", name="Styles")
    panel.get_by_role("button", name="Body text · 2").click()
    panel.get_by_label("Typeface", exact=True).fill("Caladea")
    page.keyboard.press("Tab")
    saved(page, 1)
    panel.get_by_label("Name for the looks of this document").fill("House style")
    page.keyboard.press("Enter")
    expect(page.locator(".notices")).to_contain_text("are kept as “House style”.")
    assert serious_findings(page) == []

    take_in(page, application, drop, second)
    open_desk(page, second.name)
    page.keyboard.press("s")
    panel.get_by_label("Look of the office").select_option("House style")
    panel.get_by_role("button", name="Take it over").click()
    saved(page, 1)
    expect(row(page, "old mooring").locator(".text")).to_have_css("font-family", re.compile("Caladea"))
    panel.get_by_role("button", name="Drop it").click()
    expect(panel.get_by_label("Look of the office")).to_have_count(0)
