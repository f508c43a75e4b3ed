"""Tables cut into columns at edges that were drawn on the page: cells are made of what was read, by where each word stands."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import style_for, styles_with
from evenquill.core.edits.lookup import place_of_row
from evenquill.core.edits.table_lines import with_header
from evenquill.core.edits.table_operations import CutAtEdges
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, Role, TableBlock, TextBlock, WordSpot
from evenquill.core.model.cutting import cut_block, join_blocks
from evenquill.core.model.geometry import spots_by_page
from evenquill.core.model.ids import Ids

MOST_EDGES = 60
NARROWEST = 6.0
"""Points of a column."""

SAME_LINE = 0.5
"""Share of the lower of two words by which they overlap that stand in one line, at least."""


class _Piece(NamedTuple):
    """A word with its characters and those up to the next word of its text."""

    text: TextBlock
    start: int
    end: int
    word: WordSpot


def cut_at_edges(document: Document, operation: CutAtEdges, ids: Ids) -> Edit:
    edges = sorted(operation.edges)
    if not edges or len(edges) > MOST_EDGES or not all(map(math.isfinite, edges)):
        raise EditError("Draw a line where a column ends.")
    places = [place_of_row(document, name) for name in operation.blocks]
    if not places or places != list(range(places[0], places[0] + len(places))):
        raise EditError("Only rows that follow one another can become a table.")
    rows = [document.blocks[at] for at in places]
    first = rows[0]
    if isinstance(first, TableBlock) and len(rows) == 1:
        return splice(document, places[0], 1, (_recut(first, edges, ids),))._replace(focus=Focus(first.id))
    texts = [row for row in rows if isinstance(row, TextBlock)]
    if len(texts) < len(rows) or not all(text.words for text in texts):
        raise EditError("Only text that stands on the page can be cut there.")
    style = style_for(document, Role.CELL, 0)
    lines = _lines([piece for text in texts for piece in _pieces(text)])
    empty = TextBlock("", role=Role.CELL, style=style.id)
    cells = [
        Cell(ids.new(), r, c, (_cell_text(pieces, empty, ids),))
        for r, line in enumerate(lines)
        for c, pieces in enumerate(_by_columns(line, edges))
    ]
    table = TableBlock(
        ids.new(),
        _widths([piece for line in lines for piece in line], edges),
        tuple(ids.new() for _ in lines),
        tuple(cells),
        page_break=texts[0].page_break,
        spots=spots_by_page(spot for text in texts for spot in text.spots),
        section=texts[0].section,
    )
    edit = splice(document, places[0], len(rows), (table,), styles_with(document, style))
    return edit._replace(focus=Focus(table.id))


def _recut(table: TableBlock, edges: Sequence[float], ids: Ids) -> TableBlock:
    """A table with other columns; its rows stay. Text without a place stays in its column, or in the last."""
    columns = len(edges) + 1
    pieces = [piece for text in table.texts for piece in _pieces(text)]
    if not pieces:
        raise EditError("Only text that stands on the page can be cut there.")
    empty = replace(table.texts[0], content=(), words=(), spots=())
    cells = []
    for row in range(table.row_count):
        own = [cell for cell in table.cells if cell.row == row]
        placed = _by_columns([piece for cell in own for text in cell.texts for piece in _pieces(text)], edges)
        found = [_cell_text(of_column, empty, ids) for of_column in placed]
        for cell in own:
            at = min(cell.column, columns - 1)
            for text in cell.texts:
                if text.content and not text.words:
                    typed = replace(text, id=ids.new())
                    found[at] = replace(
                        join_blocks(found[at], typed, " ") if found[at].content else typed, id=found[at].id
                    )
        cells += [Cell(ids.new(), row, column, (text,)) for column, text in enumerate(found)]
    return with_header(replace(table, cells=tuple(cells), widths=_widths(pieces, edges)), table.header_rows)


def _pieces(text: TextBlock) -> Iterator[_Piece]:
    """The words of a text with all of its characters: what stands between two words goes with the first of them."""
    words = sorted(text.words, key=lambda word: word.start)
    for n, word in enumerate(words):
        start = 0 if n == 0 else word.start
        end = words[n + 1].start if n + 1 < len(words) else len(text.text)
        yield _Piece(text, start, end, word)


def _lines(pieces: Sequence[_Piece]) -> list[list[_Piece]]:
    """The words by the lines that they stand in on their page, from the top."""
    lines: list[list[_Piece]] = []
    for piece in sorted(pieces, key=lambda one: (one.word.page, one.word.box.center_y)):
        last = lines[-1][0].word if lines else None
        box = piece.word.box
        if (
            last is not None
            and last.page == piece.word.page
            and last.box.overlap_y(box) > SAME_LINE * min(last.box.height, box.height)
        ):
            lines[-1].append(piece)
        else:
            lines.append([piece])
    return lines


def _by_columns(line: Sequence[_Piece], edges: Sequence[float]) -> list[list[_Piece]]:
    columns: list[list[_Piece]] = [[] for _ in range(len(edges) + 1)]
    for piece in line:
        columns[sum(edge < piece.word.box.center_x for edge in edges)].append(piece)
    return columns


def _cell_text(pieces: Sequence[_Piece], empty: TextBlock, ids: Ids) -> TextBlock:
    """The text of a cell: words that follow one another in a text stay together, others are put in the order of the page."""
    made: TextBlock | None = None
    ordered = sorted(
        pieces, key=lambda one: (round(one.word.box.center_y / max(one.word.box.height, 1)), one.word.box.x0)
    )
    for stretch in _stretches(ordered):
        part = cut_block(stretch[0].text, stretch[0].start, stretch[-1].end)
        made = part if made is None else join_blocks(made, part, " ")
    if made is None:
        return replace(empty, id=ids.new())
    return TextBlock(
        ids.new(),
        Role.CELL,
        made.content,
        empty.style,
        align=empty.align,
        spots=made.spots,
        words=made.words,
        language=made.language,
    )


def _stretches(pieces: Sequence[_Piece]) -> Iterator[list[_Piece]]:
    stretch: list[_Piece] = []
    for piece in pieces:
        if stretch and (stretch[-1].text is not piece.text or stretch[-1].end != piece.start):
            yield stretch
            stretch = []
        stretch.append(piece)
    if stretch:
        yield stretch


def _widths(pieces: Sequence[_Piece], edges: Sequence[float]) -> tuple[float, ...]:
    left = min(min(piece.word.box.x0 for piece in pieces), edges[0] - NARROWEST)
    right = max(max(piece.word.box.x1 for piece in pieces), edges[-1] + NARROWEST)
    return tuple(round(max(b - a, NARROWEST), 2) for a, b in itertools.pairwise((left, *edges, right)))
