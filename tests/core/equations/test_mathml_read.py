"""MathML as it is pasted: what the product writes, what other programs write, and what is wrong with it."""

from __future__ import annotations

import pytest

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.mathml_reader import read_mathml
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.reader import read_equation
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex

FORMULAS = (
    r"h(t)=Z_0+\sum_{i=1}^{n}f_iH_i\cos(\omega_it+u_i-g_i)",
    r"\sigma=\sqrt{\frac{1}{N-m}\sum_{j=1}^{N}\left(h_j-\hat{h}_j\right)^2}",
    r"\begin{pmatrix}a & b \\ c & d\end{pmatrix}\begin{vmatrix}x \\ y\end{vmatrix}",
    r"s(t)=\begin{cases}+1 & \text{if }\eta>h \\ 0 & \text{otherwise}\end{cases}",
    r"\lim_{x\to0}\frac{\sin x}{x}=1",
    r"\int_{-\infty}^{t}e^{-(t-s)/\tau}\eta(s)\,ds",
    r"\underbrace{a+b}_{n}+\overline{AB}+\vec{v}",
    r"\binom{n}{k}\sqrt[3]{x+1}",
    r"\begin{aligned}f(x) & =ax+b \\  & =c\end{aligned}",
    r"\mathbf{C}^{T}\mathbb{R}\mathcal{L}\mathfrak{g}",
)


@pytest.mark.parametrize("formula", FORMULAS)
def test_mathml_that_is_written_reads_as_what_it_was_written_from(formula):
    tree = read_tex(formula)
    assert tex(read_equation(mathml(tree, display=True))) == tex(tree)


@pytest.mark.parametrize(
    ("pasted", "expected"),
    [
        # Prefixed, with what it means beside it, as programs for computing write it.
        ('<?xml version="1.0" encoding="utf-8"?><m:math xmlns:m="http://www.w3.org/1998/Math/MathML"><m:semantics><m:msup><m:mi>x</m:mi>'
         '<m:mn>2</m:mn></m:msup><m:annotation encoding="application/x-tex">x^2</m:annotation></m:semantics></m:math>', "x^{2}"),
        ('<math><mfenced open="[" close=")"><mn>0</mn><mi>&alpha;</mi></mfenced></math>', r"[0,\alpha)"),
        ("<math><mi>f</mi><mo>&ApplyFunction;</mo><mo>(</mo><mi>x</mi><mo>)</mo><mo>-</mo><mi mathvariant='bold'>v</mi></math>",
         r"f(x)-\mathbf{v}"),
        ("<math><mmultiscripts><mi>C</mi><mi>k</mi><none/><mprescripts/><mi>n</mi><none/></mmultiscripts></math>", "{}_{n}C_{k}"),
        ("<mrow><mi>a</mi><mspace width='2em'/><mtext>if</mtext><mi>sin</mi><mi>b</mi></mrow>", None),
        ("<math><mstyle displaystyle='true'><mover accent='true'><mi>x</mi><mo>&#x2192;</mo></mover></mstyle></math>", r"\vec{x}"),
    ],
)  # fmt: skip
def test_what_other_programs_write_is_read(pasted, expected):
    tree = read_equation(pasted)
    if expected is None:
        assert "\\sin" in tex(tree)
        assert "if" in tex(tree)
    else:
        assert tex(tree).replace(" ", "") == tex(read_tex(expected)).replace(" ", "")


@pytest.mark.parametrize(
    ("wrong", "at", "sentence"),
    [
        ("<math><mfrac><mi>a</mi></mfrac></math>", 6, "has to have 2 parts and has 1"),
        ("<math>\n<mi>x</mi>\n<video/></math>", 18, "no element of an equation"),
        ("<math><mi>x</math>", 18, "no complete MathML"),
        ("<math></math>", 0, "nothing to read"),
        ("<math>" + "<mrow><msqrt>" * 80 + "<mi>x</mi>" + "</msqrt></mrow>" * 80 + "</math>", 12, "deep"),
        ('<!DOCTYPE m [<!ENTITY e SYSTEM "file:///etc/hostname">]><math><mi>&e;</mi></math>', 54, "no complete MathML"),
    ],
)
def test_what_cannot_be_read_is_said_with_its_place(wrong, at, sentence):
    with pytest.raises(EquationProblem, match=sentence) as raised:
        read_mathml(wrong)
    assert abs(raised.value.at - at) <= 2
    assert "hostname" not in str(raised.value)
