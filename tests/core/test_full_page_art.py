"""Covers: art over the whole page is one picture, and its words are text."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from PIL import Image

from tests.conftest import picture_blocks, texts

COVER = """#set page(width: 300pt, height: 420pt, margin: 0pt)
#place(rect(width: 300pt, height: 420pt, fill: rgb("#e7b98c")))
#place(dx: 40pt, dy: 180pt, circle(radius: 80pt, fill: rgb("#3f6d66")))
#place(dx: 20pt, dy: 260pt, polygon(fill: rgb("#1d4a45"), (0pt, 0pt), (260pt, 30pt), (240pt, 140pt), (10pt, 120pt)))
#place(dx: 30pt, dy: 40pt, text(size: 30pt, weight: "bold", fill: rgb("#3a2418"))[Harbour yearbook])
#place(dx: 90pt, dy: 330pt, text(size: 15pt, fill: rgb("#f7efdc"))[Skerrin 1979])
"""
INSIDE = "#pagebreak()\n#set page(margin: 40pt)\nThe float was found hard against the guide wire."


def test_the_art_of_a_cover_is_one_picture_without_its_words_which_are_text(typeset, rebuilt, pictures):
    document = rebuilt(typeset(COVER + INSIDE))
    (art,) = picture_blocks(document)
    assert (art.width, art.height) == (300, 420)
    assert texts(document) == ["Harbour yearbook", "Skerrin 1979", "The float was found hard against the guide wire."]
    colors = {document.resolved_styles[block.style].color for block in document.blocks if block is not art}
    assert "f7efdc" not in colors


@pytest.mark.parametrize("in_form", [False, True])
def test_the_words_are_not_drawn_with_it(typeset, read, pictures, tmp_path, in_form):
    source = typeset(COVER + INSIDE)
    if in_form:
        *art, first, second = COVER.strip().splitlines()
        words = typeset("\n".join((art[0], first, second)), "words")
        source = laid_over(typeset("\n".join(art), "art"), words, tmp_path / "form.pdf")
    page = read(source)[0]
    (art,) = page.pictures
    look = np.asarray(Image.open(io.BytesIO(pictures.get(art.picture))).convert("RGB")).astype(int)
    scale = look.shape[1] / 300
    title = look[int(42 * scale) : int(72 * scale), int(30 * scale) : int(200 * scale)]
    assert np.abs(title - (0xE7, 0xB9, 0x8C)).max() < 12


def laid_over(art: Path, words: Path, target: Path) -> Path:
    """The art with a page of words laid over it as a form."""
    with pikepdf.open(art) as file, pikepdf.open(words) as other:
        file.pages[0].add_overlay(other.pages[0])
        file.save(target)
    return target


def test_a_drawing_on_white_paper_stays_one_with_its_words(typeset, read):
    chart = COVER.replace('#place(rect(width: 300pt, height: 420pt, fill: rgb("#e7b98c")))\n', "")
    (page, _) = read(typeset(chart + INSIDE))
    assert max(picture.box.height for picture in page.pictures) < 300


def test_a_text_on_a_coloured_ground_is_no_art(typeset, read):
    prose = "The float was found hard against the guide wire, and the trace for the two days is lost to all. " * 4
    (page, _) = read(typeset(COVER + f"#place(dx: 20pt, dy: 100pt, box(width: 250pt)[{prose}])" + INSIDE))
    assert all(picture.box.height < 400 for picture in page.pictures)
