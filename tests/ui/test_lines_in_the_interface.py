"""Lines above and below rows: shown as they are on the page, drawn and taken away by hand."""

from __future__ import annotations

import docx
import pytest
from playwright.sync_api import Page

from tests.ui.conftest import act, serious_findings
from tests.ui.test_interface import open_desk, row, saved

NOTICE = """= Notice to mariners
#line(length: 100%, stroke: 0.5pt)
The north basin is closed from Monday on, as its gates are being mended. Ships that lie there are to leave before that day."""


@pytest.fixture
def desk(page: Page, application_with, typeset) -> Page:
    path = typeset(NOTICE, "Notice")
    page.goto(application_with(path).address)
    open_desk(page, path.name)
    return page


def lines_of(page: Page, text: str) -> tuple[bool, bool]:
    """Whether the row with a text is shown with a line above and with one below."""
    look = "one => ['borderTopWidth', 'borderBottomWidth'].map(side => getComputedStyle(one)[side] === '1px')"
    above, below = row(page, text).locator(".line").evaluate(look)
    return above, below


def test_lines_are_shown_drawn_taken_away_and_delivered(desk):
    assert lines_of(desk, "Notice to mariners") == (False, True)
    assert lines_of(desk, "Ships that lie") == (False, False)
    row(desk, "Ships that lie").locator(".text").click()
    act(desk, "Look", "Line above")
    saved(desk, 1)
    assert lines_of(desk, "Ships that lie") == (True, False)
    act(desk, "Look", "Line below")
    saved(desk, 2)
    assert lines_of(desk, "Ships that lie") == (True, True)
    act(desk, "Look", "No line above")
    saved(desk, 3)
    assert lines_of(desk, "Ships that lie") == (False, True)
    assert not serious_findings(desk)
    desk.keyboard.press("Escape")
    desk.keyboard.press("Control+z")
    saved(desk, 4)
    assert lines_of(desk, "Ships that lie") == (True, True)
    desk.get_by_role("link", name="Deliver").click()
    with desk.expect_download() as download:
        desk.get_by_role("button", name="Deliver as DOCX", exact=True).click()
    paragraphs = docx.Document(download.value.path()).paragraphs
    assert [bool(paragraph._p.xpath("w:pPr/w:pBdr/w:top")) for paragraph in paragraphs] == [False, True]
