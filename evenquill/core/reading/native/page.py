"""One page of a PDF -> its evidence. Depends on that page alone, so pages can be read in any order and process."""

from __future__ import annotations

import time

import pypdfium2 as pdfium

from evenquill.core.model import Box, Marks, Remark, RemarkKind
from evenquill.core.reading.evidence import (
    KeepPicture,
    Line,
    Link,
    PageEvidence,
    PageKind,
    PictureKind,
    PlacedPicture,
    Rule,
    Word,
)
from evenquill.core.reading.native.characters import characters_of
from evenquill.core.reading.native.frame import frame_of
from evenquill.core.reading.native.graphics import draw_region, graphics_of
from evenquill.core.reading.native.lines import lines_of
from evenquill.core.reading.native.links import links_of

PAGE_PICTURE_DPI = 200

PAGE_SHARE = 0.7
"""Share of the page's area from which a raster picture is taken for a scan of the page."""


def read_page(document: pdfium.PdfDocument, number: int, keep: KeepPicture) -> PageEvidence:
    """Evidence of page ``number`` (from 1) of an open document.

    Raises pdfium.PdfiumError for a page that PDFium cannot load.
    """
    started = time.perf_counter()
    page = document[number - 1]
    try:
        frame = frame_of(page.raw)
        text_page = page.get_textpage()
        try:
            characters = characters_of(page.raw, text_page.raw, frame)
        finally:
            text_page.close()
        lines, types = lines_of(characters)
        graphics = graphics_of(page, frame, lines, keep)
        links = links_of(document.raw, page.raw, frame)
    finally:
        page.close()
    pictures, kind, remarks = _sized_up(graphics.pictures, lines, frame.width * frame.height, number)
    lines = tuple(line for line in lines if not _in_drawing(line, pictures))
    lines, rules = _struck_and_underlined(lines, graphics.rules)
    return PageEvidence(
        number=number,
        width=round(frame.width, 2),
        height=round(frame.height, 2),
        kind=kind,
        types=types,
        lines=_linked(lines, links),
        pictures=tuple(pictures),
        rules=tuple(rules),
        boxes=tuple(graphics.boxes),
        links=links,
        remarks=remarks,
        seconds=round(time.perf_counter() - started, 4),
    )


def page_as_picture(document: pdfium.PdfDocument, number: int, sentence: str, keep: KeepPicture) -> PageEvidence:
    """The page drawn as one picture, with a remark that says why: for pages that cannot be read."""
    page = document[number - 1]
    try:
        frame = frame_of(page.raw)
        picture = draw_region(
            page, frame, Box(0, 0, frame.width, frame.height), PAGE_PICTURE_DPI, PictureKind.PAGE, keep
        )
    finally:
        page.close()
    return PageEvidence(
        number=number,
        width=round(frame.width, 2),
        height=round(frame.height, 2),
        kind=PageKind.SCANNED,
        pictures=(picture,),
        remarks=(Remark(RemarkKind.PAGE_AS_PICTURE, sentence, number),),
    )


def _sized_up(
    pictures: list[PlacedPicture], lines: tuple[Line, ...], area: float, number: int
) -> tuple[list[PlacedPicture], PageKind, tuple[Remark, ...]]:
    """Whether the page is a scan: a picture as large as the page, with no text or with a text layer over it."""
    whole = [
        picture
        for picture in pictures
        if picture.kind is PictureKind.RASTER and picture.box.width * picture.box.height > PAGE_SHARE * area
    ]
    if not whole:
        return pictures, PageKind.NATIVE, ()
    if lines:
        return [picture for picture in pictures if picture not in whole], PageKind.SCANNED, ()
    sentence = f"Page {number} is a picture without text; it is kept as a picture."
    pages = [picture._replace(kind=PictureKind.PAGE) if picture in whole else picture for picture in pictures]
    return pages, PageKind.SCANNED, (Remark(RemarkKind.PAGE_AS_PICTURE, sentence, number),)


def _in_drawing(line: Line, pictures: list[PlacedPicture]) -> bool:
    return any(picture.kind is PictureKind.DRAWING and picture.box.holds(line.box, 1.0) for picture in pictures)


def _struck_and_underlined(lines: tuple[Line, ...], rules: list[Rule]) -> tuple[tuple[Line, ...], list[Rule]]:
    """Rules drawn under or through words become marks of these words; the other rules are returned."""
    flat = [rule for rule in rules if rule.horizontal]
    if not flat:
        return lines, rules
    used: set[Rule] = set()
    out = []
    for line in lines:
        if line.angle:
            out.append(line)
            continue
        words = list(line.words)
        for rule in flat:
            mark = _mark_of(rule, line)
            if mark is None:
                continue
            covered = [i for i, word in enumerate(words) if _covers(rule.box, word)]
            if covered and rule.box.width < 1.1 * (words[covered[-1]].x1 - words[covered[0]].x0) + line.size:
                used.add(rule)
                for i in covered:
                    words[i] = words[i]._replace(marks=words[i].marks | int(mark))
        out.append(line._replace(words=tuple(words)))
    return tuple(out), [rule for rule in rules if rule not in used]


def _mark_of(rule: Rule, line: Line) -> Marks | None:
    if rule.box.height > 0.15 * line.size:
        return None
    above = (line.baseline - rule.box.center_y) / line.size
    if -0.3 < above <= 0.02:
        return Marks.UNDERLINE
    if 0.15 < above < 0.5:
        return Marks.STRIKE
    return None


def _covers(box: Box, word: Word) -> bool:
    return min(box.x1, word.x1) - max(box.x0, word.x0) > 0.7 * (word.x1 - word.x0)


def _linked(lines: tuple[Line, ...], links: tuple[Link, ...]) -> tuple[Line, ...]:
    if not links:
        return lines
    out = []
    for line in lines:
        near = [i for i, link in enumerate(links) if link.box.overlap_y(line.box) > 0.4 * line.box.height]
        if not near or line.angle:
            out.append(line)
            continue
        words = tuple(
            word._replace(link=next((i for i in near if _covers(links[i].box, word)), None)) for word in line.words
        )
        out.append(line._replace(words=words))
    return tuple(out)
