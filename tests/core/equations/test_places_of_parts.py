"""Where in the TeX that was typed each part of an equation stands, and how what is drawn says it."""

from __future__ import annotations

import pytest
from formulas.grammar import Grammar
from lxml import etree

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.reader import read_equation
from evenquill.core.equations.tex_reader import Places, read_tex
from evenquill.core.model.equation import Fence, Grid, every_node


def typed(text: str) -> list[tuple[str, str]]:
    """The parts of an equation as they are drawn, with the TeX that each was typed as."""
    places = Places()
    math = etree.fromstring(mathml(read_equation(text, places), display=True, places=places.get))
    found = []
    for part in math.iter():
        place = part.get("data-typed")
        if place is not None:
            start, end = map(int, place.split(":"))
            found.append((etree.QName(part).localname, text[start:end]))
    return found


@pytest.mark.parametrize(
    ("text", "part"),
    [
        (r"a + \frac{b}{c^2}", ("mfrac", r"\frac{b}{c^2}")),
        (r"a + \frac{b}{c^2} = 0", ("msup", "c^2")),
        ("12.5 m", ("mn", "12.5")),
        ("12^2 x", ("msup", "12^2")),
        (r"(y_j - z)^2 + 1", ("msup", "(y_j - z)^2")),
        (r"(y_j - z)^2 + 1", ("mrow", "(y_j - z)")),
        (r"$\left( a \right)$", ("mi", "a")),
        (r"\begin{pmatrix} a & b \\ c & d \end{pmatrix}", ("mi", "d")),
        (r"\sum_{j=1}^m y", ("mo", r"\sum")),
        (r"\mathrm{ab}\, c", ("mi", r"\mathrm{ab}")),
        ("f(x", ("mo", "(")),
    ],
)
def test_a_part_that_is_drawn_says_what_was_typed_for_it(text: str, part: tuple[str, str]):
    assert part in typed(text)


def test_what_was_pasted_as_mathml_has_no_places():
    assert typed("<math><mi>a</mi><mo>+</mo><mi>b</mi></math>") == []


def test_each_part_of_made_formulas_is_typed_as_what_it_is_alone():
    """What is marked when a part is pointed at must be whole: read alone, it is that part."""
    compared = 0
    for seed in range(60):
        text = Grammar(seed).display()
        places = Places()
        tree = read_tex(text, places)
        for node, _ in every_node(tree):
            place = places.get(node)
            if place is None:
                continue
            alone = read_tex(text[place[0] : place[1]])
            if isinstance(node, Grid) and isinstance(alone, Fence):  # one environment is both
                alone = alone.body
            assert alone == node, text[place[0] : place[1]]
            compared += 1
    assert compared > 500
