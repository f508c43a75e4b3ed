"""A document and the pages of its source -> what looks otherwise in the result."""

from __future__ import annotations

from collections.abc import Mapping

import pypdfium2 as pdfium

from evenquill.core.looking_back.inked_pages import result_pages, source_pages
from evenquill.core.looking_back.looks import ASKED, LookDoubt, LookedBack
from evenquill.core.looking_back.marks import mark_doubts
from evenquill.core.looking_back.missing import missing_doubts
from evenquill.core.looking_back.pairs import text_pairs
from evenquill.core.looking_back.places import place_doubts
from evenquill.core.looking_back.weights import weight_doubts
from evenquill.core.model import Document
from evenquill.core.outcome.setting import set_pages
from evenquill.core.reading.native.page import read_page
from evenquill.core.strip_types import Strip
from evenquill.core.word_files.placing import with_places
from evenquill.core.writers.picture import GetPicture


def look_back(
    document: Document, strips: Mapping[int, Strip], picture: GetPicture, *, least: float = ASKED
) -> LookedBack:
    """What of a document looks otherwise than in its source, of which ``strips`` say by page where each is; as far as it is a fault with a
    likelihood of ``least``.

    Raises NotWritten where the document cannot be set.
    """
    made = set_pages(document, picture)
    source = source_pages(strips)
    # Ink has run on scans, which so do not tell how heavy letters were.
    scanned = {number for number, strip in strips.items() if strip.width}
    found: dict[str, list[LookDoubt]] = {}
    with pdfium.PdfDocument(made.pdf) as pdf:
        result = result_pages(pdf)
        read = [read_page(pdf, number, lambda *_: "") for number in result]
        pairs = list(text_pairs(document, with_places(document, made.outcome, read)))
        for name, doubt in (
            *weight_doubts(document, pairs, source, result, scanned),
            *mark_doubts(document, pairs, source, result),
            *place_doubts(document, pairs),
            *missing_doubts(document, source, scanned),
        ):
            if doubt.likelihood >= least:
                found.setdefault(name, []).append(doubt)
    compared = {one.row for one in pairs if one.words}
    other = {one.row for one in pairs if any(doubt.likelihood >= ASKED for doubt in found.get(one.block.id, ()))}
    return LookedBack({name: tuple(doubts) for name, doubts in found.items()}, len(compared), len(compared - other))
