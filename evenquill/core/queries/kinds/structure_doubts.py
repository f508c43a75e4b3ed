"""Doubts that the models of structure have themselves: rows that may be of another kind, be two rows, or carry on the row before."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from evenquill.core.edits import JoinBlocks, SetKind, SplitBlock
from evenquill.core.model import NOTES, Document, Role, Spot, StructureDoubt, TextBlock
from evenquill.core.queries.query import Fix, Kind, Query
from evenquill.core.queries.shortened import beginning_of, end_of
from evenquill.core.queries.view import View

OTHER_KIND = Kind("other kind", "row that may be of another kind", "rows that may be of another kind", 37)
TWO_ROWS = Kind("two rows", "row that may be two", "rows that may be two", 38)
CARRIES_ON = Kind("carries on", "row that may carry on the one before", "rows that may carry on the one before", 39)
KINDS = (OTHER_KIND, TWO_ROWS, CARRIES_ON)

NAMES = {
    Role.PARAGRAPH: "a paragraph",
    Role.HEADING: "a heading",
    Role.LIST_ITEM: "a list item",
    Role.QUOTE: "a quotation",
    Role.CODE: "code",
}


def find(view: View) -> Iterator[Query]:
    for block in view.blocks:
        if isinstance(block, TextBlock) and not block.excluded:
            for doubt in block.doubts:
                query = _query(block, doubt, view.document)
                if query is not None:
                    yield query


def _query(block: TextBlock, doubt: StructureDoubt, document: Document) -> Query | None:
    if doubt.role is not None:
        return _of_kind(block, doubt, doubt.role)
    return _of_parts(block, doubt) if doubt.box is not None else _of_carrying_on(block, doubt, document)


def _of_kind(block: TextBlock, doubt: StructureDoubt, role: Role) -> Query | None:
    if role is block.role or role not in NAMES or block.role not in NAMES:
        return None
    why = f"it is set much as {NAMES[role]} of this document would be"
    fix = Fix(f"make it {NAMES[role]}", SetKind(block.id, role, doubt.level))
    return _about(OTHER_KIND, block, doubt, why, fix, f"it is {NAMES[block.role]}")


def _of_parts(block: TextBlock, doubt: StructureDoubt) -> Query | None:
    place = next((word for word in block.words if word.page == doubt.page and word.box == doubt.box), None)
    if place is None or not 0 < place.start < len(block.text):
        return None
    why = f"a new row may begin at “{beginning_of(block.text[place.start :])}”"
    fix = Fix("part it there", SplitBlock(block.id, place.start))
    query = _about(TWO_ROWS, block, doubt, why, fix, "it is one row")
    return replace(query, text=block.text[place.start : place.end], spots=(Spot(place.page, place.box),))


def _of_carrying_on(block: TextBlock, doubt: StructureDoubt, document: Document) -> Query | None:
    blocks = document.blocks
    for at in range(document.places[block.id] - 1, -1, -1):
        before = blocks[at]
        if isinstance(before, TextBlock) and not before.excluded and before.role not in NOTES:
            why = f"it may carry on “{end_of(before.text)}”"
            fix = Fix("join it to the row before", JoinBlocks(before.id, block.id))
            return _about(CARRIES_ON, block, doubt, why, fix, "it begins anew")
    return None


def _about(kind: Kind, block: TextBlock, doubt: StructureDoubt, reason: str, fix: Fix, keep: str) -> Query:
    return Query(
        kind=kind.name,
        page=doubt.page or (block.spots[0].page if block.spots else 0),
        text=kind.one,  # which stays the same when something is typed into the row
        likelihood=doubt.likelihood,
        reason=reason,
        block=block.id,
        spots=block.spots[:1],
        context=beginning_of(block.text),
        fixes=(fix,),
        keep=keep,
    )
