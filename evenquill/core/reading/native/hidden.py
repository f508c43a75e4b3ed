"""Text that nobody can see: not painted at all, cut off, or white on white."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray

from evenquill.core.colors import is_pale
from evenquill.core.evidence import Line, Type

LOOK_DPI = 72
"""Resolution at which a page is drawn to see what of its text shows."""

DARK = 215
"""Lightness (0 to 255) below which something in a line's place can be seen."""


def parted_by_sight(
    page: pdfium.PdfPage, lines: Sequence[Line], types: Sequence[Type]
) -> tuple[tuple[Line, ...], tuple[Line, ...]]:
    """The lines that can be seen, and those that cannot.

    Pale letters are looked for on the drawn page, which is drawn only where there are any.
    """
    doubtful = [line for line in lines if all(_is_pale(types[word.type]) for word in line.words)]
    if not doubtful:
        return tuple(lines), ()
    grey = drawn_grey(page)
    hidden = {
        id(line) for line in doubtful if all(types[word.type].unseen for word in line.words) or not _shows(grey, line)
    }
    return (
        tuple(line for line in lines if id(line) not in hidden),
        tuple(line for line in lines if id(line) in hidden),
    )


def drawn_grey(page: pdfium.PdfPage) -> NDArray[np.uint8]:
    """(height, width): the page in grey at LOOK_DPI."""
    drawn = np.asarray(page.render(scale=LOOK_DPI / 72, grayscale=True).to_numpy(), np.uint8)
    return drawn if drawn.ndim == 2 else drawn[..., 0]


def _is_pale(look: Type) -> bool:
    return look.unseen or (look.color is not None and is_pale(look.color))


def _shows(grey: NDArray[np.uint8], line: Line) -> bool:
    """Whether anything dark lies where a line stands."""
    x0, y0, x1, y1 = (round(value * LOOK_DPI / 72) for value in line.box)
    place = grey[max(y0, 0) : max(y1, y0 + 1), max(x0, 0) : max(x1, x0 + 1)]
    return bool(place.size and place.min() < DARK)
