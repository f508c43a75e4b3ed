"""Formulas of scanned pages: found in lines and displayed, read symbol by symbol, and none where there are none."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import scan_effects

from evenquill.core.equations.tex import tex
from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.model.inline import OBJECT
from evenquill.core.reading.scanned.formulas.names import with_names
from evenquill.core.reading.scanned.formulas.placing import placed
from evenquill.core.reading.scanned.formulas.seen_symbols import Seen
from evenquill.core.reading.scanned.formulas.symbols import card, likelihoods
from evenquill.core.reading.scanned.formulas.tall_fences import tall_fence

SHEET = """
#set text(font: "New Computer Modern", size: 11pt)
#set par(justify: true)
#set math.equation(numbering: "(1)")
The level $w$ in the well follows the level $h$ of the sea. With the area $A$ of the well its time constant is

$ tau = A / a sqrt(L / (2 g)) $

where $L$ is the length of the pipe. For the mean of $n$ readings the office writes

$ m = 1/n sum_(j=1)^n y_j $

and a sheet is put aside where $s > 0.05$ and the keeper cannot say why. The pen is set by

$ s = cases(+1 &"if" w > h, -1 &"if" w < h) $

and the two gauges are compared by

$ mat(y_1; y_2) = mat(a, b; c, d) mat(x_1; x_2) $

before the height is sent to the board, rounded to the nearest centimetre.
"""
PLAIN = """
#set text(font: "Libertinus Serif", size: 10pt)
= Orders of the office
On 3.4.1978 the office ordered 14 reels of chart paper at 2.50 a reel, and paid 35.00 on 12.4.1978 (order 91-0362). The reels measure
210 mm by 12 m; a keeper uses 1/2 reel a week, i.e. 26 in a year.
#table(columns: 4, [No.], [Item], [Pieces], [Sum], [1], [Chart paper], [14], [35.00],
  [2], [Ink, black], [3], [4.20], [3], [Pens], [12], [6.60])
- Invoices A, B and C are paid; _D_ is not.
- The float weighs 3 kg; H#sub[2]O is kept out by a lid.
+ Read the gauge at 6 a.m. and 6 p.m. (see §4).
+ Send the sheet on Monday.
"""


def scanned(paper, source: str, dpi: int) -> scan_effects.Pixels:
    random = np.random.default_rng(5)
    return scan_effects.scanned(paper(source, dpi=dpi, paper="a4"), random, blur=0.8, noise=4, specks=60)


@pytest.mark.parametrize("dpi", [200, 300])
def test_formulas_are_found_and_read(paper, read_paper, dpi):
    page = read_paper(scanned(paper, SHEET, dpi), dpi=dpi)
    displayed = [(tex(one.tree), one.number) for one in page.equations if one.display]
    assert displayed[:2] == [
        (r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}", "(1)"),
        (r"m=\frac{1}{n}\sum\limits_{j=1}^ny_j", "(2)"),
    ]
    assert displayed[3][0].count("begin{pmatrix}") == 3
    within = [tex(one.tree) for one in page.equations if not one.display]
    assert set(within) >= {"w", "h", "A", "L", "n", "s>0.05"}
    assert all(0 < one.confidence <= 1 for one in page.equations)
    texts = [line.text for line in page.lines]
    assert any(f"The level {OBJECT} in the well follows the level {OBJECT} of the sea" in text for text in texts)
    assert any(text.startswith("before the height is sent") for text in texts)
    assert not page.pictures


@pytest.mark.parametrize("dpi", [150, 200])
def test_pages_of_an_office_have_no_formulas(paper, read_paper, dpi):
    page = read_paper(scanned(paper, PLAIN, dpi), dpi=dpi)
    assert page.equations == ()
    assert any("paid 35.00" in line.text for line in page.lines)


CROWDED = """
#set text(font: "New Computer Modern", size: 11pt)
The keeper of the gauge writes down what the office asks for, and puts the sheet into the box at the end of the week.

$ tau = (L/(2 g))(a/(b + c)) $

The value $w_1$ is taken where $f #h(0.35em) (t)$ holds for every reading of the gauge in a month, and the keeper writes it down.
"""


def test_scripts_stay_in_their_line_and_fractions_side_by_side_are_two(paper, read_paper):
    page = read_paper(scanned(paper, CROWDED, 300), dpi=300)
    assert [tex(one.tree) for one in page.equations] == [
        r"\tau=\left(\frac{L}{2g}\right)\left(\frac{a}{b+c}\right)",
        "w_1",
        "f(t)",
    ]


def drawn(points: list[tuple[float, float]]) -> np.ndarray:
    """A stroke through points in a box of one by one, 15 pixels wide and 100 high, cut to its ink."""
    picture = np.zeros((110, 40), np.uint8)
    line = np.array([(5 + 20 * x, 5 + 100 * y) for x, y in points], np.int32)
    cv2.polylines(picture, [line], False, 1, 3)
    rows, columns = np.nonzero(picture)
    return picture[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]


ARC = [(1 - np.sin(np.pi * n / 20), n / 20) for n in range(21)]
BRACE = [
    (1, 0),
    (0.6, 0.04),
    (0.5, 0.1),
    (0.5, 0.42),
    (0.4, 0.47),
    (0, 0.5),
    (0.4, 0.53),
    (0.5, 0.58),
    (0.5, 0.9),
    (0.6, 0.96),
    (1, 1),
]


@pytest.mark.parametrize(
    ("fence", "points"),
    [
        ("(", ARC),
        (")", [(1 - x, y) for x, y in ARC]),
        ("{", BRACE),
        ("}", [(1 - x, y) for x, y in BRACE]),
        ("[", [(1, 0), (0, 0), (0, 1), (1, 1)]),
        ("[", [(0.5, 0), (0, 0), (0, 1), (0.5, 1)]),
        ("]", [(0, 0), (1, 0), (1, 1), (0, 1)]),
        ("|", [(0, 0), (0, 1)]),
        ("⟨", [(1, 0), (0, 0.5), (1, 1)]),
        ("", [(1, 0), (0.5, 0.1), (0.5, 0.9), (0, 1)]),
    ],
)
def test_tall_fences_are_told_by_their_outline(fence, points):
    assert tall_fence(drawn(points), 20) == fence
    assert tall_fence(drawn(points), 60) == ""


def seen(box: Box, **shares: float) -> Seen:
    """A symbol that may be several: likelihoods by the name of a letter and its form."""
    out = np.full(len(card().classes), 1e-4, np.float32)
    for name, share in shares.items():
        letter, form = name[0], {"u": Letterform.UPRIGHT, "i": Letterform.ITALIC}[name[1]]
        out[next(n for n, one in enumerate(card().classes) if (one.text, one.form) == (letter, form))] = share
    return Seen((), box, out)


def test_small_and_capital_letters_are_told_by_their_size_and_place():
    em = 40.0
    beside = [seen(Box(x, 12, x + 20, 40), Hi=0.9) for x in (0, 25)]
    large = seen(Box(50, 12, 72, 41), ci=0.5, Ci=0.5)
    small = seen(Box(50, 22, 68, 41), ci=0.5, Ci=0.5)
    raised = seen(Box(50, 4, 66, 25), ci=0.5, Ci=0.5)
    assert placed([*beside, large], em)[-1].is_a.text == "C"
    assert placed([*beside, small], em)[-1].is_a.text == "c"
    script = placed([*beside, raised], em)[-1]
    assert (script.is_a.text, script.size < em) == ("C", True)


def test_letters_of_a_name_that_look_like_figures_are_its_letters():
    boxes = [Box(0, 12, 5, 40), Box(8, 12, 13, 40), Box(16, 22, 40, 40)]
    symbols = [seen(boxes[0], **{"1u": 0.6, "lu": 0.3}), seen(boxes[1], iu=0.9), seen(boxes[2], mu=0.9)]
    assert [one.is_a.text for one in with_names(placed(symbols, 40.0))] == ["l", "i", "m"]


def test_the_two_parts_of_a_broken_letter_of_a_name_are_that_letter():
    boxes = [Box(0, 22, 18, 40), Box(20, 22, 26, 40), Box(28, 22, 42, 40), Box(44, 22, 60, 40)]
    symbols = [
        seen(boxes[0], nu=0.9),
        seen(boxes[1], **{"lu": 0.5, "1u": 0.4}),
        seen(boxes[2], au=0.9),
        seen(boxes[3], xu=0.9),
    ]
    found = with_names(placed(symbols, 40.0))
    assert [one.is_a.text for one in found] == ["m", "a", "x"]
    assert found[0].seen.box == Box(0, 22, 26, 40)


def test_symbols_are_recognised_in_any_number_at_once():
    picture = np.zeros((28, 24), np.float32)
    cv2.line(picture, (0, 13), (23, 13), 1.0, 3)
    cv2.line(picture, (12, 2), (12, 25), 1.0, 3)
    for count in (1, 3, 0):
        found = likelihoods([picture] * count)
        assert found.shape == (count, len(card().classes))
        assert all(card().classes[int(one.argmax())].text == "+" for one in found)


def test_a_page_full_of_dirt_has_no_formulas(read_paper):
    random = np.random.default_rng(3)
    page = np.full((400, 300, 3), 245, np.uint8)
    for x, y in zip(random.integers(10, 290, 900), random.integers(10, 390, 900), strict=True):
        cv2.circle(page, (int(x), int(y)), int(random.integers(1, 4)), (30, 30, 30), -1)
    assert read_paper(page, dpi=72).equations == ()
