"""Formulas of native pages, set on the spot by typst: where they are, and what they are."""

from __future__ import annotations

import io

import pypdfium2 as pdfium
import pytest
import typst

from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import Equation, Role, TableBlock, TextBlock
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.native.math_faces import face_of, symbol_of
from evenquill.core.reading.native.page import read_page
from tests.conftest import text_blocks

PAGE = '#set page(width: 440pt, height: 620pt, margin: 40pt)\n#set text(font: "Libertinus Serif", size: 11pt)\n'
PROSE = "The keeper of the gauge writes the height of the water down at every full hour of the day and of the night."


def set_page(text: str) -> bytes:
    return typst.compile((PAGE + text).encode())


def equations_of(text: str):
    document = pdfium.PdfDocument(io.BytesIO(set_page(text)))
    page = read_page(document, 1, lambda *_: "")
    document.close()
    return page


def read(formula: str) -> str:
    """The only displayed formula of a page, as TeX."""
    (found,) = equations_of(f"{PROSE}\n$ {formula} $\n{PROSE}").equations
    assert found.display
    return tex(found.tree)


@pytest.mark.parametrize(
    ("source", "wanted"),
    [
        ("h(t) = Z_0 + sum_(i=1)^n f_i cos(omega t - g_i)", r"h(t)=Z_0+\sum_{i=1}^n f_i\cos(\omega t-g_i)"),
        ("sigma = sqrt(1/(N-m) sum_(j=1)^N (h_j - hat(h)_j)^2)", r"\sigma=\sqrt{\frac{1}{N-m}\sum_{j=1}^N(h_j-\hat{h}_j)^2}"),
        ("s = cases(+1 & \"if\" a > h, 0 & \"if\" a = h)", r"s=\begin{cases}+1 & \text{ if }a>h \\ 0 & \text{ if }a=h\end{cases}"),
        ("s = cases(1 & \"if\" x > 0, 0 & \"otherwise\")", r"s=\begin{cases}1 & \text{ if }x>0 \\ 0 & \text{otherwise}\end{cases}"),
        ("A = mat(a, b; c, d) vec(x, y)", r"A=\begin{pmatrix}a & b \\ c & d\end{pmatrix}\begin{pmatrix}x \\ y\end{pmatrix}"),
        ("lim_(x->0) (sin x)/x = 1", r"\lim_{x\to0}\frac{\sin x}{x}=1"),
        ("integral_0^oo e^(-x^2) dif x = sqrt(pi)/2", r"\int_0^{\infty}e^{-x^2}\mathrm{d}x=\frac{\sqrt{\pi}}{2}"),
        ("root(3, x + 1) = a/(1 + b/(1 + c))", r"\sqrt[3]{x+1}=\frac{a}{1+\frac{b}{1+c}}"),
        ("f(x) &= a x + b \\ &= c", r"\begin{aligned}f(x) & =ax+b \\  & =c\end{aligned}"),
        ("a = underbrace(1 + dots.c + 1, n)", r"a=\underbrace{1+\cdots+1}_{n}"),
        ("binom(n, k) != overline(A B)", r"\binom{n}{k}\neq\overline{AB}"),
        ("f'(x) = f''(0) + integral_a^b g dif x", r"f'(x)=f''(0)+\int_a^bg\mathrm{d}x"),
        ("x = 1/2 \"for all\" n in NN", r"x=\frac{1}{2}\text{ for all }n\in\mathbb{N}"),
        ("bold(v) = dot(x) + arrow(y) in RR", r"\boldsymbol{v}=\dot{x}+\vec{y}\in\mathbb{R}"),
    ],
)  # fmt: skip
def test_displayed_formulas_are_read_as_trees(source, wanted):
    assert read_tex(read(source)) == read_tex(wanted)


def test_formulas_within_lines_are_words_of_them_and_words_beside_them_are_not():
    page = equations_of(
        "Let $h(t)$ be the height at $t$, and $x_i^2 in RR$ for $m = 2 n + 1$ of them; the others stay where they are."
    )
    assert [tex(one.tree) for one in page.equations] == ["h(t)", "t", r"x_i^2\in\mathbb{R}", "m=2n+1"]
    assert not any(one.display for one in page.equations)
    text = " ".join(line.text for line in page.lines)
    assert text.startswith("Let \ufffc be the height at \ufffc, and \ufffc for \ufffc of them; the others")


def test_small_fractions_and_the_end_of_a_paragraph_are_within_their_lines():
    last = "so that the height at that hour, as it is written down in the book by the keeper, is at the end of the day"
    page = equations_of(f"{PROSE} {PROSE}\n\nHence, with $a = 1/2$ and $b = 3/4$ of it, {last} $h = a + b$.")
    assert [tex(one.tree) for one in page.equations] == [r"a=\frac{1}{2}", r"b=\frac{3}{4}", "h=a+b"]
    assert not any(one.display for one in page.equations)


def test_items_that_begin_with_a_word_are_text():
    page = equations_of(f"{PROSE}\n+ Method 6: $p(k) = k/(N + 1)$.\n+ Rule 7: $q = r$")
    assert [(tex(one.tree), one.display) for one in page.equations] == [(r"p(k)=\frac{k}{N+1}", False), ("q=r", False)]


def test_words_of_statements_in_slanted_letters_are_words():
    page = equations_of(
        f"{PROSE}\n\n#emph[Let $f$ be a map of a set, and $n > 2$ a number. Then there is a $c$ as in the book.]\n\n{PROSE}"
    )
    assert [tex(one.tree) for one in page.equations] == ["f", "n>2", "c"]


def test_cells_of_a_table_are_formulas_of_their_own():
    page = equations_of(f"{PROSE}\n#table(columns: 2, [$rho$], [$v_max$], [$x^2$], [12.5], [$y + z$], [3])\n{PROSE}")
    assert sorted(tex(one.tree) for one in page.equations) == [r"\rho", r"v_{\max}", "x^2", "y+z"]


def test_slanted_letters_of_the_text_are_quantities_where_there_are_signs_of_mathematics():
    text = "#let q(x) = emph(x)\nThe height #q[h] is the sum of #q[a] ≤ #q[b] and of #q[The Tide Bell] and #q[a word] by #q[t] ≥ 3."
    page = equations_of(f'#set text(font: "Libertinus Serif")\n#show math.equation: it => it\n{PROSE} $∑$\n\n{text}')
    found = [tex(one.tree) for one in page.equations]
    assert "h" in found
    assert r"a\leq b" in found or "a" in found
    assert not any("T" in one or "w" in one for one in found)


def test_numbers_of_equations_go_with_them():
    page = equations_of(
        '#set math.equation(numbering: "(1)")\n' + PROSE + "\n$ a = b $\n" + PROSE + "\n$ c = d/e $\n" + PROSE
    )
    assert [(tex(one.tree), one.number) for one in page.equations] == [("a=b", "(1)"), (r"c=\frac{d}{e}", "(2)")]


def test_bars_of_fractions_are_no_rules_of_the_page():
    page = equations_of(f"{PROSE}\n$ a = b/c $\n#line(length: 100%)\n{PROSE}")
    assert len(page.rules) == 1
    assert page.rules[0].box.width > 300


@pytest.mark.parametrize(
    "text",
    [
        "Tide 12.5 – 13.0 m, ±0.05 m, −3 °C, 5 × 3 m; 18.6 years. H#sub[2]O and m#super[2], note#super[1].",
        "#emph[The Tide Bell] and #emph[a b] of the keepers; #emph[x] is a letter on a page without formulas.",
        "`x = y + z` and `if a > b: c = d` are code; 03/12/1978; 12 + 3 = 15 boats; £ 4.50 each; 40% → 60%.",
        "#table(columns: 3, [−167.15], [55.10], [13.16], [−115.81], [−4.20], [90.83], [1.00], [±2.00], [−3.00])",
        "- one\n- two\n\nA·B and a • b and \\* and † and § 3.",
    ],
)  # fmt: skip
def test_text_with_signs_and_figures_is_no_formula(text):
    assert equations_of(f"{PROSE}\n\n{text}\n\n{PROSE}").equations == ()


def test_a_document_has_displayed_equations_as_rows_and_others_in_their_paragraphs(typeset, rebuilt):
    numbered = '#set math.equation(numbering: "(1)")\n'
    document = rebuilt(typeset(f"{numbered}{PROSE} It is $h(t)$ at $t$:\n$ h(t) = A/B $\n{PROSE}"))
    first, display, last = text_blocks(document)
    assert [tex(item.tree) for item in first.content if isinstance(item, Equation)] == ["h(t)", "t"]
    assert first.text.endswith("It is \ufffc at \ufffc:")
    assert display.role is Role.EQUATION
    (equation,) = display.content
    assert isinstance(equation, Equation)
    assert (tex(equation.tree), equation.display, equation.number) == (r"h(t)=\frac{A}{B}", True, "(1)")
    assert last.role is Role.PARAGRAPH
    assert display.spots[0].box.height > 20  # over the whole fraction


def test_an_equation_in_a_heading_or_a_cell_is_one_within_its_line(typeset, rebuilt):
    table = "#table(columns: 2, [Height], [$h = a/b$], [Range], [$r = 2 h$])"
    document = rebuilt(typeset(f"= The height $h(t)$\n{PROSE}\n\n{table}\n\n{PROSE}"))
    heading, _, cells, _ = document.blocks
    assert isinstance(heading, TextBlock)
    assert heading.role is Role.HEADING
    assert any(isinstance(item, Equation) for item in heading.content)
    assert isinstance(cells, TableBlock)
    found = [item for text in cells.texts for item in text.content if isinstance(item, Equation)]
    assert [(tex(one.tree), one.display) for one in found] == [(r"h=\frac{a}{b}", False), ("r=2h", False)]


def test_an_equation_broken_over_a_line_end_is_one(typeset, rebuilt):
    formula = " + ".join("abcdefgkmnpqruvw")
    (block,) = text_blocks(
        rebuilt(typeset(f"The height that follows from all of these readings together is $h = {formula}$ in feet."))
    )
    (equation,) = [item for item in block.content if isinstance(item, Equation)]
    assert tex(equation.tree) == f"h={formula.replace(' ', '')}"
    of_equation = [word for word in block.words if block.text[word.start : word.end] == "\ufffc"]
    assert len({word.box.y0 for word in of_equation}) == 2


@pytest.mark.parametrize(
    ("name", "code", "text", "form"),
    [
        ("CMMI10", "x", "x", Letterform.ITALIC),
        ("ABCDEF+CMMI10", "\x0b", "α", Letterform.ITALIC),
        ("CMSY10", "\x00", "−", Letterform.UPRIGHT),
        ("CMSY10", "L", "L", Letterform.SCRIPT),
        ("CMEX10", "X", "∑", Letterform.UPRIGHT),
        ("CMEX10", "\x12", "(", Letterform.UPRIGHT),
        ("CMEX10", "8", "⎧", Letterform.UPRIGHT),
        ("MSBM10", "R", "R", Letterform.DOUBLE_STRUCK),
        ("Symbol", "ϕ", "φ", Letterform.ITALIC),
        ("NewCMMath-Book", "𝑥", "x", Letterform.ITALIC),
        ("LatinModernMath", "\uf8eb", "⎛", Letterform.UPRIGHT),
    ],
)
def test_characters_of_typefaces_for_mathematics_have_their_meaning(name, code, text, form):
    symbol = symbol_of(code, face_of(name), name, bold=False, italic=False)
    assert (symbol.text, symbol.form) == (text, form)


def test_bullets_of_mathematical_typefaces_make_no_formula():
    assert not symbol_of("•", face_of("CMSY10"), "CMSY10", bold=False, italic=False).mathematical
    assert face_of("Times-Roman").kind == "text"


def test_a_ligature_that_is_read_as_two_letters_is_one_sign_of_the_text():
    symbol = symbol_of("fi", face_of("Libertinus Serif"), "Libertinus Serif", bold=False, italic=False)
    assert (symbol.text, symbol.mathematical) == ("fi", False)
