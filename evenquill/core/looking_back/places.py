"""Rows, and cells of tables, that stand elsewhere in their line than in the source."""

from __future__ import annotations

import statistics
from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from typing import NamedTuple

from evenquill.core.looking_back.likelihoods import likelihood
from evenquill.core.looking_back.looks import LookDoubt, LookKind
from evenquill.core.looking_back.pairs import TextPair
from evenquill.core.model import NOTES, Align, Box, Document, Role, TableBlock
from evenquill.core.model.geometry import union

ENOUGH = 4
"""Rows of a page from which it is told by how much the page as a whole stands elsewhere."""

FAR = 2.0
"""Ems from which a row stands elsewhere."""

FEWEST_CELLS, CELLS = 3, 4.0
"""Cells by which a column is judged; ems of a row that as many half widths of a column as its cells are away count for."""

AT_SIDE = 0.5
"""Ems by which a row may miss the side that it keeps to."""

SIDE = 0.42
"""Share of the page's width: rows that begin beyond each other by less are of one column."""

_NONE = frozenset({Role.EQUATION, Role.CONTENTS, *NOTES})


class _Edges(NamedTuple):
    """By how many points the left edge, the right edge and the middle of a text are further right in the source."""

    left: float
    right: float
    middle: float

    def beyond(self, shift: float) -> float:
        """Points by which the text stands elsewhere, whichever of the three it keeps to, where all of the page is moved by ``shift``."""
        return min(abs(edge - shift) for edge in self)


class _Placed(NamedTuple):
    """The first line of a text: its box on a page of the source, that in the result (``made``)."""

    pair: TextPair
    page: int
    box: Box
    made: Box
    edges: _Edges
    size: float


def place_doubts(document: Document, pairs: Sequence[TextPair]) -> Iterator[tuple[str, LookDoubt]]:
    """Rows, and columns of tables, that stand elsewhere than those around them would have them stand; with the id of their (first) text."""
    rows: dict[tuple[int, ...], list[_Placed]] = defaultdict(list)
    cells: dict[str, list[_Placed]] = defaultdict(list)
    many = {section.id for section in document.sections if section.columns > 1}
    for one in pairs:
        placed = _placed(document, one)
        if placed is None:
            continue
        if one.in_table:
            cells[one.row].append(placed)
        else:
            rows[(placed.page, one.words[0].result.page, *_columns(document, placed, many))].append(placed)
    for group in rows.values():
        if len(group) < ENOUGH:
            continue
        shift = statistics.median(placed.edges.left for placed in group)
        for placed in group:
            measure = placed.edges.beyond(shift) / placed.size
            if measure > FAR and (side := _other_side(document, placed)) is not None:
                yield placed.pair.block.id, _doubt(placed.page, placed.box, measure, side)
    for block in document.blocks:
        if isinstance(block, TableBlock) and len(cells.get(block.id, ())) >= ENOUGH:
            yield from _columns_elsewhere(block, cells[block.id])


def _columns(document: Document, placed: _Placed, many: Collection[str]) -> tuple[int, ...]:
    """In which columns of the source and of the result a row stands, where its section has ``many``."""
    if placed.pair.block.section not in many or placed.page > len(document.pages):
        return ()
    width = SIDE * document.pages[placed.page - 1].width
    return int(placed.box.x0 / width), int(placed.made.x0 / width)


def _columns_elsewhere(table: TableBlock, placed: Sequence[_Placed]) -> Iterator[tuple[str, LookDoubt]]:
    """Columns of which most cells stand outside of where the source has them, once the table is drawn as wide as there."""
    page = placed[0].page
    own = {one.pair.block.id: one for one in placed if one.page == page}
    before, after = (union(box) for box in ([one.box for one in own.values()], [one.made for one in own.values()]))
    scale = before.width / max(after.width, 1.0)
    widths = table.widths_within(before.width)
    for column, width in enumerate(widths):
        found = [
            own[text.id]
            for cell in table.cells
            if cell.column == column and cell.columns == 1
            for text in cell.texts[:1]
            if text.id in own
        ]
        if len(found) < FEWEST_CELLS:
            continue
        beyond = [2 * _in_table(one, before, after, scale).beyond(0.0) / width for one in found]
        measure = statistics.median(beyond)
        if measure > 1.0:
            box = union(one.box for one, away in zip(found, beyond, strict=True) if away > 1.0)
            yield found[0].pair.block.id, _doubt(page, box, CELLS * measure)


def _in_table(one: _Placed, before: Box, after: Box, scale: float) -> _Edges:
    """How much further right the edges of a cell's text are in the source, where the table is as wide in both."""
    x0, x1 = (before.x0 + scale * (x - after.x0) for x in (one.made.x0, one.made.x1))
    return _Edges(one.box.x0 - x0, one.box.x1 - x1, one.box.center_x - (x0 + x1) / 2)


def _doubt(page: int, box: Box, measure: float, side: Align | None = None) -> LookDoubt:
    return LookDoubt(LookKind.PLACE, page, box, round(measure, 2), likelihood(LookKind.PLACE, measure), side)


def _other_side(document: Document, placed: _Placed) -> Align | None:
    """The side of the text of its page, or its middle, that a row keeps to in the source and not in the result; None where that is not
    plain: by how much rows are set in differs from typeface to typeface."""
    if not 0 < placed.page <= len(document.pages):
        return None
    text, box = document.pages[placed.page - 1].text_box, placed.box
    near = AT_SIDE * placed.size
    keeps = {
        Align.LEFT: abs(box.x0 - text.x0) < near,
        Align.CENTER: abs(box.center_x - text.center_x) < near,
        Align.RIGHT: abs(box.x1 - text.x1) < near,
    }
    sides = [side for side, there in keeps.items() if there]
    block = placed.pair.block
    now = block.align or document.style(block.style).align
    now = Align.LEFT if now is Align.JUSTIFY else now
    return sides[0] if len(sides) == 1 and sides[0] is not now else None


def _placed(document: Document, one: TextPair) -> _Placed | None:
    """The first line of a text, which tells where it stands; None for what was not found or stands by rules of its own."""
    if not one.words or one.block.role in _NONE or one.words[0].source.start > 0 or "\t" in one.block.text:
        return None
    first = one.words[0]
    source = [word.source.box for word in one.words if _on_line(word.source.box, first.source.box)]
    result = [word.result.box for word in one.words if _on_line(word.result.box, first.result.box)]
    before, after = union(source), union(result)
    whole = len(source) == len(one.words) and len(result) == len(one.words)
    left = before.x0 - after.x0
    edges = _Edges(left, before.x1 - after.x1, before.center_x - after.center_x) if whole else _Edges(left, left, left)
    return _Placed(one, first.source.page, before.rounded(), after, edges, document.style(one.block.style).size)


def _on_line(box: Box, first: Box) -> bool:
    return abs(box.center_y - first.center_y) < 0.5 * max(first.height, 1.0)
