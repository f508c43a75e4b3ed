"""A document and pictures of the pages of its source -> what looks otherwise in the result."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
import pypdfium2 as pdfium

from evenquill.core.looking_back.ink import Grey, inked
from evenquill.core.looking_back.looks import ASKED, SCALE, LookDoubt, LookedBack
from evenquill.core.looking_back.marks import mark_doubts
from evenquill.core.looking_back.missing import missing_doubts
from evenquill.core.looking_back.pairs import text_pairs
from evenquill.core.looking_back.places import place_doubts
from evenquill.core.looking_back.weights import weight_doubts
from evenquill.core.model import Document
from evenquill.core.outcome.setting import set_pages
from evenquill.core.reading.native.page import read_page
from evenquill.core.word_files.placing import with_places
from evenquill.core.writers.picture import GetPicture


class PagePicture(NamedTuple):
    """A page of the source in grey, how many pixels a point of it has, and whether it was scanned: its ink has run, so that it does not
    tell how heavy letters were."""

    grey: Grey
    scale: float
    scanned: bool = False


def look_back(
    document: Document, source: Mapping[int, PagePicture], picture: GetPicture, *, least: float = ASKED
) -> LookedBack:
    """What of a document looks otherwise than in its source, of which pictures of pages are given by their numbers; as far as it is a fault
    with a likelihood of ``least``.

    Raises NotWritten where the document cannot be set.
    """
    made = set_pages(document, picture)
    with pdfium.PdfDocument(made.pdf) as pdf:
        read = [read_page(pdf, n, lambda *_: "") for n in range(1, len(pdf) + 1)]
        result = {n: inked(_drawn(pdf, n), SCALE) for n in range(1, len(pdf) + 1)}
    pairs = list(text_pairs(document, with_places(document, made.outcome, read)))
    pages = {n: inked(page.grey, page.scale) for n, page in source.items()}
    printed = {n: page for n, page in pages.items() if not source[n].scanned}
    found: dict[str, list[LookDoubt]] = {}
    for name, doubt in (
        *weight_doubts(document, pairs, printed, result),
        *mark_doubts(document, pairs, pages, result),
        *place_doubts(document, pairs),
        *missing_doubts(document, pages, pages.keys() - printed.keys()),
    ):
        if doubt.likelihood >= least:
            found.setdefault(name, []).append(doubt)
    compared = {one.row for one in pairs if one.words}
    other = {one.row for one in pairs if any(doubt.likelihood >= ASKED for doubt in found.get(one.block.id, ()))}
    return LookedBack({name: tuple(doubts) for name, doubts in found.items()}, len(compared), len(compared - other))


def _drawn(pdf: pdfium.PdfDocument, number: int) -> Grey:
    page = pdf[number - 1]
    try:
        return np.ascontiguousarray(page.render(scale=SCALE, grayscale=True).to_numpy().squeeze())
    finally:
        page.close()
