"""One page of a PDF -> its evidence. Depends on that page alone, so pages can be read in any order and process."""

from __future__ import annotations

import time
from collections.abc import Iterator, Sequence

import pypdfium2 as pdfium
from msgspec.structs import replace

from evenquill.core.evidence import (
    KeepPicture,
    Line,
    LinkArea,
    PageEvidence,
    PageKind,
    PictureKind,
    PlacedPicture,
)
from evenquill.core.model import Box, Remark, RemarkKind
from evenquill.core.reading.formulas.equation_words import with_equations
from evenquill.core.reading.native.across import parted_by_crossing, parted_by_size
from evenquill.core.reading.native.characters import characters_of
from evenquill.core.reading.native.covered import as_seen
from evenquill.core.reading.native.direction import is_right_to_left, with_columns_joined
from evenquill.core.reading.native.drawn_looks import with_drawn_looks
from evenquill.core.reading.native.drawn_underscores import with_drawn_underscores
from evenquill.core.reading.native.fixed_width import with_fixed_width
from evenquill.core.reading.native.formulas import WithFormulas, may_have_formulas, with_formulas
from evenquill.core.reading.native.frame import frame_of
from evenquill.core.reading.native.full_page_art import full_page_art, readable_without_art
from evenquill.core.reading.native.graphics import bars_of, draw_region, graphics_of
from evenquill.core.reading.native.hidden import parted_by_sight
from evenquill.core.reading.native.lines import lines_of
from evenquill.core.reading.native.links import links_of
from evenquill.core.reading.native.tags import tag_tree_of, with_descriptions
from evenquill.core.reading.native.turned import turn_of, turned
from evenquill.core.reading.underlines import covers, struck_and_underlined

PAGE_PICTURE_DPI = 200

TURNED = "The text of page {page} stands on its side in the file; the page is read, and shown, turned."

PAGE_SHARE = 0.7
"""Share of the page's area from which a raster picture is taken for a scan of the page."""


def read_page(
    document: pdfium.PdfDocument, number: int, keep: KeepPicture, *, over_picture: bool = False
) -> PageEvidence:
    """Evidence of page ``number`` (from 1) of an open document. Text ``over_picture`` is not expected to be seen itself.

    A page whose text stands on its side is read, and drawn from then on, turned. Raises pdfium.PdfiumError for a page that PDFium cannot
    load.
    """
    started = time.perf_counter()
    page = document[number - 1]
    try:
        evidence = _read(document, page, number, keep, over_picture=over_picture)
    finally:
        page.close()
    if evidence.turn:
        evidence = evidence.remarked(RemarkKind.DIRECTION, TURNED)
    return replace(evidence, seconds=round(time.perf_counter() - started, 4))


def _read(
    document: pdfium.PdfDocument,
    page: pdfium.PdfPage,
    number: int,
    keep: KeepPicture,
    *,
    over_picture: bool,
    turn: int = 0,
) -> PageEvidence:
    """Evidence of an open page, which stands turned by ``turn`` already, or is turned as its text says."""
    frame = frame_of(page.raw)
    text_page = page.get_textpage()
    try:
        set_characters = with_fixed_width(characters_of(page.raw, text_page.raw, frame))
        needed = 0 if over_picture or turn else turn_of(set_characters)
        if needed:
            with turned(page, needed):
                return _read(document, page, number, keep, over_picture=over_picture, turn=needed)
        if not over_picture:
            set_characters = as_seen(page, text_page.raw, set_characters)
        found = WithFormulas(set_characters, ())
        if not over_picture and not frame.turns and may_have_formulas(found.characters):
            found = with_formulas(found.characters, text_page.raw, frame, bars_of(page, frame))
    finally:
        text_page.close()
    characters = with_drawn_looks(page, found.characters)
    tree = tag_tree_of(page.raw)
    gathered, oblique, types = lines_of(characters, tree.of_content)
    gathered = with_equations(gathered, found.equations)
    hidden: tuple[Line, ...] = ()
    across: tuple[Line, ...] = ()
    if over_picture:
        lines, oblique = (*gathered, *oblique), ()
    else:
        oblique, marks = parted_by_size(gathered, oblique)
        lines, hidden = parted_by_sight(page, gathered, types)
        oblique, hidden_oblique = parted_by_sight(page, oblique, types)
        lines, crossing = parted_by_crossing(lines)
        hidden, across = (*hidden, *hidden_oblique), (*crossing, *marks)
    lines, downwards = with_columns_joined(lines)
    graphics = graphics_of(page, frame, lines, oblique, keep)
    lines = (*graphics.lines, *oblique)
    placed = with_descriptions(page.raw, frame, tree, graphics.pictures)
    links = links_of(document.raw, page.raw, frame)
    pictures, kind, remarks = _sized_up(placed, lines, frame.width * frame.height, number)
    art = full_page_art(page, frame, lines, pictures, keep) if not over_picture else None
    if art is not None:
        pictures, types = [art], readable_without_art(types)
        graphics = graphics._replace(rules=[], boxes=[], outlines=[], fills=[])
    else:
        lines = tuple(line for line in lines if not _in_drawing(line, pictures))
    rules = [rule for rule in graphics.rules if not any(bar.holds(rule.box, 1.0) for bar in found.bars)]
    lines, rules = with_drawn_underscores(lines, rules)
    lines, rules = struck_and_underlined(lines, rules)
    remarks = (*remarks, *_of_text(lines, hidden, across, downwards=downwards))
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
        outlines=tuple(graphics.outlines),
        fills=tuple(graphics.fills),
        links=links,
        remarks=remarks,
        hidden=(*hidden, *across),
        tags=tree.tags,
        equations=found.equations,
        turn=turn,
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
        remarks=(Remark(RemarkKind.PAGE_AS_PICTURE, sentence),),
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
    sentence = "Page {page} is a picture without text; it is kept as a picture."
    pages = [picture._replace(kind=PictureKind.PAGE) if picture in whole else picture for picture in pictures]
    return pages, PageKind.SCANNED, (Remark(RemarkKind.PAGE_AS_PICTURE, sentence),)


def _of_text(
    lines: Sequence[Line], hidden: Sequence[Line], across: Sequence[Line], *, downwards: bool
) -> Iterator[Remark]:
    """What is to be said of text that cannot be seen, is printed across other text, or runs in another direction."""
    if hidden:
        sentence = "Page {page} has text that nobody can see, white on white, not painted or cut off; it is set aside."
        yield Remark(RemarkKind.HIDDEN_TEXT, sentence)
    if across:
        sentence = "Page {page} has a mark printed across its text; it is set aside."
        yield Remark(RemarkKind.ACROSS, sentence)
    if downwards:
        sentence = "The text of page {page} runs from top to bottom; its columns are kept as lines, from right to left."
        yield Remark(RemarkKind.DIRECTION, sentence)
    elif is_right_to_left(" ".join(line.text for line in lines)):
        sentence = "The text of page {page} runs from right to left; its words are kept in that order."
        yield Remark(RemarkKind.DIRECTION, sentence)


def _in_drawing(line: Line, pictures: list[PlacedPicture]) -> bool:
    return any(picture.kind is PictureKind.DRAWING and picture.box.holds(line.box, 1.0) for picture in pictures)


def _linked(lines: tuple[Line, ...], links: tuple[LinkArea, ...]) -> tuple[Line, ...]:
    if not links:
        return lines
    out = []
    for line in lines:
        near = [i for i, link in enumerate(links) if link.box.overlap_y(line.box) > 0.4 * line.box.height]
        if not near or line.angle:
            out.append(line)
            continue
        words = tuple(
            word._replace(link=next((i for i in near if covers(links[i].box, word)), None)) for word in line.words
        )
        out.append(line._replace(words=words))
    return tuple(out)
