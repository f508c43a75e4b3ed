"""One picture of a page -> its evidence: cleaned, taken apart, recognised, measured. Depends on that picture alone."""

from __future__ import annotations

import io
import time
from collections.abc import Sequence

import numpy as np
from PIL import Image

from evenquill.core.evidence import (
    Cleaned,
    KeepPicture,
    Line,
    PageEvidence,
    PageKind,
    PictureKind,
    PlacedPicture,
    Rule,
    Type,
)
from evenquill.core.model import Box, Remark, RemarkKind
from evenquill.core.reading.jobs import BLANK, NOTHING_READ
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.scanned.evidence_lines import evidence_lines
from evenquill.core.reading.scanned.formulas.other_readings import FormulaReading, whole_formula
from evenquill.core.reading.scanned.formulas.page_formulas import with_equation_words, with_formulas
from evenquill.core.reading.scanned.formulas.page_signs import X_HEIGHT, page_signs
from evenquill.core.reading.scanned.languages import languages_to_try
from evenquill.core.reading.scanned.marks import Mark, marks_of, picture_of
from evenquill.core.reading.scanned.prepared import PreparedPage, Scan, apart, prepared
from evenquill.core.reading.scanned.raster import Pixels, Raster, scaled, warped
from evenquill.core.reading.scanned.recognition import recognised, sample_of
from evenquill.core.reading.scanned.rules import framed_boxes
from evenquill.core.reading.scanned.scripts import languages_of_sample, with_other_scripts
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.underlines import struck_and_underlined

KEPT_DPI = 200.0
KEPT_QUALITY = 72
"""JPEG quality of the cleaned page, which is looked at and not read again."""

CUT_QUALITY = 88
"""JPEG quality of pictures cut out."""

SENSE = 0.75
"""Confidence of a word that makes sense."""

MANY_PIECES = 1500
"""Pieces of ink, specks included, from which a page without words is noise and not a drawing."""

LETTERS_IN_PIECES = 0.02
"""Share of the pieces that must be letters of words; on the dirtiest pages a tenth is."""

USUAL_SIZE = 10.5
"""Points: the size of print, for a part of a page with too few letters to tell."""

BLANK_LETTERS = 3
"""Characters up to which a page counts as blank if there is no picture on it."""


def read_scan(scan: Scan, number: int, keep: KeepPicture, preparation: Preparation = AS_FOUND) -> PageEvidence:
    """Evidence of page ``number`` from its picture; pictures on it and the cleaned page go to ``keep``.

    Raises LanguageMissing for a language without data.
    """
    started = time.perf_counter()
    page = prepared(scan, preparation)
    segments, languages = page.segments, page.languages
    black = recognised(segments, segments.black, languages, page.sample.lines)
    if not preparation.languages and len(languages) == 1:
        black, languages = with_other_scripts(segments, black, languages)
    coloured = recognised(segments, segments.coloured, languages) if segments.coloured else []
    found = with_formulas(segments, black, languages)
    segments = found.segments
    marks = marks_of(segments, found.lines, coloured)

    unit = segments.raster.dpi / 72
    lines, types = with_equation_words(*evidence_lines(segments, marks.black, marks.coloured), found)
    rules = [Rule(_points(box, unit)) for box in (*segments.rules.level, *segments.rules.upright)]
    struck, rules = struck_and_underlined(tuple(lines), rules)
    pictures = _pictures(scan, page, marks.marks, keep)
    width, height = segments.raster.width / unit, segments.raster.height / unit
    remarks: tuple[Remark, ...] = ()
    if _is_noise(segments, struck):
        remarks = (Remark(RemarkKind.PAGE_AS_PICTURE, NOTHING_READ),)
        struck, rules = (), []
        pictures = [_whole_page(segments.raster.pixels, width, height, keep)]
    elif sum(len(line.text) for line in struck) <= BLANK_LETTERS and not pictures:
        remarks, struck = (Remark(RemarkKind.BLANK, BLANK),), ()
    return PageEvidence(
        number=number,
        width=round(width, 2),
        height=round(height, 2),
        kind=PageKind.SCANNED,
        types=tuple(types),
        lines=struck,
        pictures=tuple(pictures),
        rules=tuple(rules),
        boxes=tuple(_points(box, unit) for box in framed_boxes(segments.rules.level, segments.rules.upright, unit)),
        remarks=remarks,
        seconds=round(time.perf_counter() - started, 4),
        languages=languages,
        equations=found.equations,
        cleaned=_cleaned(scan, page, keep),
    )


def pixels_as_page(pixels: Pixels, dpi: float, sentence: str, keep: KeepPicture) -> PageEvidence:
    """A page of these pixels kept as one picture, with a remark that says why: for pages that cannot be read."""
    width, height = (72 * side / dpi for side in (pixels.shape[1], pixels.shape[0]))
    return PageEvidence(
        number=1,
        width=round(width, 2),
        height=round(height, 2),
        kind=PageKind.SCANNED,
        pictures=(_whole_page(pixels, width, height, keep),),
        remarks=(Remark(RemarkKind.PAGE_AS_PICTURE, sentence),),
    )


def _whole_page(pixels: Pixels, width: float, height: float, keep: KeepPicture) -> PlacedPicture:
    """The picture that a page is, which is ``width`` by ``height`` points."""
    picture = keep(_encoded(pixels, "JPEG"), "image/jpeg")
    return PlacedPicture(Box(0, 0, width, height).rounded(), picture, "image/jpeg", PictureKind.PAGE)


def _is_noise(segments: Segments, lines: Sequence[Line]) -> bool:
    """Whether the page is full of ink in which next to no words are."""
    words = [word for line in lines for word in line.words if word.confidence >= SENSE]
    letters = sum(sum(c.isalnum() for c in word.text) for word in words if len(word.text) >= 2)
    pieces = len(segments.black.pieces.areas)
    return pieces > MANY_PIECES and letters < LETTERS_IN_PIECES * pieces


def formula_of_scan(raster: Raster, preparation: Preparation, size: float = 0.0) -> FormulaReading | None:
    """The formula that a part of a straight page shows, None where nothing of one is there. Raises LanguageMissing.

    ``size`` is that of the page's text in points, 0 where it is not known: a formula alone tells little of it.
    """
    segments = apart(raster, preparation)
    if not len(segments.black.pieces.areas):
        return None
    if size or not segments.x_height:
        segments = segments._replace(x_height=X_HEIGHT * (size or USUAL_SIZE) * raster.dpi / 72)
    languages = languages_to_try(preparation.languages)
    read = recognised(segments, segments.black, languages)
    return whole_formula(page_signs(segments, read, languages, whole=True))


def lines_of_scan(raster: Raster, preparation: Preparation) -> tuple[list[Line], list[Type]]:
    """Lines of text in a part of a straight page, and the types that their words refer to. Raises LanguageMissing."""
    first = languages_to_try(preparation.languages)
    segments = apart(raster, preparation)
    languages = preparation.languages
    if not languages:
        languages = languages_of_sample(segments, sample_of(segments, first))
    black = recognised(segments, segments.black, languages)
    coloured = recognised(segments, segments.coloured, languages) if segments.coloured else []
    return evidence_lines(segments, black, coloured)


def _pictures(scan: Scan, page: PreparedPage, marks: Sequence[Mark], keep: KeepPicture) -> list[PlacedPicture]:
    segments = page.segments
    pixels, unit = segments.raster.pixels, segments.raster.dpi / 72
    out = []
    for box in segments.pictures:
        # What was made level line by line has no plain way back to the page as it came.
        level = pixels[int(box.y0) : round(box.y1) + 1, int(box.x0) : round(box.x1) + 1]
        crop = level if page.curled else _as_it_came(scan, page, box)
        picture = keep(_encoded(crop, "JPEG"), "image/jpeg")
        out.append(PlacedPicture(_points(box, unit), picture, "image/jpeg", PictureKind.RASTER))
    for mark in marks:
        picture = keep(_encoded(picture_of(mark, pixels), "PNG"), "image/png")
        box = _points(mark.box, unit)
        out.append(PlacedPicture(box, picture, "image/png", mark.kind, mark.words, round(mark.confidence, 3)))
    return out


def _as_it_came(scan: Scan, page: PreparedPage, box: Box) -> Pixels:
    """A part of the straight page (box in its pixels), cut out of the page as it came, at the resolution that it has there."""
    finer = scan.raster.dpi / page.segments.raster.dpi
    within = np.array([[1 / finer, 0, int(box.x0)], [0, 1 / finer, int(box.y0)], [0, 0, 1.0]])
    width, height = (round((high - int(low) + 1) * finer) for low, high in ((box.x0, box.x1), (box.y0, box.y1)))
    return warped(scan.raster.pixels, np.asarray(np.linalg.inv(page.to_input @ within), np.float64), width, height)


def _points(box: Box, unit: float) -> Box:
    return Box(*(float(value) / unit for value in box)).rounded()


def _encoded(pixels: Pixels, form: str, quality: int = CUT_QUALITY) -> bytes:
    out = io.BytesIO()
    image = Image.fromarray(pixels)
    if form == "JPEG":
        image.save(out, form, quality=quality)
    else:
        image.save(out, form)
    return out.getvalue()


def _cleaned(scan: Scan, page: PreparedPage, keep: KeepPicture) -> Cleaned:
    """The page as it was read, in colour where it has any, and the way back to the page as it came."""
    segments, straight = page.segments, page.straight
    picture: Pixels = segments.even
    if segments.coloured is not None or segments.pictures:
        lightness = np.maximum(segments.raster.grey, 1).astype(np.float32)
        gain = np.minimum(segments.even.astype(np.float32) / lightness, 3.0)
        pixels = segments.raster.pixels
        gain = gain if pixels.ndim == 2 else gain[..., None]
        picture = np.clip(pixels * gain, 0, 255).astype(np.uint8)
    unit = segments.raster.dpi / 72
    came = scan.raster.dpi / 72
    back = np.diag([1 / came, 1 / came, 1.0]) @ page.to_input @ np.diag([unit, unit, 1.0])
    smaller = scaled(picture, min(KEPT_DPI / segments.raster.dpi, 1.0))
    return Cleaned(
        picture=keep(_encoded(smaller, "JPEG", KEPT_QUALITY), "image/jpeg"),
        media="image/jpeg",
        turn=straight.turn,
        skew=round(straight.skew, 3),
        sheet=straight.sheet,
        curl=page.curled,
        light=segments.lit,
        darkened=segments.darkened,
        specks=segments.specks,
        came_width=round(scan.raster.width / came, 2),
        to_source=tuple(round(float(value), 7) for value in (back / back[2, 2]).ravel()),
    )
