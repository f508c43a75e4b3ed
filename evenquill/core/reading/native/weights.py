"""The weight of fonts that have no name: how wide the stems of their letters are drawn, against those of the page's other letters.

A font whose glyphs are little drawings (Type 3: ISO 32000-1, 9.6.5) may come without a name and without a descriptor. Browsers embed so
what they embolden by themselves, and older typesetters all of their bitmap fonts.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import replace

import pypdfium2 as pdfium

from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.native.characters import Characters, TextRun
from evenquill.core.reading.native.typefaces import NAMELESS
from evenquill.core.reading.scanned.looks import X_SHARE
from evenquill.core.reading.stems import BOLDER, middle_mean, runs_of_ink

DPI = 200.0
"""Resolution at which letters are measured."""

FROM, TO = 0.36, 0.09
"""Ems above the baseline between which small letters have little but stems."""

FEWEST_STEMS = 6
"""Stems that tell the weight of a font."""


def with_weights_of_nameless(page: pdfium.PdfPage, characters: Characters) -> Characters:
    """The characters of a page, the runs in fonts without a name bold if their stems are far wider than those of the page's main face."""
    if not any(run.type.face.startswith(NAMELESS) for run in characters.runs):
        return characters
    stems = _stems_of_faces(page, characters)
    letters: Counter[str] = Counter()
    for run in characters.runs:
        if run.type.face in stems:
            letters[run.type.face] += run.end - run.start
    limit = BOLDER * stems[letters.most_common(1)[0][0]] if letters else float("inf")
    runs = [_weighed(run, limit, stems) if run.type.face.startswith(NAMELESS) else run for run in characters.runs]
    return replace(characters, runs=runs)


def _weighed(run: TextRun, limit: float, stems: Mapping[str, float]) -> TextRun:
    bold = run.type.bold or stems.get(run.type.face, 0.0) > limit
    return run._replace(type=run.type._replace(face="", bold=bold))


def _stems_of_faces(page: pdfium.PdfPage, characters: Characters) -> dict[str, float]:
    """The usual width of the stems of each face of letters, in ems; upright runs tell it."""
    raster = drawn(page, DPI).raster
    scale = raster.dpi / 72
    widths: defaultdict[str, list[float]] = defaultdict(list)
    for run in characters.runs:
        if run.angle or run.type.symbol:
            continue
        em = run.type.size * scale
        boxes = characters.boxes[run.start : run.end] * scale
        top, bottom = (int(run.baseline * scale - share * em) for share in (FROM, TO))
        left, right = int(boxes[:, 0].min()), int(boxes[:, 2].max()) + 1
        if min(top, left) >= 0:
            _, found = runs_of_ink(raster.grey[top:bottom, left:right], X_SHARE * em)
            widths[run.type.face] += (found / em).tolist()
    return {face: middle_mean(own) for face, own in widths.items() if len(own) >= FEWEST_STEMS}
