"""What only dirt and touching letters can have made of a formula on a scan."""

from __future__ import annotations

import pytest

from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model.equation import Accent, Identifier, Letterform, Row
from evenquill.core.reading.scanned.formulas.corrected_trees import corrected


@pytest.mark.parametrize(
    ("read", "meant"),
    [
        (r"x^{k\cdot}+1", "x^{k}+1"),
        (r"2^{\cdot}y", "2y"),
        (r"\sum_{n}^{\cdot m} n", r"\sum_{n}^{m} n"),
        (r"\frac{a^{k\cdot}}{b}", r"\frac{a^{k}}{b}"),
        (r"\sqrt{(a^{\cdot n})^2}", r"\sqrt{(a^{n})^2}"),
        (r"\begin{pmatrix}a^{n\cdot}&1\\0&1\end{pmatrix}", r"\begin{pmatrix}a^{n}&1\\0&1\end{pmatrix}"),
    ],
)
def test_a_raised_sign_that_multiplies_nothing_is_dirt(read, meant):
    assert tex(corrected(read_tex(read))) == tex(read_tex(meant))


@pytest.mark.parametrize(
    "kept", [r"a\cdot b", r"x^{a\cdot b}", r"\bar{x}_{\cdot j}", r"n_{i\cdot}", r"\dot{x}+\dot{m}"]
)
def test_signs_between_others_lowered_ones_and_dots_over_letters_stay(kept):
    assert corrected(read_tex(kept)) == read_tex(kept)


def test_an_index_whose_dot_is_lost_has_it_and_a_letter_of_the_line_stays_as_it_is():
    assert tex(corrected(read_tex(r"x_{\iota j}^{\iota}+\iota"))) == tex(read_tex(r"x_{ij}^{i}+\iota"))


@pytest.mark.parametrize(("letters", "name"), [("sm", "sin"), ("mm", "min"), ("arcsm", "arcsin")])
def test_a_name_whose_letters_touch_is_known_by_its_dot(letters, name):
    read = Accent(Row(tuple(Identifier(letter, Letterform.UPRIGHT) for letter in letters)), "˙")
    assert corrected(Row((read, Identifier("x")))) == Row((Identifier(name, Letterform.UPRIGHT), Identifier("x")))
