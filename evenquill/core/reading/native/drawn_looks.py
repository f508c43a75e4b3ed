"""Weight and slant of fonts whose names do not tell them: how wide the stems of their letters are drawn, against those of the page's other
letters, and how they lean.

A font whose glyphs are little drawings (Type 3: ISO 32000-1, 9.6.5) may come without a name and without a descriptor. Browsers embed so
what they embolden or slant by themselves, and older typesetters all of their bitmap fonts. A descriptor may claim any width of stems
(ISO 32000-1, 9.8.1), whatever is drawn: programs that write them take it from what is at hand.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import replace
from typing import NamedTuple

import pypdfium2 as pdfium

from evenquill.core.font_names import is_called_bold
from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.native.characters import Characters, TextRun
from evenquill.core.reading.native.typefaces import NAMELESS
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.sizes import X_SHARE
from evenquill.core.reading.stems import BOLDER, middle_mean, runs_of_ink, slant_of_ink

DPI = 200.0
"""Resolution at which letters are measured."""

FROM, TO = 0.36, 0.09
"""Ems above the baseline between which small letters have little but stems."""

LEANS, MOST_RUNS = 0.11, 60
"""Tangent of the lean from which letters are italic (italics lean by 0.16 to 0.35), and runs of a font that are looked at."""

FEWEST_STEMS, FEWEST_LETTERS = 6, 6
"""Stems that tell the weight of a font, and letters that tell its slant."""


class Strokes(NamedTuple):
    """How the letters of a face are drawn: the usual width of their stems in ems, and how far these lean to the right, as a tangent."""

    stem: float
    slant: float


def with_drawn_looks(page: pdfium.PdfPage, characters: Characters) -> Characters:
    """The characters of a page, the runs in fonts without a name bold if their stems are far wider than those of the page's main face, and
    italic if they lean; those in fonts that only claim to be bold are so no more if their stems are not."""
    claimed = {run.type.face for run in characters.runs if run.type.bold and not is_called_bold(run.type.face)}
    if not claimed and not any(run.type.face.startswith(NAMELESS) for run in characters.runs):
        return characters
    strokes = _strokes_of_faces(page, characters)
    letters: Counter[str] = Counter()
    for run in characters.runs:
        if run.type.face in strokes and run.type.face not in claimed:
            letters[run.type.face] += run.end - run.start
    main = strokes[letters.most_common(1)[0][0]] if letters else None
    unbold = {face for face in claimed & strokes.keys() if main and strokes[face].stem <= BOLDER * main.stem}
    runs = [_looked_at(run, main, strokes) if run.type.face.startswith(NAMELESS) else run for run in characters.runs]
    return replace(
        characters,
        runs=[run._replace(type=run.type._replace(bold=False)) if run.type.face in unbold else run for run in runs],
    )


def _looked_at(run: TextRun, main: Strokes | None, strokes: Mapping[str, Strokes]) -> TextRun:
    bold, italic = run.type.bold, run.type.italic
    own = strokes.get(run.type.face)
    if own is not None and main is not None:
        bold = bold or own.stem > BOLDER * main.stem
        italic = italic or own.slant > LEANS
    return run._replace(type=run.type._replace(face="", bold=bold, italic=italic))


def _strokes_of_faces(page: pdfium.PdfPage, characters: Characters) -> dict[str, Strokes]:
    """How the letters of each face are drawn; upright runs tell it."""
    raster = drawn(page, DPI).raster
    grey, scale = raster.grey, raster.dpi / 72
    widths: defaultdict[str, list[float]] = defaultdict(list)
    bands: defaultdict[str, list[Pixels]] = defaultdict(list)
    letters: Counter[str] = Counter()
    for run in characters.runs:
        if run.angle or run.type.symbol:
            continue
        em = run.type.size * scale
        boxes = characters.boxes[run.start : run.end] * scale
        top, bottom = (int(run.baseline * scale - share * em) for share in (FROM, TO))
        left, right = int(boxes[:, 0].min()), int(boxes[:, 2].max()) + 1
        if min(top, left) >= 0:
            band = grey[top:bottom, left:right]
            _, found = runs_of_ink(band, X_SHARE * em)
            widths[run.type.face] += (found / em).tolist()
            if run.type.face.startswith(NAMELESS) and len(bands[run.type.face]) < MOST_RUNS:
                bands[run.type.face].append(band)
                letters[run.type.face] += sum(map(str.isalpha, characters.texts[run.start : run.end]))
    return {
        face: Strokes(middle_mean(own), slant_of_ink(bands[face]) if letters[face] >= FEWEST_LETTERS else 0.0)
        for face, own in widths.items()
        if len(own) >= FEWEST_STEMS
    }
