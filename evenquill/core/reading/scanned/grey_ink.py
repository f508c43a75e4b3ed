"""Lines printed in grey: their darkest ink is paler than that of lines of their size."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.text_line import TextLine

PALER = 0.13
"""How much nearer to paper's lightness grey lines are than others. Black lines of one size differ by up to 0.05, on photos too."""

AS_LARGE = 1.15
"""X-height over that of a line up to which others are compared with it: thin strokes are paler by their blur, so what is smaller may tell
that a line is pale, and what is larger may not."""

FEWEST_PIECES, FEWEST_LINES, TOLD = 4, 3, 12
"""Pieces of a line that may be grey, lines that it is compared with, and pieces that each of these has."""


def greys_of(lines: Sequence[TextLine], pieces: Pieces, even: Pixels) -> list[str | None]:
    """The grey (``rrggbb``) of each line; None for those that are as dark as others."""
    inked = pieces.labels > 0
    darkest = np.full(len(pieces.areas) + 1, WHITE, np.uint8)
    np.minimum.at(darkest, pieces.labels[inked], even[inked])
    levels = np.array([float(np.median(darkest[line.pieces + 1])) for line in lines])
    sizes = np.array([line.x_height for line in lines])
    telling = np.array([len(line.pieces) >= TOLD for line in lines], np.bool_)
    return [
        _grey(n, levels, sizes, telling) if len(line.pieces) >= FEWEST_PIECES else None for n, line in enumerate(lines)
    ]


def _grey(n: int, levels: np.ndarray, sizes: np.ndarray, telling: np.ndarray) -> str | None:
    others = levels[telling & (sizes <= AS_LARGE * sizes[n])]
    if len(others) < FEWEST_LINES:
        return None
    usual = float(np.median(others))
    share = (levels[n] - usual) / max(WHITE - usual, 1.0)
    return f"{round(share * WHITE):02x}" * 3 if share > PALER else None
