"""Parts of the native reader by themselves: characters asked for in bulk, and how often garbage is looked for meanwhile."""

from __future__ import annotations

import ctypes
import gc

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c
import pytest

from evenquill.core.garbage_collection import SELDOM, USUAL, fewer_garbage_collections
from evenquill.core.reading.native.calls import TextPage


@pytest.fixture
def text_page(typeset):
    page = pdfium.PdfDocument(typeset("The tide was high.\n\nAt *noon* it fell: 2.31 m, 𝒜 and ﬁn."))[0]
    text_page = page.get_textpage()
    yield text_page
    text_page.close()
    page.close()


def test_codes_and_boxes_asked_in_bulk_are_those_asked_one_by_one(text_page):
    asked = TextPage(text_page.raw)
    assert asked.count == text_page.count_chars() > 40
    codes = [pdfium_c.FPDFText_GetUnicode(text_page.raw, i) for i in range(asked.count)]
    assert asked.codes().tolist() == codes
    box = pdfium_c.FS_RECTF()
    boxes = asked.boxes()
    for i in range(asked.count):
        pdfium_c.FPDFText_GetLooseCharBox(text_page.raw, i, ctypes.byref(box))
        assert boxes[i] == pytest.approx((box.left, box.top, box.right, box.bottom))
    assert np.all(boxes[:4, 2] > boxes[:4, 0])


def test_characters_know_their_object(text_page):
    asked = TextPage(text_page.raw)
    objects = [asked.object_at(i) for i in range(asked.count)]
    for i in range(asked.count):
        one = pdfium_c.FPDFText_GetTextObject(text_page.raw, i)
        assert objects[i] == (ctypes.cast(one, ctypes.c_void_p).value or 0)
    assert len({one for one in objects if one}) > 1


def test_a_page_without_text_has_no_characters():
    document = pdfium.PdfDocument.new()
    page = document.new_page(100, 100)
    empty = TextPage(page.get_textpage().raw)
    assert (empty.count, empty.codes().tolist(), empty.boxes().shape) == (0, [], (0, 4))


def test_garbage_is_looked_for_as_usual_again_afterwards_even_after_an_error():
    @fewer_garbage_collections()
    def failing():
        assert gc.get_threshold() == SELDOM
        raise ValueError("lost")

    with pytest.raises(ValueError, match="lost"):
        failing()
    assert gc.get_threshold() == USUAL


def test_a_mirrored_letter_of_a_logo_stands_in_its_line(typeset, read):
    source = "Set by X#h(-0.1em)#box(baseline: 0.2em, scale(x: -100%, box[E]))#h(-0.1em)LAT for the office."
    lines = read(typeset(source))[0].lines
    assert [line.text for line in lines] == ["Set by XELAT for the office."]
    assert lines[0].angle == 0
