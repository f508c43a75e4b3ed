"""Characters that a page sets and nobody sees: outside what is shown of a form, or a second time in the same place.

A page of another document may be put on a page as a form of which only a part is shown; all of its text is there none the less.
"""

from __future__ import annotations

import ctypes
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c
from numpy.typing import NDArray

from evenquill.core.reading.native.calls import TextPage
from evenquill.core.reading.native.characters import Characters, TextRun, only
from evenquill.core.reading.native.hidden import LOOK_DPI, drawn_grey
from evenquill.core.reading.native.page_objects import DEEPEST, direct_objects, parts_of

SAME_PLACE = 0.1
"""Points within which two equal characters stand in the same place."""


def as_seen(page: pdfium.PdfPage, text_page: pdfium_c.FPDF_TEXTPAGE, characters: Characters) -> Characters:
    """The characters, each once, in runs that are unseen where a form keeps them outside of what it shows."""
    repeated = _repeated(characters)
    if repeated.any():
        characters = only(characters, ~repeated)
    outside = _outside_forms(page, text_page, characters)
    if not outside.any():
        return characters
    return replace(characters, runs=[part for run in characters.runs for part in _parts(run, outside)])


def _parts(run: TextRun, outside: NDArray[np.bool_]) -> Iterator[TextRun]:
    """The run, cut where characters that are seen and such that are not follow each other."""
    cuts = (np.flatnonzero(np.diff(outside[run.start : run.end])) + run.start + 1).tolist()
    for start, end in pairwise((run.start, *cuts, run.end)):
        look = run.type._replace(unseen=True) if outside[start] else run.type
        yield run._replace(start=start, end=end, type=look)


def _repeated(characters: Characters) -> NDArray[np.bool_]:
    """(n,): whether a run set a character before in the same place; of a seen and an unseen one the seen one stays.

    PDFium puts the letters of a ligature, which are in one run, in the same place.
    """
    count = len(characters.texts)
    unseen = np.zeros(count, bool)
    of_run = np.zeros(count, np.int64)
    for number, run in enumerate(characters.runs):
        unseen[run.start : run.end] = run.type.unseen
        of_run[run.start : run.end] = number
    places = np.round(characters.boxes[:, :2] / SAME_PLACE).astype(np.int64)
    codes = np.fromiter((ord(text[0]) for text in characters.texts), np.int64, count)
    order = np.lexsort((np.arange(count), unseen, places[:, 1], places[:, 0], codes))
    keys = np.column_stack([codes, places])[order]
    repeated = np.zeros(count, bool)
    repeated[order[1:]] = (keys[1:] == keys[:-1]).all(axis=1) & (of_run[order[1:]] != of_run[order[:-1]])
    return repeated


def _outside_forms(
    page: pdfium.PdfPage, text_page: pdfium_c.FPDF_TEXTPAGE, characters: Characters
) -> NDArray[np.bool_]:
    """(n,): whether a character belongs to a form and changes nothing where it stands; spaces are as the character before them."""
    outside = np.zeros(len(characters.texts), bool)
    forms = [
        (one, frozenset(_text_objects(one, DEEPEST)))
        for one in direct_objects(page.raw)
        if pdfium_c.FPDFPageObj_GetType(one) == pdfium_c.FPDF_PAGEOBJ_FORM
    ]
    inner = frozenset[int]().union(*(texts for _, texts in forms))
    if not inner:
        return outside
    asked = TextPage(text_page)
    runs = [run for run in characters.runs if asked.object_at(characters.places[run.start]) in inner]
    if not runs:
        return outside
    changed = _changed_by(page, [form for form, texts in forms if texts])
    for run in runs:
        last = False
        for n in range(run.start, run.end):
            if not characters.texts[n].isspace():
                x0, y0, x1, y1 = characters.boxes[n] * (LOOK_DPI / 72)
                place = changed[max(int(y0), 0) : int(y1) + 1, max(int(x0), 0) : int(x1) + 1]
                last = not place.any()
            outside[n] = last
    return outside


def _text_objects(form: pdfium_c.FPDF_PAGEOBJECT, depth: int) -> Iterator[int]:
    """Addresses of the text objects in a form, and in forms within it."""
    for handle in parts_of(form):
        kind = pdfium_c.FPDFPageObj_GetType(handle)
        if kind == pdfium_c.FPDF_PAGEOBJ_TEXT:
            yield ctypes.cast(handle, ctypes.c_void_p).value or 0
        elif kind == pdfium_c.FPDF_PAGEOBJ_FORM and depth:
            yield from _text_objects(handle, depth - 1)


def _changed_by(page: pdfium.PdfPage, forms: list[pdfium_c.FPDF_PAGEOBJECT]) -> NDArray[np.bool_]:
    """(height, width) at LOOK_DPI: where the page looks otherwise without the forms."""
    whole = drawn_grey(page)
    for form in forms:
        pdfium_c.FPDFPageObj_SetIsActive(form, False)
    without = drawn_grey(page)
    for form in forms:
        pdfium_c.FPDFPageObj_SetIsActive(form, True)
    return np.not_equal(whole, without)
