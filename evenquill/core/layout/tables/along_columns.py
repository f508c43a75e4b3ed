"""What is measured of rows along the columns that their pieces stand in: how far above each piece the one is that it may carry on, and
whether it does.

Cells that stand in the middle or at the foot of a row begin and end at other heights than their neighbours: the row ends where nothing
of any column goes on.
"""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from typing import NamedTuple, Protocol

from evenquill.core.evidence import Line
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.model.text import ends_sentence

REACH = 8
"""Rows above and below one among which its columns go on."""

AROUND = 16
"""Rows above and below one by which the usual distance is told: a page may have several tables, and text."""

CLOSE = 1.25
"""Distance of lines over the usual one within cells up to which one may carry on the other."""

ABOVE_BASELINE, BELOW_BASELINE = 0.75, 0.2
"""Ems that letters reach above and below the baseline."""

FAR = 15.0
"""Ems beyond which a distance tells no more."""

ALONG_FEATURES = (
    "nearest_above", "farthest_above", "begins_above", "nearest_below", "farthest_below", "ends_below", "clear_above", "clear_below",
    "carried_on", "lower", "upper_after_end", "full_above", "clear_above_usual", "close_above",
)  # fmt: skip
"""Least and greatest distance of pieces from those above and below them in their columns, in ems, and the share that have none; free
height over and under the row, in ems; the share of pieces close under others, and of these that begin with a small letter, with a capital
behind the end of a sentence, and whose first word would not have fitted above; the free height over what is usual; and the share of
pieces that stand close under others, of all."""


class RowOfPieces(Protocol):
    """A row of a table as it is measured."""

    @property
    def pieces(self) -> tuple[Line, ...]: ...
    @property
    def baseline(self) -> float: ...
    @property
    def size(self) -> float: ...


class _Neighbour(NamedTuple):
    """The next piece of a column above or below one, and how far away it is in ems."""

    piece: Line
    distance: float


def along_columns(rows: Sequence[RowOfPieces]) -> list[tuple[float, ...]]:
    """ALONG_FEATURES of each of the rows of a column of the page, from top to bottom."""
    above = [_neighbours(rows, n, -1) for n in range(len(rows))]
    below = [_neighbours(rows, n, 1) for n in range(len(rows))]
    # Each row counts once: lines that carry on one cell have few pieces, rows of many columns would outnumber them.
    nearest = [min((one.distance for one in own if one is not None), default=FAR) for own in above]
    clear = [_clear(rows, n) for n in range(len(rows) + 1)]
    free = [value for value in clear if value > 0]
    usual_clear = statistics.median(free) if free else 0.0
    return [
        _of_row(
            rows[n],
            above[n],
            below[n],
            (clear[n], clear[n + 1]),
            _usual(nearest[max(n - AROUND, 0) : n + AROUND + 1]),
            usual_clear,
        )
        for n in range(len(rows))
    ]


def _usual(distances: Sequence[float]) -> float:
    """The usual distance of lines within cells among those of the rows around."""
    known = [distance for distance in distances if distance < FAR]
    return max(statistics.quantiles(known, n=4)[0] if len(known) > 1 else 1.2, 0.9)


def _neighbours(rows: Sequence[RowOfPieces], n: int, step: int) -> list[_Neighbour | None]:
    """For each piece of a row the next one of its column above (``step`` -1) or below it; None where none is near."""
    row = rows[n]
    places = range(n + step, max(n - REACH, -1) if step < 0 else min(n + REACH, len(rows)), step)
    out: list[_Neighbour | None] = []
    for piece in row.pieces:
        found = None
        for place in places:
            over = next((one for one in rows[place].pieces if one.box.overlap_x(piece.box) > 0), None)
            if over is not None:
                found = _Neighbour(over, min(abs(rows[place].baseline - row.baseline) / row.size, FAR))
                break
        out.append(found)
    return out


def _clear(rows: Sequence[RowOfPieces], n: int) -> float:
    """Free height between the rows before a place and those from it on, in ems of the one at it; FAR at the ends."""
    if not 0 < n < len(rows):
        return FAR
    size = rows[n].size
    bottom = max(row.baseline + BELOW_BASELINE * row.size for row in rows[max(n - REACH, 0) : n])
    top = min(row.baseline - ABOVE_BASELINE * row.size for row in rows[n : n + REACH])
    return max(min((top - bottom) / size, FAR), -FAR)


def _of_row(
    row: RowOfPieces,
    above: Sequence[_Neighbour | None],
    below: Sequence[_Neighbour | None],
    clear: tuple[float, float],
    usual: float,
    usual_clear: float,
) -> tuple[float, ...]:
    up = [one.distance for one in above if one is not None]
    down = [one.distance for one in below if one is not None]
    count = len(row.pieces)
    close = [
        (piece, one.piece)
        for piece, one in zip(row.pieces, above, strict=True)
        if one is not None and one.distance <= CLOSE * usual
    ]
    of_close = max(len(close), 1)
    return (
        min(up, default=UNMEASURED),
        max(up, default=UNMEASURED),
        1 - len(up) / count,
        min(down, default=UNMEASURED),
        max(down, default=UNMEASURED),
        1 - len(down) / count,
        *clear,
        float(min(len(close), 8)),
        sum(piece.text[:1].islower() for piece, _ in close) / of_close,
        sum(piece.text[:1].isupper() and ends_sentence(over.text) for piece, over in close) / of_close,
        sum(_was_full(over, piece, row) for piece, over in close) / of_close,
        clear[0] - usual_clear,
        len(close) / count,
    )


def _was_full(above: Line, below: Line, row: RowOfPieces) -> bool:
    """Whether the first word of a piece would not have fitted behind the one above it, by the longer of the two."""
    word = below.words[0]
    end = max(above.box.x1, below.box.x1)
    return above.box.x1 + (word.x1 - word.x0) + 0.25 * row.size > end
