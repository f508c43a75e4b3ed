"""The outcome beside the source: a document is made to fit and kept so, a thread is followed to its row."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.ui.conftest import serious_findings
from tests.ui.test_interface import open_desk, row, saved, take_in, type_in

RUNS_OVER = "#set text(tracking: -0.3pt)\n= Tides\n" + "#lorem(46)\n\n" * 7
"""One page in the source, whose letters stand closer than those that stand in for them."""

TWO_PAGES = "= Tides\n" + "#lorem(70)\n\n" * 9


def open_outcome(page, name: str):
    open_desk(page, name)
    page.get_by_role("button", name="Outcome").click()
    view = page.get_by_role("main", name="Outcome")
    expect(view.get_by_role("img", name="Page 1 of the outcome", exact=True)).to_be_visible()
    return view


def test_lines_that_run_over_are_fetched_back_looked_at_first_then_kept_and_undone(page, application, drop, typeset):
    take_in(page, application, drop, typeset(RUNS_OVER, "Over"))
    view = open_outcome(page, "Over.pdf")
    threads = view.get_by_role("group", name="Pages of the source and of the outcome")
    fit = view.get_by_role("complementary", name="What does not fit")
    expect(fit.get_by_role("heading", name="2 lines run over to a page of their own.")).to_be_visible()
    expect(threads.get_by_role("button", name="of the outcome")).to_have_count(2)
    expect(fit.get_by_role("button", name="closer lines")).to_be_enabled()
    expect(fit.get_by_role("button", name="smaller letters")).to_be_enabled()
    assert serious_findings(page) == []

    page.keyboard.press("1")
    expect(fit.get_by_text("Looked at, not kept")).to_be_visible()
    expect(threads.get_by_role("button", name="of the outcome")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(threads.get_by_role("button", name="of the outcome")).to_have_count(2)
    page.keyboard.press("2")
    expect(fit.get_by_role("button", name="smaller letters")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("k")
    expect(fit.get_by_role("heading", name="As many pages as the source")).to_be_visible()
    expect(threads.get_by_role("button", name="of the outcome")).to_have_count(1)
    assert serious_findings(page) == []

    page.get_by_role("button", name="Undo").click()
    expect(threads.get_by_role("button", name="of the outcome")).to_have_count(2)


def test_what_does_not_fit_leads_to_its_row_and_can_be_left(page, application, drop, typeset):
    take_in(page, application, drop, typeset(RUNS_OVER, "Left"))
    view = open_outcome(page, "Left.pdf")
    fit = view.get_by_role("complementary", name="What does not fit")
    page.keyboard.press("p")
    expect(view.get_by_role("img", name="Page 2 of the outcome", exact=True)).to_be_visible()
    page.keyboard.press("0")
    expect(fit.get_by_text("All places fit")).to_be_visible()
    page.keyboard.press("Shift+E")
    expect(page.get_by_role("main", name="Rows")).to_be_visible()
    page.keyboard.press("Shift+E")
    expect(fit.get_by_role("heading", name="run over")).to_be_visible()
    page.keyboard.press("t")
    expect(page.get_by_role("main", name="Rows").locator(".row.active")).to_contain_text("Lorem")


def test_a_thread_is_followed_to_the_row_where_the_page_of_the_source_begins(page, application, drop, typeset):
    take_in(page, application, drop, typeset(TWO_PAGES, "Threads"))
    view = open_outcome(page, "Threads.pdf")
    threads = view.get_by_role("group", name="Pages of the source and of the outcome")
    threads.get_by_role("button", name="Page 2 of the source").click()
    expect(view.get_by_role("img", name="Page 2 of the source", exact=True)).to_be_visible()
    shown = view.get_by_role("img", name="of the outcome", exact=False).first
    expect(shown).to_be_visible()
    page.keyboard.press("PageUp")
    expect(view.get_by_role("img", name="Page 1 of the outcome", exact=True)).to_be_visible()
    view.get_by_role("img", name="Page 1 of the outcome", exact=True).click(position={"x": 120, "y": 70})
    expect(page.get_by_role("main", name="Rows").locator(".row.active")).to_contain_text("Tides")


def test_bold_that_was_lost_is_asked_about_beside_its_source_and_put_back(page, application, drop, typeset):
    sentence = "The gauge at the north pier was read each hour and the drum wound on Mondays. "
    bold = f"{sentence * 3}\n\n{sentence} *Tell the office at once* when it stops. {sentence * 2}\n\n{sentence * 3}"
    take_in(page, application, drop, typeset(bold, "Bold"))
    open_desk(page, "Bold.pdf")
    # The clerk takes the bold away, and has the page read again: his change stays, and looking back sees it.
    type_in(page, "Tell the office")
    page.keyboard.press("Control+a")
    page.keyboard.press("Control+b")
    page.keyboard.press("Escape")
    saved(page, 1)
    page.get_by_role("button", name="Page", exact=True).click()
    page.get_by_role("button", name="Read again", exact=True).click()
    expect(page.locator("footer")).to_contain_text("look otherwise", timeout=60_000)
    page.keyboard.press("Escape")
    page.keyboard.press("q")
    slip = page.locator(".slip")
    expect(slip).to_contain_text("it is bolder in the source")
    assert serious_findings(page) == []
    slip.get_by_role("button", name="make it bold").click()
    expect(page.locator("footer")).not_to_contain_text("look otherwise")
    mended = row(page, "Tell the office").locator(".proof").get_by_text("Tell the office at once", exact=True)
    expect(mended).to_have_css("font-weight", re.compile("[6-9]00|[67]50"), timeout=20_000)
