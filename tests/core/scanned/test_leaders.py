"""Rows of dots that lead from a text to its figure: known when their dots run into each other, and told from dashed and dotted rules."""

from __future__ import annotations

import numpy as np
import pytest

from evenquill.core.model import Box
from evenquill.core.reading.scanned.leaders import Leaders, leaders_of

UNIT = 150 / 72
BASE = 100
LETTER = (20, BASE - 17, 30, BASE)
OVER = [(x, BASE - 30, x + 10, BASE - 7) for x in range(34, 300, 12)]
"""Letters that stand on a dotted rule."""

Run = tuple[int, int]


SWOLLEN = [(0, BASE - 10, 9, BASE), *((12 * n + 14, BASE - (5 if n == 4 else 4), 12 * n + 18, BASE) for n in range(20))]


def found(runs: list[Run], letters: list[tuple[int, int, int, int]], rules: list[Box] = []) -> Leaders:  # noqa: B006
    boxes = [*letters, *((x0, BASE - 4, x1, BASE) for x0, x1 in runs)]
    return leaders_of(np.array(boxes, np.int32), rules, UNIT)


def dots(count: int, wide: int = 4, step: int = 9) -> list[Run]:
    return [(34 + n * step, 34 + n * step + wide) for n in range(count)]


RUN_TOGETHER = [(34, 38), (39, 54), (55, 70), (71, 76), (77, 108), (109, 119), (120, 135), (136, 151)]


@pytest.mark.parametrize("runs", [dots(12), RUN_TOGETHER])
def test_dots_beside_a_letter_on_its_baseline_lead(runs):
    leaders = found(runs, [LETTER])
    assert [row.tolist() for row in leaders.rows] == [list(range(1, len(runs) + 1))]
    assert leaders.among(len(runs) + 1).tolist() == [False, *[True] * len(runs)]


def test_a_dot_that_is_swollen_is_one_too():
    leaders = leaders_of(np.array(SWOLLEN, np.int32), [], UNIT)
    assert [len(row) for row in leaders.rows] == [20]


def test_a_rule_that_goes_on_in_dots_is_dots_that_ran_together():
    rule, other = Box(152, BASE - 3.5, 300, BASE - 0.5), Box(152, BASE + 60, 300, BASE + 62)
    leaders = found(RUN_TOGETHER, [LETTER], [other, rule])
    assert leaders.rules == {1}
    assert len(leaders.rows) == 1


@pytest.mark.parametrize(
    ("runs", "letters"),
    [
        (dots(12), []),
        (dots(12), [(20, BASE - 40, 30, BASE - 23)]),
        (dots(12), [LETTER, *OVER]),
        (dots(12, wide=8, step=14), [LETTER]),
        (dots(4), [LETTER]),
        ([(34, 38), (43, 47), (70, 74), (76, 80), (101, 105), (122, 126)], [LETTER]),
    ],
    ids=["beside nothing", "below a line", "under letters", "dashes", "the end of a sentence", "uneven specks"],
)
def test_what_only_looks_like_it_does_not(runs, letters):
    assert found(runs, letters).rows == []


def test_on_a_coarse_scan_no_dot_becomes_a_letter(paper, read_paper):
    entries = [("Pens for the drum", "4.10"), ("Oil", "12.35"), ("A brush with a long handle", "598.20")]
    source = "\n\n".join(
        f"#block(width: 100%)[{name} #box(width: 1fr, repeat[#h(-0.3pt).#h(-0.3pt)]) {price}]"
        for name, price in entries
    )
    page = read_paper(paper(source, dpi=150), dpi=150)
    said = [
        [line.text for line in page.lines if abs(line.baseline - y) < 4]
        for y in sorted({round(line.baseline) for line in page.lines})
    ]
    words = " ".join(text for row in said for text in row)
    for name, price in entries:
        assert name in words
        assert price in words
    assert not set(words) - set("".join(name + price for name, price in entries)) - set(" .")
