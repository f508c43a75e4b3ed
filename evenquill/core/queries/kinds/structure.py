"""Doubts about how the text is put together: paragraphs cut in two, levels that jump, lists of one item, notes without a mark, running
heads that stayed, rows out of order."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.edits import Exclude, JoinBlocks, MoveBlock, SetKind
from evenquill.core.edits.operations import Operation
from evenquill.core.model import NOTES, Block, Document, NoteRef, Role, TextBlock
from evenquill.core.model.text import ends_sentence
from evenquill.core.queries.query import Fix, Kind, Query
from evenquill.core.queries.shortened import beginning_of
from evenquill.core.queries.view import View

CONTINUES = Kind(
    "continues", "paragraph that may go on in the next row", "paragraphs that may go on in the next row", 31
)
LEVEL = Kind("level", "heading level that jumps", "heading levels that jump", 32)
LONE_ITEM = Kind("lone item", "list of a single item", "lists of a single item", 33)
NOTE = Kind("unmarked note", "note without a mark", "notes without a mark", 34)
STAYED = Kind(
    "running head",
    "running head that may have stayed in the text",
    "running heads that may have stayed in the text",
    35,
)
ORDER = Kind("order", "row that may be out of order", "rows that may be out of order", 36)
KINDS = (CONTINUES, LEVEL, LONE_ITEM, NOTE, STAYED, ORDER)

PROBABLY, PERHAPS = 0.6, 0.4

LONG_ENOUGH = 40
"""Characters of a paragraph that may have been cut; shorter rows often end without a stop."""

EDGE = 0.07
"""Share of the page's height at its head and foot where running heads stand."""

SHORT = 80
"""Characters of a running head, at most."""


def find(view: View) -> Iterator[Query]:
    blocks = view.document.blocks
    marked: set[str] | None = None
    for block in view.blocks:
        if not isinstance(block, TextBlock) or block.excluded:
            continue
        if block.role in NOTES and marked is None:
            marked = _notes_with_marks(view.document)
        place = view.document.places[block.id]
        level_before = _level_before(blocks, place) if block.role is Role.HEADING else 0
        before = after = None
        if block.role not in NOTES:
            before = _beside(blocks, range(place - 1, -1, -1))
            after = _beside(blocks, range(place + 1, len(blocks)))
        if block.role is Role.HEADING and level_before and block.level > level_before + 1:
            yield _level(block, level_before)
        elif block.role in NOTES and block.id not in (marked or ()):
            why = "nothing in the text leads to it"
            yield _query(NOTE, block, PROBABLY, why, "make it a paragraph", SetKind(block.id, Role.PARAGRAPH))
        elif after is not None and _may_go_on(block, after):
            why = f"it ends without a stop, and the next row begins “{beginning_of(after.text)}”"
            yield _query(CONTINUES, block, PROBABLY, why, "join the two rows", JoinBlocks(block.id, after.id))
        elif block.role is Role.LIST_ITEM and _is_alone(block, before, after):
            why = "no other item stands before or after it"
            yield _query(LONE_ITEM, block, PERHAPS, why, "make it a paragraph", SetKind(block.id, Role.PARAGRAPH))
        elif _may_run(block, view):
            why = "a short row at the edge of its page, with the page’s number"
            yield _query(STAYED, block, PROBABLY, why, "set it aside", Exclude(block.id, True))
        elif before is not None and _stands_above(block, before):
            why = f"on the page it stands above “{beginning_of(before.text)}”"
            yield _query(ORDER, block, PERHAPS, why, "move it up", MoveBlock(block.id, before.id))


def _notes_with_marks(document: Document) -> set[str]:
    """The notes that marks in the text lead to; one that only was tied to the paragraph before it has no mark."""
    return {
        item.note for text in document.written_texts for item in text.content if isinstance(item, NoteRef) and item.mark
    }


def _level_before(blocks: Sequence[Block], place: int) -> int:
    """The level of the last heading before a place, 0 where there is none."""
    for at in range(place - 1, -1, -1):
        block = blocks[at]
        if isinstance(block, TextBlock) and block.role is Role.HEADING and not block.excluded:
            return block.level
    return 0


def _beside(blocks: Sequence[Block], places: range) -> TextBlock | None:
    """The first row of running text at these places."""
    for place in places:
        block = blocks[place]
        if isinstance(block, TextBlock) and not block.excluded and block.role not in NOTES:
            return block
    return None


def _level(block: TextBlock, before: int) -> Query:
    why = f"level {block.level} follows level {before}"
    fix = SetKind(block.id, Role.HEADING, before + 1)
    return _query(LEVEL, block, PERHAPS, why, f"make it level {before + 1}", fix)


def _may_go_on(block: TextBlock, after: TextBlock) -> bool:
    """Whether a paragraph that ends with its page or column goes on in the next row, which was not joined to it."""
    if block.role not in (Role.PARAGRAPH, Role.LIST_ITEM, Role.QUOTE) or after.role is not Role.PARAGRAPH:
        return False
    text, next_text = block.text.rstrip(), after.text.lstrip()
    if len(text) < LONG_ENOUGH or "\t" in text or "\t" in next_text or not block.spots or not after.spots:
        return False
    last, first = block.spots[-1], after.spots[0]
    elsewhere = first.page != last.page or first.box.y1 < last.box.y0
    return elsewhere and next_text[:1].islower() and not ends_sentence(text)


def _is_alone(block: TextBlock, before: TextBlock | None, after: TextBlock | None) -> bool:
    if block.level or block.numbering is None or not block.numbering.ordered:
        return False
    return block.numbering.start is not None and not any(
        other is not None and other.role is Role.LIST_ITEM for other in (before, after)
    )


def _may_run(block: TextBlock, view: View) -> bool:
    """Whether a row at the edge of its page has the number that is printed on the page, or what should be printed there."""
    if block.role is not Role.PARAGRAPH or len(block.text) > SHORT or len(block.spots) != 1:
        return False
    spot = block.spots[0]
    if not 0 < spot.page <= len(view.document.pages):
        return False
    page = view.document.pages[spot.page - 1]
    at_edge = spot.box.y1 < EDGE * page.height or spot.box.y0 > (1 - EDGE) * page.height
    words = block.text.split()
    return at_edge and bool({words[0], words[-1]} & {page.label or str(spot.page)} if words else False)


def _stands_above(block: TextBlock, before: TextBlock) -> bool:
    """Whether a row stands over the row before it, one column, one page."""
    if len(block.spots) != 1 or len(before.spots) != 1 or Role.CONTENTS in (block.role, before.role):
        return False
    own, other = block.spots[0], before.spots[0]
    return own.page == other.page and own.box.y1 <= other.box.y0 and own.box.overlap_x(other.box) > 0


def _query(kind: Kind, block: TextBlock, likelihood: float, reason: str, label: str, operation: Operation) -> Query:
    return Query(
        kind=kind.name,
        page=block.spots[-1].page if block.spots else 0,
        text=beginning_of(block.text),
        likelihood=likelihood,
        reason=reason,
        block=block.id,
        spots=block.spots[-1:],
        context=beginning_of(block.text),
        fixes=(Fix(label, operation),),
        keep="it is right",
    )
