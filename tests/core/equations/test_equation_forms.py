"""Equations in their forms: TeX read and written, OMML, MathML and typst by independent readers, words for those who listen."""

from __future__ import annotations

import pytest
import typst as compiler
from lxml import etree

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.speech import said
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.equations.typst import typst
from evenquill.core.model.equation import (
    Accent,
    Fence,
    Fraction,
    Grid,
    GridKind,
    Identifier,
    Letterform,
    Limits,
    Number,
    Operator,
    Root,
    Row,
    Scripts,
    problem_of,
    text_of,
)
from evenquill.core.writers.docx.omml import omml

FORMULAS = (
    r"h(t)=Z_0+\sum_{i=1}^{n}f_iH_i\cos(\omega_it+u_i-g_i)",
    r"\sigma=\sqrt{\frac{1}{N-m}\sum_{j=1}^{N}\left(h_j-\hat{h}_j\right)^2}",
    r"\begin{pmatrix}a & b \\ c & d\end{pmatrix}\begin{pmatrix}x \\ y\end{pmatrix}",
    r"s(t)=\begin{cases}+1 & \text{if }\eta>h \\ 0 & \text{otherwise}\end{cases}",
    r"\lim_{x\to0}\frac{\sin x}{x}=1",
    r"\int_{-\infty}^{t}e^{-(t-s)/\tau}\eta(s)\,ds",
    r"\underbrace{a+b}_{n}+\overline{AB}",
    r"\binom{n}{k}\sqrt[3]{x+1}",
    r"\begin{aligned}f(x) & =ax+b \\  & =c\end{aligned}",
    r"\mathbf{C}^{T}\mathbb{R}\mathcal{L}\mathfrak{g}",
    r"f''(x)\neq2.5",
)


@pytest.mark.parametrize("formula", FORMULAS)
def test_tex_that_is_written_reads_as_what_it_was_written_from(formula):
    tree = read_tex(formula)
    assert read_tex(tex(tree)) == tree
    assert problem_of(tree) == ""


@pytest.mark.parametrize("formula", FORMULAS)
def test_typst_sets_what_is_written_for_it(formula, tmp_path):
    source = tmp_path / "equation.typ"
    source.write_text(f"$ {typst(read_tex(formula))} $")
    assert compiler.compile(str(source)).startswith(b"%PDF")


def test_typst_sets_any_sign_wherever_it_stands_and_what_holds_nothing(tmp_path):
    blocks = ((0x21, 0x7F), (0xA1, 0x100), (0x2000, 0x2070), (0x2190, 0x2400), (0x27C0, 0x2B00))
    signs = [chr(code) for start, end in blocks for code in range(start, end)]
    letter, nothing = Identifier("a"), Row(())
    forms = [
        node
        for sign in map(Operator, signs)
        for node in (
            sign,
            Row((letter, sign, letter)),
            Fraction(Row((sign, letter)), Row((letter, sign))),
            Scripts(sign, sign, letter),
            Root(sign),
            Limits(sign, letter, sign),
            Fence(sign.text, letter, sign.text),
        )
    ]
    forms += [Root(nothing), Root(letter, nothing), Fraction(nothing, nothing), Fraction(nothing, nothing, bar=False)]
    forms += [
        Limits(nothing, letter, nothing),
        Scripts(nothing, letter, None),
        Accent(nothing, "^"),
        Accent(nothing, "¯"),
    ]
    source = tmp_path / "equations.typ"
    source.write_text("\n".join(f"$ {typst(node)} $" for node in forms))
    assert compiler.compile(str(source)).startswith(b"%PDF")


def test_tex_is_read_as_a_tree():
    assert read_tex(r"\frac{a}{2}") == Fraction(Identifier("a"), Number("2"))
    assert read_tex("x_1^2") == Scripts(Identifier("x"), Number("1"), Number("2"))
    assert read_tex(r"\sum_{i}^n") == Limits(Operator("∑"), Identifier("i"), Identifier("n"))
    assert read_tex(r"\int_0^1") == Scripts(Operator("∫"), Number("0"), Number("1"))
    assert read_tex(r"\sqrt[3]{x}") == Root(Identifier("x"), Number("3"))
    assert read_tex(r"\hat x") == Accent(Identifier("x"), "^")
    assert read_tex("12.75") == Number("12.75")
    assert read_tex("a-b") == Row((Identifier("a"), Operator("−"), Identifier("b")))
    assert read_tex("(x)") == Fence("(", Identifier("x"), ")")
    assert read_tex(r"\mathbf{x}") == Identifier("x", Letterform.BOLD)
    assert read_tex(r"\mathrm{rms}") == Identifier("rms", Letterform.UPRIGHT)
    assert read_tex("𝑥") == read_tex("x")
    lines = read_tex(r"\begin{align*}a&=b\\&=c\end{align*}")
    assert isinstance(lines, Grid)
    assert lines.kind is GridKind.LINES


@pytest.mark.parametrize("around", ["$x$", "$$ x $$", r"\(x\)", r"\[ x \]", " x "])
def test_signs_around_mathematics_are_left_out(around):
    assert read_tex(around) == Identifier("x")


@pytest.mark.parametrize(
    ("wrong", "at", "sentence"),
    [
        (r"a+\foo", 2, "not known"),
        (r"\frac{a}{b", 10, "not closed"),
        (r"\left(a", 7, "no \\right"),
        ("a}", 1, "too many"),
        (r"\begin{pmatrix}a", 16, "no \\end"),
        ("", 0, "nothing to read"),
        ("x_1_2", 3, "twice"),
        ("{" * 60 + "x" + "}" * 60, 40, "deep"),
    ],
)
def test_what_cannot_be_read_is_said_with_its_place(wrong, at, sentence):
    with pytest.raises(EquationProblem, match=sentence.replace("\\", "\\\\")) as raised:
        read_tex(wrong)
    assert raised.value.at == at


def test_trees_that_are_too_deep_or_have_nothing_in_them_are_refused():
    deep: Row | Scripts | Identifier = Identifier("x")
    for _ in range(60):
        deep = Scripts(deep, sup=Number("2"))
    assert "deep" in problem_of(deep)
    assert "no text" in problem_of(Operator(""))
    assert "no cells" in problem_of(Grid(()))
    assert problem_of(Row(tuple(Number("1") for _ in range(30_000)))).endswith("parts.")


def test_a_matrix_of_thirty_columns_is_read_and_written():
    rows = r" \\ ".join(" & ".join(f"a_{{{n}}}" for n in range(30)) for _ in range(30))
    tree = read_tex(rf"\begin{{bmatrix}}{rows}\end{{bmatrix}}")
    assert isinstance(tree, Fence)
    assert isinstance(tree.body, Grid)
    assert len(tree.body.rows[0]) == 30
    assert read_tex(tex(tree)) == tree


def test_mathml_is_of_presentation_elements_and_harmless():
    made = etree.fromstring(mathml(read_tex(r"\frac{a}{b}+\sum_{i=1}^n x_i"), display=True))
    assert made.get("display") == "block"
    assert {etree.QName(part).localname for part in made.iter()} >= {"mfrac", "munderover", "msub", "mo", "mi", "mn"}
    assert "&lt;script&gt;" in mathml(Identifier("<script>"), display=False)
    assert "𝐱" in mathml(Identifier("x", Letterform.BOLD), display=False)
    assert "ℝ" in mathml(Identifier("R", Letterform.DOUBLE_STRUCK), display=False)


def test_omml_has_operators_with_what_they_work_on():
    made = omml(read_tex(r"\sum_{i=1}^n x_i = \cos x"), display=True)
    space = {"m": "http://schemas.openxmlformats.org/officeDocument/2006/math"}
    assert made.tag.endswith("oMathPara")
    operand = made.xpath("//m:nary/m:e//m:t/text()", namespaces=space)
    assert "".join(operand) == "xi"  # up to the relation
    assert made.xpath("//m:func/m:fName//m:t/text()", namespaces=space) == ["cos"]


@pytest.mark.parametrize(
    ("language", "formula", "words"),
    [
        ("en", "x^2", "x squared"),
        ("en", r"\frac{a}{b}", "a over b"),
        ("en", r"\sum_{k=1}^N a_k", "the sum from k equals 1 to N of a sub k"),
        ("en", r"\sqrt{x+1}", "the square root of x plus 1"),
        ("de", r"\frac{a+1}{b}", "der Bruch a plus 1 durch b, Ende des Bruchs"),
        ("de", r"\int_0^1 x", "das Integral von 0 bis 1 über x"),
        ("fr", r"x\to0", "x tend vers 0"),
        ("pl", "a=b", "a equals b"),
    ],
)
def test_equations_are_said_in_words(language, formula, words):
    assert said(read_tex(formula), language) == words


def test_the_text_of_an_equation_is_its_characters():
    assert text_of(read_tex(r"\frac{a}{2}+x_1")) == "a2+x1"
