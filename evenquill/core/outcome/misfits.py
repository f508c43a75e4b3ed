"""What of a document does not fit its pages, in sentences."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model import Document, PictureBlock, TableBlock, TextBlock
from evenquill.core.model.sections import USUAL_PAGE, PageSetup
from evenquill.core.model.styles import SINGLE
from evenquill.core.outcome.setting import Outcome

FEW_LINES = 12
"""A last page with no more lines is said to run over."""

FREE_SHARE = 0.25
"""Share of a page's text that is left free before something is said of it: pages in books end a few lines short."""

TOO_WIDE = 1.02
"""Width of a table over that of the text before it counts as wider."""


class MisfitKind(StrEnum):
    MORE_PAGES = "more_pages"
    FEWER_PAGES = "fewer_pages"
    FREE_ROOM = "free_room"
    WIDE_TABLE = "wide_table"


class Misfit(msgspec.Struct, frozen=True):
    """Something that does not fit: on which page of the outcome, at which row, and a sentence about it."""

    kind: MisfitKind
    page: int
    row: str
    sentence: str


def misfits(document: Document, outcome: Outcome) -> tuple[Misfit, ...]:
    """What does not fit, pages as a whole first."""
    if not outcome.rows:
        return ()
    return (*_pages(document, outcome), *_free_room(document, outcome), *_wide_tables(document, outcome))


def _pages(document: Document, outcome: Outcome) -> list[Misfit]:
    wanted, count, last = len(document.pages), len(outcome.pages), outcome.rows[-1]
    if not wanted or count == wanted:
        return []
    if count < wanted:
        sentence = f"The document takes {_counted(count)} here and {wanted} in the source."
        return [Misfit(MisfitKind.FEWER_PAGES, count, last.row, sentence)]
    over = [row for row in outcome.rows if row.end.page == count]
    body = document.body_style
    lines = round((last.end.y - _setup(document, last.row).top) / (body.leading or SINGLE * body.size))
    if count > wanted + 1 or lines > FEW_LINES:
        sentence = f"The document takes {_counted(count)} here and {wanted} in the source."
    elif lines > 1:
        sentence = f"{lines} lines run over to a page of their own."
    else:
        sentence = "One line runs over to a page of its own."
    return [Misfit(MisfitKind.MORE_PAGES, count, (over or [last])[0].row, sentence)]


def _free_room(document: Document, outcome: Outcome) -> list[Misfit]:
    """Pages that end early, since the table or the picture that comes next does not go on them."""
    blocks = {block.id: block for block in document.blocks}
    found = []
    for before, after in zip(outcome.rows, outcome.rows[1:], strict=False):
        block = blocks[after.row]
        if after.start.page <= before.end.page or block.page_break or isinstance(block, TextBlock):
            continue
        setup = _setup(document, before.row)
        free = setup.height - setup.bottom - before.end.y
        if free > FREE_SHARE * (setup.height - setup.top - setup.bottom):
            what = "picture" if isinstance(block, PictureBlock) else "table"
            sentence = f"Page {before.end.page} ends early: the {what} that follows has no room there."
            found.append(Misfit(MisfitKind.FREE_ROOM, before.end.page, after.row, sentence))
    return found


def _wide_tables(document: Document, outcome: Outcome) -> list[Misfit]:
    pages = {row.row: row.start.page for row in outcome.rows}
    found = []
    for block in document.blocks:
        if isinstance(block, TableBlock) and block.id in pages:
            room = _setup(document, block.id).text_width
            if sum(block.widths) > TOO_WIDE * room:
                sentence = "The table is wider than the text. It is set narrower here."
                found.append(Misfit(MisfitKind.WIDE_TABLE, pages[block.id], block.id, sentence))
    return found


def _setup(document: Document, row: str) -> PageSetup:
    """The page that a row is on."""
    section = document.blocks[document.index(row)].section
    return next((one.setup for one in document.sections if one.id == section), USUAL_PAGE)


def _counted(pages: int) -> str:
    return "one page" if pages == 1 else f"{pages} pages"
