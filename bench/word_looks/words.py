"""Words of pages whose typefaces are known, printed and scanned in many ways."""

from __future__ import annotations

import random
import sys
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.font_names import is_called_bold
from evenquill.core.model import Family
from evenquill.core.reading.preparation import AS_FOUND
from evenquill.core.reading.scanned.prepared import apart
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.scanned.seen_looks import picture_of_word
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.text_line import TextLine

sys.path.insert(0, str(Path(__file__).parents[2] / "demo"))
import scan_effects

RESOLUTIONS = (150, 150, 200, 200, 200, 250, 300)
MOST_REGULAR, MOST_OTHER = 60, 100
"""Words of the look that a page's text has, and of each other look, that are taken from a page."""

NEAR = 0.4
"""X-heights by which the line found on the scan may stand off from the one that was set."""

LIKELY_X_HEIGHTS = (0.36, 0.62)
"""X-heights over type sizes of typefaces for text."""


class Words(NamedTuple):
    """Pictures of words (n, HEIGHT, WIDTH), columns that each fills, and what each is: bold, slanted, sans, mono (n, 4)."""

    pictures: NDArray[np.uint8]
    fills: NDArray[np.uint8]
    looks: NDArray[np.uint8]


def gathered(jobs: Sequence[tuple[Path, PageEvidence, int, int]]) -> Words:
    """Words of pages, each given by its file, what was found on it, its number from 0 and a seed."""
    with ProcessPoolExecutor() as pool:
        found = [words for words in pool.map(_words_of_page, jobs, chunksize=4) if words is not None]
    return Words(*(np.concatenate(part) for part in zip(*found, strict=True)))


def _words_of_page(job: tuple[Path, PageEvidence, int, int]) -> Words | None:
    file, page, number, seed = job
    rng = random.Random(seed)
    dpi = rng.choice(RESOLUTIONS)
    segments = apart(Raster(_printed(scan_effects.drawn(file, number + 1, dpi), rng), dpi), AS_FOUND)
    rows = [
        (*picture_of_word(segments.even, line, x0, x1), _look(own)) for line, x0, x1, own in _known(page, segments, rng)
    ]
    if not rows:
        return None
    return Words(
        np.stack([row[0] for row in rows]),
        np.array([row[1] for row in rows], np.uint8),
        np.array([row[2] for row in rows], np.uint8),
    )


def _printed(page: NDArray[np.uint8], rng: random.Random) -> NDArray[np.uint8]:
    """A page as a scanner or, made straight again, a telephone sees it."""
    noise = np.random.default_rng(rng.randrange(2**32))
    spread = rng.random()
    if spread < 0.12:
        page = np.asarray(cv2.erode(page, np.ones((2, 2), np.uint8)), np.uint8)
    elif spread < 0.2:
        page = np.asarray(cv2.dilate(page, np.ones((2, 2), np.uint8)), np.uint8)
    height, width = page.shape[:2]
    # What is left when a page that lay askew, or was taken from one side, is made straight.
    lean, shift = rng.gauss(0, 0.008), rng.uniform(-0.5, 0.5)
    matrix = np.array([[1.0, lean, shift - lean * height / 2], [0.0, 1.0, shift]])
    page = np.asarray(cv2.warpAffine(page, matrix, (width, height), borderValue=(255, 255, 255)), np.uint8)
    page = scan_effects.printed(page, noise, ink=rng.randint(0, 90))
    page = scan_effects.scanned(page, noise, blur=rng.uniform(0.3, 1.3), noise=rng.uniform(1, 10), specks=0)
    if rng.random() < 0.7:
        quality = [cv2.IMWRITE_JPEG_QUALITY, rng.randint(45, 92)]
        page = np.asarray(cv2.imdecode(cv2.imencode(".jpg", page, quality)[1], cv2.IMREAD_COLOR), np.uint8)
    if rng.random() < 0.1:
        page = np.where(page.mean(axis=2, keepdims=True) < rng.uniform(110, 170), 0, 255).repeat(3, 2).astype(np.uint8)
    return page


def _known(page: PageEvidence, segments: Segments, rng: random.Random) -> Iterator[tuple[TextLine, float, float, Type]]:
    """Words of a page with the line on the scan that each stands on, where it begins and ends there, and its type."""
    unit = segments.raster.dpi / 72
    by_look: dict[tuple[bool, ...], list[tuple[Line, Word]]] = {}
    for line in page.lines:
        for word in line.words:
            own = page.types[word.type]
            certain = not own.bold or is_called_bold(own.face)  # what stems claim may be wrong
            if certain and sum(map(str.isalpha, word.text)) >= 2 and not own.symbol and not own.unseen:
                by_look.setdefault((own.bold, own.italic), []).append((line, word))
    for look, words in by_look.items():
        for line, word in rng.sample(words, min(len(words), MOST_OTHER if any(look) else MOST_REGULAR)):
            own = page.types[word.type]
            found = _line_there(segments.black.lines, line.baseline * unit, word.x0 * unit, word.x1 * unit)
            low, high = (share * own.size * unit for share in LIKELY_X_HEIGHTS)
            if found is not None and low <= found.x_height <= high:
                yield found, word.x0 * unit, word.x1 * unit, own


def _line_there(lines: Sequence[TextLine], baseline: float, x0: float, x1: float) -> TextLine | None:
    middle = (x0 + x1) / 2
    for line in lines:
        if line.x0 - 2 <= x0 and x1 <= line.x1 + 2 and abs(line.baseline(middle) - baseline) < NEAR * line.x_height:
            return line
    return None


def _look(own: Type) -> tuple[bool, bool, bool, bool]:
    return own.bold, own.italic, own.family is Family.SANS, own.family is Family.MONO
