"""Fonts in a fixed width whatever they are called."""

from __future__ import annotations

import pikepdf
import pytest

from evenquill.core.font_names import family_called
from evenquill.core.model import Family

SOURCE = """The keeper calls the program with the number of a gauge:

#text(font: "{}")[list tides at pier 4; omit all levels]"""


@pytest.mark.parametrize(
    ("font", "called", "family"),
    [
        ("DejaVu Sans Mono", "Note", Family.MONO),
        ("New Computer Modern", "Note", Family.SERIF),
        ("New Computer Modern", "Typewriter", Family.SERIF),
    ],
)
def test_a_font_whose_letters_are_all_of_one_width_is_one_in_a_fixed_width(typeset, read, font, called, family):
    path = typeset(SOURCE.format(font))
    with pikepdf.open(path, allow_overwriting_input=True) as pdf:
        for item in pdf.objects:
            if isinstance(item, pikepdf.Dictionary):
                for key in ("/BaseFont", "/FontName"):
                    if key in item:
                        item[key] = pikepdf.Name(
                            "/QAZWSX+Skerrin" + ("Text" if "Libertinus" in str(item[key]) else called)
                        )
                if "/Flags" in item:
                    item["/Flags"] = 4
        pdf.save(path)
    (page,) = read(path)
    assert [page.types[line.words[0].type].family for line in page.lines] == [Family.SERIF, family]


@pytest.mark.parametrize(
    ("name", "family"),
    [
        ("NimbusMonL-ReguObli", Family.MONO),
        ("t1xtt", Family.MONO),
        ("Hack-Bold", Family.MONO),
        ("NimbusSanL-Regu", Family.SANS),
        ("Shackleton", Family.SERIF),
    ],
)
def test_names_of_families(name, family):
    assert family_called(name) is family
