"""One picture of a page -> its evidence: cleaned, taken apart, recognised, measured. Depends on that picture alone."""

from __future__ import annotations

import io
import time
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace
from PIL import Image

from evenquill.core.model import Box, Marks, Remark, RemarkKind
from evenquill.core.reading.evidence import (
    Cleaned,
    KeepPicture,
    Line,
    OtherReading,
    PageEvidence,
    PageKind,
    PictureKind,
    PlacedPicture,
    Rule,
    Type,
    Word,
)
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.scanned.cleaning.curl import curl_of, uncurled
from evenquill.core.reading.scanned.cleaning.straighten import Straight, resized, straightened, upside_down
from evenquill.core.reading.scanned.colour import ink_colour
from evenquill.core.reading.scanned.languages import first_language, language_found
from evenquill.core.reading.scanned.looks import family_of, measured, types_of
from evenquill.core.reading.scanned.marks import Mark, marks_of, picture_of
from evenquill.core.reading.scanned.raster import Matrix, Pixels, Raster, scaled
from evenquill.core.reading.scanned.recogniser import ReadWord, check_languages
from evenquill.core.reading.scanned.recognition import SURE, Sample, recognised, sample_of
from evenquill.core.reading.scanned.rules import framed_boxes
from evenquill.core.reading.scanned.segments import Layer, Segments, take_apart
from evenquill.core.reading.scanned.spacing import ReadLine
from evenquill.core.reading.underlines import struck_and_underlined

LOWEST_DPI, HIGHEST_DPI = 150.0, 300.0
"""Resolutions between which pages are read; pictures beyond are scaled."""

WIDE_GAP = 1.15
"""Ems. A gap wider than this ends a line, as on native pages."""

KEPT_DPI = 200.0
KEPT_QUALITY = 72
"""JPEG quality of the cleaned page, which is looked at and not read again."""

CUT_QUALITY = 88
"""JPEG quality of pictures cut out."""

RAISED_SIZE = 0.65
"""Type size of raised figures over that of their line."""

SENSE = 0.75
"""Confidence of a word that makes sense."""

MANY_PIECES = 1500
"""Pieces of ink, specks included, from which a page without words is noise and not a drawing."""

LETTERS_IN_PIECES = 0.02
"""Share of the pieces that must be letters of words; on the dirtiest pages a tenth is."""

BLANK_LETTERS = 3
"""Characters up to which a page counts as blank if there is no picture on it."""


class Scan(NamedTuple):
    """A page as it came; ``guessed_size`` says that its file does not tell how large it is."""

    raster: Raster
    guessed_size: bool = False


class PreparedPage(NamedTuple):
    """A page straight, the right way up and taken apart. ``to_input`` takes its pixels to those of the page as it came."""

    straight: Straight
    segments: Segments
    languages: tuple[str, ...]
    curled: bool
    to_input: Matrix


def prepared(scan: Scan, preparation: Preparation = AS_FOUND) -> PreparedPage:
    """All that is done to a page before it is recognised. Raises LanguageMissing for a language without data."""
    check_languages(preparation.languages)
    raster, to_input = resized(scan.raster, LOWEST_DPI, HIGHEST_DPI)
    straight = straightened(raster, preparation, guessed_size=scan.guessed_size)
    segments = _apart(straight.raster, preparation)
    straight, segments, curled = _uncurled(straight, segments, preparation)
    straight, segments, languages = _upright(raster, straight, segments, preparation, guessed_size=scan.guessed_size)
    return PreparedPage(straight, segments, tuple(languages), curled, np.asarray(to_input @ straight.matrix))


def read_scan(scan: Scan, number: int, keep: KeepPicture, preparation: Preparation = AS_FOUND) -> PageEvidence:
    """Evidence of page ``number`` from its picture; pictures on it and the cleaned page go to ``keep``.

    Raises LanguageMissing for a language without data.
    """
    started = time.perf_counter()
    page = prepared(scan, preparation)
    segments, languages = page.segments, page.languages
    black = recognised(segments, segments.black, languages)
    coloured = recognised(segments, segments.coloured, languages) if segments.coloured else []
    marks = marks_of(segments, black, coloured)

    unit = segments.raster.dpi / 72
    lines, types = _lines(segments, marks.black, marks.coloured)
    rules = [Rule(_points(box, unit)) for box in (*segments.rules.level, *segments.rules.upright)]
    struck, rules = struck_and_underlined(tuple(lines), rules)
    pictures = _pictures(segments, marks.marks, keep, unit)
    width, height = segments.raster.width / unit, segments.raster.height / unit
    remarks: tuple[Remark, ...] = ()
    if _is_noise(segments, struck):
        sentence = "Nothing on page {page} can be read; it is kept as a picture."
        remarks = (Remark(RemarkKind.PAGE_AS_PICTURE, sentence),)
        whole = keep(_encoded(segments.raster.pixels, "JPEG"), "image/jpeg")
        struck, rules = (), []
        pictures = [PlacedPicture(Box(0, 0, width, height).rounded(), whole, "image/jpeg", PictureKind.PAGE)]
    elif sum(len(line.text) for line in struck) <= BLANK_LETTERS and not pictures:
        remarks, struck = (Remark(RemarkKind.BLANK, "Page {page} is blank."),), ()
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
        cleaned=_cleaned(scan, page, keep),
    )


def _is_noise(segments: Segments, lines: Sequence[Line]) -> bool:
    """Whether the page is full of ink in which next to no words are."""
    words = [word for line in lines for word in line.words if word.confidence >= SENSE]
    letters = sum(sum(c.isalnum() for c in word.text) for word in words if len(word.text) >= 2)
    pieces = len(segments.black.pieces.areas)
    return pieces > MANY_PIECES and letters < LETTERS_IN_PIECES * pieces


def lines_of_scan(raster: Raster, preparation: Preparation) -> tuple[list[Line], list[Type]]:
    """Lines of text in a part of a straight page, and the types that their words refer to. Raises LanguageMissing."""
    check_languages(preparation.languages)
    segments = _apart(raster, preparation)
    languages = preparation.languages or (language_found(sample_of(segments, (first_language(),)).text),)
    black = recognised(segments, segments.black, languages)
    coloured = recognised(segments, segments.coloured, languages) if segments.coloured else []
    return _lines(segments, [line for line in black if line.words], [line for line in coloured if line.words])


def _apart(raster: Raster, preparation: Preparation) -> Segments:
    return take_apart(raster, even_light=preparation.even_light, despeckle=preparation.despeckle)


def _uncurled(straight: Straight, segments: Segments, preparation: Preparation) -> tuple[Straight, Segments, bool]:
    if not preparation.straighten:
        return straight, segments, False
    raster = straight.raster
    curl = curl_of(segments.black.lines, segments.black.pieces, raster.width, raster.height)
    if curl is None:
        return straight, segments, False
    level = Raster(uncurled(raster.pixels, curl), raster.dpi)
    return straight._replace(raster=level), _apart(level, preparation), True


def _upright(
    raster: Raster, straight: Straight, segments: Segments, preparation: Preparation, *, guessed_size: bool
) -> tuple[Straight, Segments, Sequence[str]]:
    """The page the right way up, and its languages: the recogniser itself says which way makes sense."""
    languages = preparation.languages or (first_language(),)
    sample = sample_of(segments, languages)
    if preparation.turn is None and sample.confidence < SURE and segments.black.lines:
        for turned in _other_ways(raster, straight, preparation, guessed_size=guessed_size):
            other = _apart(turned.raster, preparation)
            other_sample = sample_of(other, languages)
            if _makes_more_sense(other_sample, sample):
                straight, segments, sample = turned, other, other_sample
            if sample.confidence >= SURE:
                break
    if not preparation.languages:
        languages = (language_found(sample.text),)
    return straight, segments, languages


def _other_ways(
    raster: Raster, straight: Straight, preparation: Preparation, *, guessed_size: bool
) -> Iterator[Straight]:
    """The page upside down, then on its sides: lines that few letters make can be mistaken for columns of letters."""
    yield upside_down(straight)
    for quarters in (1, 3):
        turn = (straight.turn + quarters) % 4 * 90
        yield straightened(raster, replace(preparation, turn=turn), guessed_size=guessed_size)


def _makes_more_sense(one: Sample, other: Sample) -> bool:
    return one.confidence > other.confidence + 0.02 or (
        one.confidence >= other.confidence and len(one.text) > len(other.text)
    )


def _lines(segments: Segments, black: list[ReadLine], coloured: list[ReadLine]) -> tuple[list[Line], list[Type]]:
    numbers: dict[Type, int] = {}
    out: list[Line] = []
    for layer, lines in ((segments.black, black), (segments.coloured, coloured)):
        if layer is not None and lines:
            out += _layer_lines(segments, layer, lines, numbers)
    return sorted(out, key=lambda line: (line.baseline, line.box.x0)), list(numbers)


def _layer_lines(segments: Segments, layer: Layer, lines: list[ReadLine], numbers: dict[Type, int]) -> list[Line]:
    unit = segments.raster.dpi / 72
    looks = measured(lines, layer.pieces, segments.even, segments.raster.dpi)
    family = family_of(lines, looks, layer.pieces, segments.even)
    types = types_of(lines, looks, family)
    out: list[Line] = []
    raised: list[tuple[Word, float]] = []
    for line, line_types in zip(lines, types, strict=True):
        if line.line.raised:
            one = line_types[0]._replace(size=round(line_types[0].size * RAISED_SIZE * 2) / 2)
            word = _word(line.words[0], numbers.setdefault(one, len(numbers)), unit)
            raised.append((word, line.line.middle / unit))
            continue
        if layer is segments.coloured:
            color = _colour_of(segments, layer, line)
            line_types = [one._replace(color=color) for one in line_types]
        words = [
            _word(word, numbers.setdefault(one, len(numbers)), unit)
            for word, one in zip(line.words, line_types, strict=True)
        ]
        size = max((one.size for one in line_types), default=0.0)
        here = line.line
        for part in _at_wide_gaps(words, WIDE_GAP * size):
            middle = here.baseline((part[0].x0 + part[-1].x1) / 2 * unit)
            top = max(middle - 0.95 * size * unit, 0.0)
            box = Box(part[0].x0, top / unit, part[-1].x1, (middle + 0.27 * size * unit) / unit)
            out.append(Line(box.rounded(), round(middle / unit, 2), size, tuple(part)))
    return _with_raised(out, raised)


def _with_raised(lines: list[Line], raised: list[tuple[Word, float]]) -> list[Line]:
    """Raised figures put into the lines that they stand over."""
    for word, baseline in raised:
        near = [
            i
            for i, line in enumerate(lines)
            if abs(line.baseline - baseline) < 0.3 * line.size
            and line.box.x0 - line.size < word.x1
            and word.x0 < line.box.x1 + line.size
        ]
        if not near:
            continue
        i = min(near, key=lambda i: max(lines[i].box.x0 - word.x0, word.x1 - lines[i].box.x1, 0.0))
        line = lines[i]
        before = [other for other in line.words if other.x0 < word.x0]
        after = [other for other in line.words if other.x0 >= word.x0]
        mark = word._replace(marks=int(Marks.SUPER), glued=bool(before))
        box = line.box._replace(x0=min(line.box.x0, word.x0), x1=max(line.box.x1, word.x1))
        lines[i] = line._replace(words=(*before, mark, *after), box=box)
    return lines


def _word(word: ReadWord, type_number: int, unit: float) -> Word:
    others = tuple(
        OtherReading(n, text, share)
        for n, symbol in enumerate(word.symbols)
        for text, share in symbol.others
        if share > 0.05
    )
    return Word(
        word.text,
        round(word.x0 / unit, 2),
        round(word.x1 / unit, 2),
        type_number,
        confidence=round(word.confidence, 3),
        others=others,
    )


def _at_wide_gaps(words: list[Word], gap: float) -> list[list[Word]]:
    parts: list[list[Word]] = []
    for word in words:
        if not parts or word.x0 - parts[-1][-1].x1 > gap:
            parts.append([])
        parts[-1].append(word)
    return parts


def _colour_of(segments: Segments, layer: Layer, line: ReadLine) -> str | None:
    here = line.line
    member = np.zeros(len(layer.pieces.areas) + 1, np.uint8)
    member[here.pieces + 1] = 1
    own = member[layer.pieces.labels[here.y0 : here.y1, here.x0 : here.x1]]
    return ink_colour(segments.raster.pixels[here.y0 : here.y1, here.x0 : here.x1], own)


def _pictures(segments: Segments, marks: Sequence[Mark], keep: KeepPicture, unit: float) -> list[PlacedPicture]:
    pixels = segments.raster.pixels
    out = []
    for box in segments.pictures:
        crop = pixels[int(box.y0) : round(box.y1) + 1, int(box.x0) : round(box.x1) + 1]
        picture = keep(_encoded(crop, "JPEG"), "image/jpeg")
        out.append(PlacedPicture(_points(box, unit), picture, "image/jpeg", PictureKind.RASTER))
    for mark in marks:
        picture = keep(_encoded(picture_of(mark, pixels), "PNG"), "image/png")
        box = _points(mark.box, unit)
        out.append(PlacedPicture(box, picture, "image/png", mark.kind, mark.words, round(mark.confidence, 3)))
    return out


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
        picture = np.clip(segments.raster.pixels * gain[..., None], 0, 255).astype(np.uint8)
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
