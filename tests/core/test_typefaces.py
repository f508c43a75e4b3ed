"""Typefaces that stand for others: with letters as wide, where there is such a one."""

from __future__ import annotations

import io

import pikepdf
import pytest
from test_formats import text

from evenquill.core.model import Document, Family, ParagraphStyle
from evenquill.core.typefaces import StandIn, faces_for, stand_ins
from evenquill.core.writers.pdf import write_pdf


@pytest.mark.parametrize(
    ("name", "family", "stands"),
    [
        ("Times New Roman", Family.SERIF, "Liberation Serif"),
        ("NimbusRomNo9L-Regu", Family.SERIF, "Liberation Serif"),
        ("ArialMT", Family.SANS, "Liberation Sans"),
        ("Helvetica Neue", Family.SANS, "Liberation Sans"),
        ("CourierNewPSMT", Family.MONO, "Liberation Mono"),
        ("Calibri", Family.SANS, "Carlito"),
        ("Cambria", Family.SERIF, "Caladea"),
        ("Latin Modern Roman", Family.SERIF, "New Computer Modern"),
        ("Skerrin Grotesk", Family.SANS, "Liberation Sans"),
        ("", Family.SERIF, "Libertinus Serif"),
    ],
)
def test_the_nearest_stands_for_what_is_not_at_hand(name, family, stands):
    first, *others = faces_for(name, family)
    assert first == (name or stands)
    assert not name or others[0] == stands


def fonts_in(pdf: bytes) -> set[str]:
    with pikepdf.open(io.BytesIO(pdf)) as file:
        return {
            str(font.BaseFont).partition("+")[2].partition("-")[0]
            for page in file.pages
            for font in page.Resources.get("/Font", {}).values()
        }


def document(font: str, family: Family = Family.SERIF) -> Document:
    style = ParagraphStyle("Body text", font=font, family=family)
    return Document(styles=(style,), blocks=(text("p", "The float was found."),))


@pytest.mark.parametrize(
    ("font", "face"), [("Times New Roman", "LiberationSerif"), ("Calibri", "Carlito"), ("Cambria", "Caladea")]
)
def test_pages_are_set_in_it(font, face):
    assert fonts_in(write_pdf(document(font), lambda _: b"")) == {face}


def test_what_stands_for_what_is_listed_and_what_is_at_hand_is_not():
    at_hand = ["Liberation Serif", "libertinus serif"]
    assert stand_ins(document("Times New Roman"), at_hand) == (StandIn("Times New Roman", "Liberation Serif"),)
    assert stand_ins(document("Libertinus Serif"), at_hand) == ()
    assert stand_ins(document(""), at_hand) == ()
