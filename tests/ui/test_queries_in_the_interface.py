"""Queries in the interface: settled by keyboard alone, with words that look alike; regions of the sheet; all undone again."""

from __future__ import annotations

import io
import re

import docx
import numpy as np
import pytest
import scan_effects
from playwright.sync_api import Page, expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import docket, open_desk, saved

ODD = "xqzvk wjpqt ntrhbz qlfgm zdkrp vbnxq jkwzt pqrdf mzxcv hgfdq trwqz lkjhx bnmvq wsxdc rfvgq tgbhz yhnjq ujmkz qzwxe dcfvb gthyz"
TEXT = (
    "The keeper at Brannowick wrote words that nobody knows. " + ODD + ". At Brannowick the float was dry.\n\n"
    "The tide was high at Brannowick on Friday and the stairs were wet."
)


@pytest.fixture
def scan(typeset, tmp_path):
    page = scan_effects.turned(
        scan_effects.printed(scan_effects.drawn(typeset(TEXT), 1, 200), np.random.default_rng(5)), 0.6
    )
    path = tmp_path / "Words of the keeper.pdf"
    path.write_bytes(scan_effects.as_pdf([page]))
    return path


@pytest.fixture
def application(application_with, scan):
    return application_with(scan)


@pytest.fixture
def desk(page: Page, application, scan) -> Page:
    """The desk on a scan with many queries."""
    page.goto(application.address)
    expect(docket(page, scan.name)).to_contain_text("queries open")
    open_desk(page, scan.name)
    page.locator("footer", has_text="open").wait_for()
    return page


def slip(page: Page):
    return page.locator(".slip")


def number_of(page: Page) -> str:
    return slip(page).locator("strong").first.inner_text()


def test_twenty_queries_are_settled_without_the_mouse_and_undone(desk):
    page = desk
    before = page.locator(".pane .text").all_inner_texts()
    page.keyboard.press("q")
    expect(slip(page)).to_be_visible()
    expect(slip(page).locator("img")).to_be_visible()
    page.wait_for_timeout(300)
    assert serious_findings(page) == []
    settled = 20
    for n in range(settled):
        # No waiting: the next query is there before the server has answered.
        if n % 5 == 4:
            page.keyboard.press("t")
            page.keyboard.type(f"typed{n}")
            page.keyboard.press("Enter")
        elif n % 2 and slip(page).locator(".reading").count() > 1:  # one of them is to keep it
            page.keyboard.press("1")
        else:
            page.keyboard.press("0")
    expect(page.locator("footer")).to_contain_text(f"{settled} settled")
    after = page.locator(".pane .text").all_inner_texts()
    assert "typed4" in " ".join(after)
    assert before != after
    page.keyboard.press("Escape")
    expect(slip(page)).to_be_hidden()
    for _ in range(settled):
        page.keyboard.press("Control+z")
    expect(page.locator("footer")).to_contain_text("0 settled")
    saved(page, 2 * settled)
    assert page.locator(".pane .text").all_inner_texts() == before


def test_keys_walk_leave_and_filter_and_typing_is_not_eaten(desk):
    page = desk
    page.keyboard.press("q")
    first = number_of(page)
    page.keyboard.press("n")
    expect(slip(page).locator("strong").first).not_to_have_text(first)
    page.keyboard.press("b")
    expect(slip(page).locator("strong").first).to_have_text(first)
    page.keyboard.press("l")
    expect(page.locator("footer")).to_contain_text("1 left for later")
    page.keyboard.press("t")
    page.keyboard.type("0nlbak1")
    expect(slip(page).get_by_label("Type the word")).to_have_value("0nlbak1")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(slip(page)).to_be_hidden()
    page.keyboard.press("i")
    dialog = page.get_by_role("dialog", name="Queries")
    dialog.get_by_label("Likely wrong from").select_option("0.5")
    page.wait_for_timeout(400)
    assert serious_findings(page) == []
    total, shown = (int(n) for n in reversed(re.findall(r"\d+", dialog.locator("p.quiet").first.inner_text())))
    assert 10 < shown <= total
    dialog.get_by_role("listitem").nth(1).get_by_role("button").click()
    expect(slip(page)).to_contain_text(f"Query 2 of {shown}")
    page.keyboard.press("k")
    kinds = page.get_by_role("dialog", name="All uncertain words")
    kinds.get_by_role("checkbox").first.uncheck()
    listed = kinds.get_by_role("checkbox").count()
    kinds.get_by_role("button", name=f"Settle {listed - 1}").click()
    expect(page.locator("footer")).to_contain_text(f"{listed - 1} settled")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.locator("footer")).to_contain_text("0 settled")


def test_words_that_look_alike_are_shown_and_settled_together(desk, application):
    page = desk
    page.keyboard.press("q")
    for _ in range(40):
        if "Brannowick" in slip(page).locator(".readings").inner_text():
            break
        page.keyboard.press("n")
    expect(slip(page)).to_contain_text("look alike")
    page.keyboard.press("a")
    sheet = page.get_by_role("dialog", name="Words that look alike")
    sheet.get_by_label("What they are to read").fill("Brannoway")
    page.wait_for_timeout(400)
    assert serious_findings(page) == []
    cuts = sheet.get_by_role("listitem")
    count = cuts.count()
    assert count >= 2
    cuts.last.get_by_role("button").click()
    expect(cuts.last).to_contain_text("struck out")
    sheet.get_by_role("button", name=f"Settle {count} words").click()
    expect(page.locator(".pane")).to_contain_text("Brannoway")
    text = " ".join(page.locator(".pane .text").all_inner_texts())
    assert (text.count("Brannoway"), text.count("Brannowick")) == (count, 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.locator(".pane")).not_to_contain_text("Brannoway")


def test_a_region_is_redrawn_read_again_and_delivered(desk, application):
    page = desk
    page.keyboard.press("e")
    regions = page.locator(".region .body")
    expect(regions).to_have_count(2)
    page.wait_for_timeout(500)
    assert serious_findings(page) == []
    regions.first.click()
    expect(page.locator(".proof button").first).to_have_attribute("aria-pressed", "true")
    handle = page.locator(".handle.s")
    box = handle.bounding_box()
    row = page.locator(".region").first.bounding_box()
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    page.mouse.move(box["x"] + 5, row["y"] + row["height"] * 0.45, steps=4)
    page.mouse.up()
    reading = page.get_by_role("dialog", name="This region, read again")
    new = reading.locator("blockquote").last
    expect(new).to_contain_text("The keeper at Brannowick")
    expect(new).not_to_contain_text("the float was dry")
    expect(reading.locator("blockquote").first).to_contain_text("the float was dry")
    reading.get_by_role("button", name="Take the new reading").click()
    expect(page.locator(".proof")).not_to_contain_text("the float was dry")
    page.keyboard.press("Control+z")
    expect(page.locator(".proof")).to_contain_text("the float was dry")

    page.keyboard.press("d")
    area = page.locator(".region").last.bounding_box()
    page.mouse.move(area["x"] - 4, area["y"] - 3)
    page.mouse.down()
    page.mouse.move(area["x"] + area["width"] + 4, area["y"] + area["height"] + 3, steps=4)
    page.mouse.up()
    fresh = page.get_by_role("dialog", name="A new region")
    expect(fresh.locator("blockquote").last).to_contain_text("The tide was high")
    fresh.get_by_role("button", name="Take it as text").click()
    expect(regions).to_have_count(3)
    expect(page.locator('.region .body[aria-pressed="true"]')).to_have_count(1)
    page.keyboard.press("Delete")
    expect(regions).to_have_count(2)
    regions.first.click()
    regions.last.click(modifiers=["Shift"])
    page.keyboard.press("m")
    expect(regions).to_have_count(1)
    expect(page.locator(".proof button")).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(regions).to_have_count(2)
    expect(page.locator(".proof button")).to_have_count(2)

    page.get_by_role("link", name="Deliver").click()
    expect(page.get_by_role("heading", name="What was done")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver as DOCX").click()
    delivered = docx.Document(io.BytesIO(download.value.path().read_bytes()))
    text = "\n".join(paragraph.text for paragraph in delivered.paragraphs)
    assert text.count("The tide was high at Brannowick") == 1
    assert "the float was dry" in text
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver the certificate").click()
    assert "Still in doubt" in download.value.path().read_text()


def test_a_region_becomes_a_table_or_an_equation(desk):
    page = desk
    page.keyboard.press("e")
    kind = page.get_by_label("Kind of region")
    page.locator(".region .body").last.click()
    expect(kind).to_have_value("p")
    kind.select_option("Table")
    reading = page.get_by_role("dialog", name="This region, read again")
    expect(reading.locator("blockquote").last).to_contain_text("The tide was high")
    expect(reading.get_by_label("read it as a table")).to_be_checked()
    page.wait_for_timeout(400)
    assert serious_findings(page) == []
    reading.get_by_role("button", name="Leave it").click()
    kind.select_option("Equation, as a picture")
    expect(page.locator(".proof")).to_contain_text("Equation, kept as a picture")
    expect(kind).to_have_value("equation")
    page.keyboard.press("Control+z")
    expect(page.locator(".proof")).to_contain_text("The tide was high")


def test_the_offices_word_list_is_edited_in_the_interface(desk):
    page = desk
    page.keyboard.press("i")
    page.get_by_role("button", name="The office’s word list").click()
    words = page.get_by_role("dialog", name="The office’s word list")
    words.get_by_label("Word", exact=True).fill("Brannowick")
    words.get_by_role("button", name="Add").click()
    expect(words.get_by_role("listitem")).to_contain_text(["Brannowick"])
    words.get_by_label("Word", exact=True).fill("Tarow")
    words.get_by_label("What it always stands for").fill("Tarrow")
    words.get_by_role("button", name="Add").click()
    expect(words.get_by_role("listitem")).to_contain_text(["Brannowick", "Tarow → Tarrow"])
    page.wait_for_timeout(400)
    assert serious_findings(page) == []
    words.get_by_role("button", name="Take “Brannowick” off the list").click()
    expect(words.get_by_role("listitem")).to_have_count(1)


def test_queries_are_settled_with_the_thumb(desk):
    page = desk
    page.set_viewport_size({"width": 390, "height": 780})
    page.get_by_role("button", name="Queries", exact=True).click()
    expect(slip(page)).to_be_visible()
    box = slip(page).bounding_box()
    assert box["y"] + box["height"] <= 781
    smallest = min(one.bounding_box()["height"] for one in slip(page).locator(".reading").all())
    assert smallest >= 44
    slip(page).get_by_role("button", name=re.compile("^0 keep")).click()
    expect(page.locator("footer")).to_contain_text("1 settled")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
