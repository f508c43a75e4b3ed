"""Columns of tables whose numbers count on from row to row: days, places of a list, years. Each number says what its neighbours are."""

from __future__ import annotations

import itertools
import re
from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from evenquill.core.model import Block, TableBlock, TextBlock

FEWEST = 4
"""Numbers that count on, at least; of fewer some do by chance."""

_WHOLE = re.compile(r"\d{1,4}\.?")


class Jump(NamedTuple):
    """A text that is not the number that two above and two below it want."""

    text: TextBlock
    wanted: str
    above: str
    below: str


def counted_texts(blocks: Iterable[Block]) -> frozenset[str]:
    """The ids of texts in cells that are confirmed by those above and below: they are numbers, and go on by equal steps."""
    return frozenset(text.id for column in _columns(blocks) for run in _runs(column) for text in run)


def jumps(blocks: Iterable[Block]) -> Iterator[Jump]:
    """The texts that stand in the way of a count which goes on behind them."""
    for column in _columns(blocks):
        for row, text in column.items():
            around = [_value(column.get(row + by)) for by in (-2, -1, 1, 2)]
            if None in around:
                continue
            first, second, fourth, fifth = (value for value in around if value is not None)
            step = second - first
            if step and fourth == second + 2 * step and fifth == fourth + step and _value(text) != second + step:
                yield Jump(text, str(second + step), column[row - 1].text, column[row + 1].text)


def _columns(blocks: Iterable[Block]) -> Iterator[dict[int, TextBlock]]:
    """The texts of each column of a table by row, of cells with one text in one row and column."""
    for block in blocks:
        if isinstance(block, TableBlock) and not block.excluded:
            columns: dict[int, dict[int, TextBlock]] = defaultdict(dict)
            for cell in block.cells:
                if len(cell.texts) == 1 and cell.rows == cell.columns == 1:
                    columns[cell.column][cell.row] = cell.texts[0]
            yield from columns.values()


def _runs(column: dict[int, TextBlock]) -> Iterator[list[TextBlock]]:
    """Texts in rows below one another that count on by equal steps."""
    numbers = [(row, value) for row in sorted(column) if (value := _value(column[row])) is not None]
    for (rows, step), pairs in itertools.groupby(itertools.pairwise(numbers), key=_apart):
        run = [column[row] for row in dict.fromkeys(row for pair in pairs for row, _ in pair)]
        if rows == 1 and step and len(run) >= FEWEST:
            yield run


def _apart(pair: tuple[tuple[int, int], tuple[int, int]]) -> tuple[int, int]:
    """By how many rows, and by how much, two numbers differ."""
    (row, value), (below, after) = pair
    return below - row, after - value


def _value(text: TextBlock | None) -> int | None:
    return int(text.text.rstrip(".")) if text is not None and _WHOLE.fullmatch(text.text) else None
