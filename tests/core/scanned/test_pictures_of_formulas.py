"""Pictures of single formulas, as a clerk draws a rectangle around them: from one letter to a matrix."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects

from evenquill.core.equations.tex import tex
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.page import formula_of_scan
from evenquill.core.reading.scanned.raster import Raster

DPI = 240


def picture_of(typeset, formula: str, *, dpi: int = DPI) -> Raster:
    source = f'#set page(width: 120mm, height: 40mm, margin: 8mm)\n#set text(font: "New Computer Modern", size: 11pt)\n$ {formula} $'
    random = np.random.default_rng(4)
    pixels = scan_effects.printed(scan_effects.drawn(typeset(source), 1, dpi), random)
    return Raster(scan_effects.scanned(pixels, random, blur=0.7, noise=4, specks=0), dpi)


def read(raster: Raster, size: float = 11.0) -> str:
    found = formula_of_scan(raster, Preparation(languages=("eng",)), size)
    return tex(found.tree) if found is not None else ""


@pytest.mark.parametrize(
    ("formula", "expected"),
    [
        ("x+1", "x+1"),
        ("a - b", "a-b"),
        ("2 x = 6", "2x=6"),
        ("x^2", "x^2"),
        ("x_i", "x_i"),
        ("x_i^2", "x_i^2"),
        ("x_(i+1)", "x_{i+1}"),
        ("e^(-t)", "e^{-t}"),
        ("a/b", r"\frac{a}{b}"),
        ("(a+b)/(c-d)", r"\frac{a+b}{c-d}"),
        ("1/(1+x)", r"\frac{1}{1+x}"),
        ("sqrt(x)", r"\sqrt{x}"),
        ("sqrt(a^2+b^2)", r"\sqrt{a^2+b^2}"),
        ("root(3, x)", r"\sqrt[3]{x}"),
        ("sum_(k=1)^n a_k", r"\sum\limits_{k=1}^na_k"),
        ("product_(i=1)^n x_i", r"\prod\limits_{i=1}^nx_i"),
        ("integral_0^1 f(x) dif x", r"\int_0^1f(x)\mathrm{d}x"),
        ("integral_(-oo)^oo e^(-x^2) dif x", r"\int_{-\infty}^{\infty}e^{-x^2}\mathrm{d}x"),
        ("lim_(x -> 0) f(x)", r"\lim_{x\to0}f(x)"),
        ("sin x + cos y", r"\sin x+\cos y"),
        ("log n", r"\log n"),
        ("max(a, b)", r"\max(a,b)"),
        ("alpha + beta", r"\alpha+\beta"),
        ("lambda_1 <= lambda_2", r"\lambda_1\leq\lambda_2"),
        ("Omega", r"\Omega"),
        ("Delta x", r"\Delta x"),
        ("theta != phi", r"\theta\neq\varphi"),
        ("x in RR", r"x\in\mathbb{R}"),
        ("A subset B", r"A\subset B"),
        ("A union B", r"A\cup B"),
        ("A times B", r"A\times B"),
        ("a dot b", r"a\cdot b"),
        ("plus.minus 3", r"\pm3"),
        ("x >= 0", r"x\geq0"),
        ("x approx y", r"x\approx y"),
        ("n -> oo", r"n\to\infty"),
        ("nabla f", r"\nabla f"),
        ("(partial u)/(partial t)", r"\frac{\partial u}{\partial t}"),
        ("hat(x)", r"\hat{x}"),
        ("overline(x)", r"\bar{x}"),
        ("arrow(v)", r"\vec{v}"),
        ("dot(x)", r"\dot{x}"),
        ("tilde(a)", r"\tilde{a}"),
        ("abs(x)", "|x|"),
        ("(x, y)", "(x,y)"),
        ("[a, b]", "[a,b]"),
        ("{1, 2, 3}", r"\{1,2,3\}"),
        ("floor(x)", r"\lfloor x\rfloor"),
        ("mat(a, b; c, d)", r"\begin{pmatrix}a & b \\ c & d\end{pmatrix}"),
        ("mat(1, 0, 0; 0, 1, 0; 0, 0, 1)", r"\begin{pmatrix}1 & 0 & 0 \\ 0 & 1 & 0 \\ 0 & 0 & 1\end{pmatrix}"),
        ("vec(x, y)", r"\begin{pmatrix}x \\ y\end{pmatrix}"),
        ('cases(1 &"if" x > 0, 0 &"if" x < 0)', r"\begin{cases}1 & \text{ if }x>0 \\ 0 & \text{ if }x<0\end{cases}"),
        ("binom(n, k)", r"\binom{n}{k}"),
        ("f'(x)", "f'(x)"),
        ("x''", "x''"),
        ("3.14", "3.14"),
        ("1000", "1000"),
        ("i + j", "i+j"),
        ("a = b = c", "a=b=c"),
        ("x < y", "x<y"),
        ("forall x", r"\forall x"),
        ("(1 + 1/n)^n", r"\left(1+\frac{1}{n}\right)^n"),
        ("sqrt(1/2)", r"\sqrt{\frac{1}{2}}"),
        ("a_1, a_2", "a_1,a_2"),
        ("p(x|y)", "p(x|y)"),
        ("k!", "k!"),
        # A hat close above its letter does not make another letter of it, and figures make no name.
        ("hat(n) + 1", r"\hat{n}+1"),
        ("Q < 19.19", "Q<19.19"),
        # Signs of scripts hold each other in place; a line over a letter of a script is shorter than any minus.
        ("F_(j+1)^2 + P tau", r"F_{j+1}^2+P\tau"),
        ("2 overline(u) = cos Z", r"2\bar{u}=\cos Z"),
        ("(4 R + (A^n overline(u))/2)/(w + 1)", r"\frac{4R+\frac{A^n\bar{u}}{2}}{w+1}"),
        ("f(t) = sin gamma_z", r"f(t)=\sin\gamma_z"),
        # Letters that touch, and overlap.
        ("2 + delta #h(-0.14em) m", r"2+\delta m"),
        ("2 + Y #h(-0.3em) n", "2+Yn"),
        ("2 + v #h(-0.1em)^k", "2+v^k"),
    ],
)
def test_formulas_are_read_symbol_by_symbol(typeset, formula, expected):
    assert read(picture_of(typeset, formula)) == expected


def test_the_size_of_the_text_need_not_be_known(typeset):
    assert read(picture_of(typeset, "tau = A / a sqrt(L / (2 g))"), 0.0) == r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}"


@pytest.mark.parametrize("dpi", [150, 300])
def test_resolutions_differ(typeset, dpi):
    assert read(picture_of(typeset, "y = x^2 + 3 x", dpi=dpi)) == "y=x^2+3x"


def test_an_empty_picture_has_no_formula():
    assert read(Raster(np.full((120, 200, 3), 245, np.uint8), DPI)) == ""


def test_what_else_a_formula_may_be_is_told_with_its_likelihood(typeset):
    found = formula_of_scan(picture_of(typeset, "v = nu + x", dpi=150), Preparation(languages=("eng",)), 11.0)
    assert found is not None
    assert 0 < found.sure <= 1
    assert list(found.others) == sorted(found.others, key=lambda other: -other.share)
    assert all(0 < other.share < 1 and other.tree != found.tree for other in found.others)
