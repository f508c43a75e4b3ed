"""Pictures of words -> how they are lettered: bold, slanted, with or without serifs. A small convolutional network, trained by
``bench/word_looks``.

Letters need not stand apart for it, as they must where stems and slants are measured; what it says is weighed together with these
(``look_features.py``).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.text_line import TextLine

NETWORK = Path(__file__).parents[2] / "fitted" / "word_looks.onnx"

HEIGHT, WIDTH, X_HEIGHT = 32, 96, 13.0
"""Pixels of the picture of a word that the network looks at, and of the small letters in it."""

ABOVE = 1.75
"""X-heights above the baseline at which the picture begins: over capitals and their accents."""

COLUMN = 8
"""Pixels of the picture's width that the network sums up as one."""

SEEN_COLUMNS = (6, 9, WIDTH // COLUMN)
"""Columns of the pictures of short, middling and long words that are looked at; one of them is paper, but for the longest."""

BATCH = 256
"""Words handed to the network at once, at most."""


class SeenLook(NamedTuple):
    """Log odds that a word is bold and that it is slanted, and that its letters have no serifs, or one width."""

    bold: float = 0.0
    italic: float = 0.0
    sans: float = 0.0
    mono: float = 0.0


def seen_looks_of(even: Pixels, words: Sequence[tuple[TextLine, float, float]]) -> list[SeenLook]:
    """How words are lettered; each is given by its line and where it begins and ends, in pixels of the evenly lit page."""
    pictures = [picture_of_word(even, *word) for word in words]
    scores = [scores_of(pictures[start : start + BATCH]) for start in range(0, len(pictures), BATCH)]
    return [SeenLook(*map(float, row)) for part in scores for row in part]


def picture_of_word(even: Pixels, line: TextLine, x0: float, x1: float) -> tuple[NDArray[np.uint8], int]:
    """Darkness (HEIGHT, WIDTH) of a word brought to one height of small letters, cut off where it is longer, and how many columns of it
    the word fills."""
    scale = X_HEIGHT / max(line.x_height, 1.0)
    matrix = np.array(
        [[scale, 0.0, 1.0 - scale * x0], [0.0, scale, scale * (ABOVE * line.x_height - line.baseline((x0 + x1) / 2))]]
    )
    # What is made smaller is softened first, or thin strokes get lost between the pixels.
    y0, y1 = _rows(even, line, (x0 + x1) / 2)
    left, right = max(int(x0) - 2, 0), min(int(min(x1, x0 + WIDTH / scale)) + 3, even.shape[1])
    part = even[y0:y1, left:right]
    if not part.size:
        return np.zeros((HEIGHT, WIDTH), np.uint8), 1
    if scale < 1:
        part = np.asarray(cv2.GaussianBlur(part, (0, 0), 0.4 / scale), np.uint8)
    matrix[:, 2] += matrix[:, :2] @ np.array([left, y0])
    seen = cv2.warpAffine(part, matrix, (WIDTH, HEIGHT), flags=cv2.INTER_LINEAR, borderValue=WHITE)
    fills = min(max((x1 - x0) * scale + 2, COLUMN), WIDTH)
    seen[:, int(fills) :] = WHITE
    return np.asarray(WHITE - seen, np.uint8), max(round(fills / COLUMN), 1)


def scores_of(pictures: Sequence[tuple[NDArray[np.uint8], int]]) -> NDArray[np.float32]:
    """What the network says of words, of shape (words, fields of SeenLook): the mean over the columns that each fills."""
    fills = np.array([own for _, own in pictures])
    out = np.zeros((len(pictures), len(SeenLook._fields)), np.float32)
    for columns, chosen in _by_length(fills):
        if len(chosen):
            width = columns * COLUMN
            given = np.stack([pictures[n][0][:, :width] for n in chosen])[:, None].astype(np.float32) / np.float32(
                WHITE
            )
            out[chosen] = _means(given, fills[chosen])
    return out


def _by_length(fills: NDArray[np.int64]) -> Iterator[tuple[int, NDArray[np.int64]]]:
    """Words of like lengths, with the columns of their pictures that are looked at: the paper behind a short word need not be."""
    least = 0
    for columns in SEEN_COLUMNS:
        most = columns - 1 if columns < SEEN_COLUMNS[-1] else columns
        yield columns, np.flatnonzero((fills > least) & (fills <= most))
        least = most


def _means(given: NDArray[np.float32], fills: NDArray[np.int64]) -> NDArray[np.float32]:
    network = _network()
    network.setInput(given, "picture")
    columns = np.asarray(network.forward(), np.float32).reshape(len(given), len(SeenLook._fields), -1)
    own = np.arange(columns.shape[2])[None] < fills[:, None]
    means: NDArray[np.float32] = (columns * own[:, None]).sum(axis=2) / own.sum(axis=1)[:, None]
    return means


def _rows(even: Pixels, line: TextLine, x: float) -> tuple[int, int]:
    """Rows of the page that the picture of a word at ``x`` may show."""
    base, unit = line.baseline(x), line.x_height
    return max(int(base - (ABOVE + 0.5) * unit), 0), min(int(base + 1.5 * unit), even.shape[0])


@cache
def _network() -> cv2.dnn.Net:
    return cv2.dnn.readNetFromONNX(str(NETWORK))
