"""Lines set so closely that letters of one touch letters of the next: such pieces of ink are cut apart between the lines, or two lines
would hang together as one.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.text_line import TextLine, line_of
from evenquill.core.reading.scanned.textlines import SMALL, chained

TALL, TALLEST, WIDEST = 2.3, 6.0, 15.0
"""X-heights beyond which a piece is no letter of one line (from the head of an l to the foot of a g it is 2.2), and up to which, and to
which width, it may be letters of lines that touch."""

FEWEST_LETTERS = 8
"""Pieces of a line that tells where lines are."""

BESIDE = 3.0
"""X-heights by which a line may end before a piece that belongs to it."""

WITHIN = 0.3
"""X-heights of a line that a piece must reach into it, from its baseline or from the head of its small letters, to be of it."""


def lines_parted(ink: Pixels, pieces: Pieces, x_height: float) -> Pixels | None:
    """The ink with what hangs together over two lines or more cut where there is least of it between them; None where nothing does."""
    heights, widths = pieces.heights, pieces.widths
    tall = np.flatnonzero((heights > TALL * x_height) & (heights < TALLEST * x_height) & (widths < WIDEST * x_height))
    if not x_height or not len(tall):
        return None
    letters = np.flatnonzero(
        (heights >= SMALL * x_height) & (heights <= TALL * x_height) & (widths < WIDEST * x_height)
    )
    groups = [group for group in chained(pieces.boxes, letters) if len(group) >= FEWEST_LETTERS]
    lines = [line_of(pieces.boxes, group) for group in groups]
    parted: Pixels | None = None
    for piece in tall:
        rows = list(_cuts(pieces, int(piece), lines))
        if rows:
            parted = ink.copy() if parted is None else parted
            x0, _, x1, _ = pieces.boxes[piece]
            for row in rows:
                own = pieces.labels[row, x0:x1] == piece + 1
                parted[row, x0:x1][own] = 0
    return parted


def _cuts(pieces: Pieces, piece: int, lines: Sequence[TextLine]) -> list[int]:
    """The rows of pixels at which a piece is to be cut: one between each two lines that it reaches into."""
    x0, y0, x1, y1 = (int(v) for v in pieces.boxes[piece])
    middle = (x0 + x1) / 2
    bands: list[tuple[float, float]] = []
    for line in lines:
        size = line.x_height
        base = line.baseline(middle)
        if (
            line.x0 - BESIDE * size < middle < line.x1 + BESIDE * size
            and y0 < base - WITHIN * size
            and y1 > base - (1 - WITHIN) * size
        ):
            bands.append((base - size, base))
    bands.sort()
    found = []
    for (_, base), (head, _) in pairwise(bands):
        if head - base >= 1:
            low, high = round(base) + 1, max(round(head), round(base) + 2)
            filled: NDArray[np.intp] = (pieces.labels[low:high, x0:x1] == piece + 1).sum(axis=1)
            found.append(low + int(filled.argmin()))
    return found
