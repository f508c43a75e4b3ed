"""Tables each line of which is a row: lines that are evenly apart and begin in the first column are judged together.

Where rows stand no further apart than lines do, each is hard to tell by itself, and its neighbours are no surer than it is; what the
measures of all say together is.
"""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.layout.tables.aligned import column_stretches
from evenquill.core.layout.tables.row_features import ROW_CLASSES, Row

NEXT, MORE = ROW_CLASSES.index("row"), ROW_CLASSES.index("more")

FEWEST = 3
"""Lines of a table below its header from which they are judged together."""

EVEN = 0.1
"""Share of their usual distance by which the distances of lines evenly apart differ from it, at most."""


IN_STEP, TELLING = 0.6, 2
"""What each piece beside the first one, up to so many, says for a row (logarithm of the odds). Of made tables of three columns and more,
three quarters of the rows have all their cells filled, and a fifth of the lines that carry others on."""


def with_even_rows(rows: Sequence[Row], kinds: Sequence[int], chances: NDArray[np.float32]) -> list[int]:
    """The kinds of a table's rows, each line below its header a row of its own where all of them together say so. ``chances`` are the
    logarithms of the probabilities of the kinds, of shape (rows, classes)."""
    body = [n for n, kind in enumerate(kinds) if kind in (NEXT, MORE)]
    if len(body) < FEWEST or body[-1] - body[0] >= len(body):
        return list(kinds)
    own = [rows[n] for n in body]
    if kinds[body[0]] == MORE and len(rows[body[0] - 1].pieces) == 1:
        # A cell of several lines whose neighbours stand at its foot.
        return list(kinds)
    first_end = column_stretches([row.pieces for row in own])[0][1]
    if not all(len(row.pieces) > 1 and row.pieces[0].box.x0 < first_end for row in own) or not _are_even(own):
        return list(kinds)
    beside = sum(min(len(row.pieces) - 1, TELLING) for row in own)
    odds = float(np.sum(chances[body, NEXT] - chances[body, MORE])) + IN_STEP * beside
    return [NEXT if kind == MORE and odds > 0 else kind for kind in kinds]


def _are_even(rows: Sequence[Row]) -> bool:
    steps = [below.baseline - above.baseline for above, below in itertools.pairwise(rows)]
    usual = statistics.median(steps)
    return all(abs(step - usual) <= EVEN * usual for step in steps)
