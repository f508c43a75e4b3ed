"""Words are found by their looks on a real page, whatever was read of them."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects

from evenquill.core.model import Box, Document, Text, TextBlock, WordSpot
from evenquill.core.queries.look_alikes import (
    ALIKE,
    ALIKE_NUMBERS,
    SAME_PROPORTIONS,
    SHAPE_BYTES,
    LookAlikes,
    PageShapes,
    WordPlace,
    shapes_of,
    words_by_page,
)
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts

TEXT = "The well was pumped. Nobody pumped it before. When the pump was mended, we pumped the well and the wall again."


@pytest.fixture
def read_page(typeset, pictures):
    pixels = scan_effects.printed(scan_effects.drawn(typeset(TEXT), 1, 200), np.random.default_rng(4))
    evidence = read_scan(Scan(Raster(pixels, 200)), 1, pictures.keep)
    return rebuild([evidence], SourceFacts(media="application/pdf", pages=1, language="en")), pixels


def test_words_of_one_shape_are_found_whatever_they_say(read_page):
    document, pixels = read_page
    words = words_by_page(document)[1]
    shapes = shapes_of(pixels[..., 1], 200, [word.box for word in words])
    looks = LookAlikes(words, {1: shapes})
    first = next(word for word in words if word.text == "pumped.")
    again = next(word for word in words if word.text == "pumped")
    assert {word.text for word in looks.of(again.block, again.start)} == {"pumped"}
    assert len(looks.of(again.block, again.start)) == 1
    assert all(word.text != "pumped" for word in looks.of(first.block, first.start))
    well = next(word for word in words if word.text == "well")
    assert {word.text for word in looks.of(well.block, well.start)} <= {"well", "wall"}
    assert "well" in {word.text for word in looks.of(well.block, well.start)}


def test_changed_words_keep_their_shapes_and_words_without_a_picture_have_none():
    boxes = [Box(10, 10, 40, 20), Box(10, 30, 40, 40), Box(10, 50, 40, 60)]
    grey = np.full((80, 60), 255, np.uint8)
    for box in boxes:
        grey[int(box.y0) + 1 : int(box.y1) - 2, int(box.x0) + 3 : int(box.x0) + 6] = 20
        grey[int(box.y1) - 4 : int(box.y1) - 2, int(box.x0) + 3 : int(box.x1) - 4] = 20
    shapes = shapes_of(grey, 72, boxes[:2])
    words = tuple(WordSpot(6 * n, 6 * n + 5, 1, box, 0.5) for n, box in enumerate(boxes))
    document = Document(blocks=(TextBlock("a", content=(Text("float flout fleet"),), words=words),))
    looks = LookAlikes(words_by_page(document)[1], {1: shapes})
    assert [word.text for word in looks.of("a", 0)] == ["flout"]
    assert looks.of("a", 12) == []
    assert looks.of("b", 0) == []


def test_looking_at_a_few_rows_first_loses_no_word(read_page):
    """What is found is what a comparison of every word with every other finds."""
    document, pixels = read_page
    words = words_by_page(document)[1]
    looks = LookAlikes(words, {1: shapes_of(pixels[..., 1], 200, [word.box for word in words])})
    every = np.arange(len(looks.words))
    for own, word in enumerate(looks.words):
        likeness = looks._likeness(own, every)
        wide = np.array([other.box.width / max(other.box.height, 0.1) for other in looks.words])
        near = np.abs(np.log(wide / wide[own])) <= np.log(1 + SAME_PROPORTIONS)
        wanted = ALIKE_NUMBERS if any(c.isdigit() for c in word.text) else ALIKE
        expected = {n for n in every[near & (likeness >= wanted)] if n != own}
        assert {looks.words.index(one) for one in looks.of(word.block, word.start)} == expected


def test_a_word_between_two_tenths_of_a_point_keeps_its_shape():
    boxes = [Box(10.0, top, 60.0, top + 12) for top in (48.85, 48.86, 75.15, 106.85, 118.45, 131.05)]
    shapes = PageShapes(np.array(boxes, np.float32), np.full((len(boxes), SHAPE_BYTES), 255, np.uint8))
    words = [WordPlace("b", 10 * n, 10 * n + 5, 1, box, "float") for n, box in enumerate(boxes)]
    assert len(LookAlikes(words, {1: shapes}).of("b", 0)) == len(boxes) - 1
