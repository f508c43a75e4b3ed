"""What may be a formula on a scanned page, and how likely it is one: weighed by a fitted model, not by limits one after the other.

What is read in dirt, in handwriting and in letters of another script looks like symbols too; what tells a formula is how sure they are, how
they hang together, how well the page and the line around them were read as text, and whether the page has others.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cache
from typing import NamedTuple

import msgspec
import numpy as np
from numpy.typing import NDArray

from evenquill.core.equations.signs import NARY, RELATIONS
from evenquill.core.model.equation import (
    Accent,
    Fraction,
    Grid,
    Letterform,
    Limits,
    Node,
    Operator,
    Root,
    Scripts,
    every_node,
    parts_of,
    problem_of,
)
from evenquill.core.reading.formulas.finding import Formula, formulas_among
from evenquill.core.reading.formulas.quantities import with_quantities
from evenquill.core.reading.formulas.segments import Sign
from evenquill.core.reading.formulas.within_lines import is_telling
from evenquill.core.reading.scanned.formulas.other_readings import tree_of_signs
from evenquill.core.reading.scanned.formulas.page_signs import PageSigns
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import FITTED
from evenquill.core.reading.scanned.words import ReadLine

MEASURED = (
    "mean", "least", "symbols", "relation", "structure", "display", "single", "upright", "page_sure", "line_sure", "others", "read",
    "small_page",
)  # fmt: skip
FEATURES = (*MEASURED, "alone", "strange")
"""What is weighed, in this order; ``_measured`` says what is measured. The last two follow from that: one symbol on a page that has no
strong formula besides; and how far the share of surely read letters of the page is below READABLE."""

READABLE = 0.45
"""Share of surely read letters below which a page is in a script or a hand that is not read; pages of formulas have more."""

STRONG = 0.8
"""Mean likelihood of symbols from which a formula that has a relation or a structure tells that the page has formulas."""

DASHES = frozenset("-–−")
"""Signs between which a number, such as a page's, is no formula."""


class Candidate(NamedTuple):
    """What may be a formula: its signs, its tree, and what is measured of it (measured,)."""

    formula: Formula
    tree: Node
    measured: NDArray[np.float64]


class Weights(msgspec.Struct, frozen=True):
    """A fitted logistic regression: the mean and the spread of each feature, its weight, and the constant; and what it was fitted on."""

    means: list[float]
    spreads: list[float]
    weights: list[float]
    constant: float
    data: str


@cache
def weights() -> Weights:
    """The model that ships, fitted by ``bench/formulas``."""
    return msgspec.json.decode((FITTED / "formulas.json").read_bytes(), type=Weights)


def likelihood(measured: NDArray[np.float64]) -> float:
    """How likely a candidate is a formula (0 to 1), by what was measured of it."""
    fitted = weights()
    scaled = (with_derived(measured) - np.array(fitted.means)) / np.array(fitted.spreads)
    return float(1 / (1 + np.exp(-(scaled @ np.array(fitted.weights) + fitted.constant))))


def with_derived(measured: NDArray[np.float64]) -> NDArray[np.float64]:
    """What was measured of a candidate (measured,), with what follows from it (features,)."""
    by_name = dict(zip(MEASURED, measured, strict=True))
    alone = by_name["single"] * (by_name["others"] == 0)
    return np.array([*measured, alone, max(0.0, READABLE - by_name["page_sure"])], np.float64)


def candidates_among(page: PageSigns, lines: Sequence[ReadLine]) -> list[Candidate]:
    """What may be formulas among the signs of a page, of which ``lines`` were read."""
    signs = with_quantities(page.signs)
    found: list[tuple[Formula, Node, list[Placed]]] = []
    for formula in formulas_among(signs, page.bars):
        tree = tree_of_signs([signs[n].part for n in formula.signs], formula.bars, display=formula.display)
        symbols = [one for n in formula.signs if (one := page.symbols[n]) is not None]
        if symbols and not problem_of(tree) and _says_something(formula, signs, tree):
            found.append((formula, tree, symbols))
    strong = [_is_strong(tree, symbols) for _, tree, symbols in found]
    page_sure = _share_sure(range(len(lines)), page, lines)
    letters = sum(len(word.symbols) for line in lines for word in line.words)
    return [
        Candidate(
            formula, tree, _measured(formula, tree, symbols, page, lines, page_sure, sum(strong) - strong[n], letters)
        )
        for n, (formula, tree, symbols) in enumerate(found)
    ]


def _says_something(formula: Formula, signs: Sequence[Sign], tree: Node) -> bool:
    """Whether there is a quantity, a large operator, a root or a power: a number with its sign before it, or between dashes, is none."""
    if any(is_telling(signs[n]) for n in formula.signs):
        return True
    return any(
        isinstance(node, Fraction) or (isinstance(node, Scripts) and parts_of(node.base) and not _is_beside_dash(node))
        for node, _ in every_node(tree)
    )


def _is_beside_dash(node: Scripts) -> bool:
    """Whether what is raised or lowered is a dash and nothing else."""
    scripts = [part for script in (node.sub, node.sup) if script is not None for part in parts_of(script)]
    return all(isinstance(part, Operator) and part.text in DASHES for part in scripts)


def _mean(symbols: Sequence[Placed]) -> float:
    """The geometric mean of the likelihoods of symbols."""
    return float(np.exp(np.mean([np.log(max(one.likelihood, 1e-4)) for one in symbols])))


def _has_structure(tree: Node) -> bool:
    return any(isinstance(node, Scripts | Limits | Fraction | Root | Accent | Grid) for node, _ in every_node(tree))


def _has_relation(symbols: Sequence[Placed]) -> bool:
    return any(one.is_a.text in RELATIONS or one.is_a.text in NARY for one in symbols)


def _is_strong(tree: Node, symbols: Sequence[Placed]) -> bool:
    return len(symbols) >= 3 and _mean(symbols) > STRONG and (_has_structure(tree) or _has_relation(symbols))


def _measured(
    formula: Formula, tree: Node, symbols: Sequence[Placed], page: PageSigns, lines: Sequence[ReadLine], page_sure: float, strong: int,
    letters: int,
) -> NDArray[np.float64]:  # fmt: skip
    """Logarithms of the mean and of the least likelihood of its symbols; how many there are; whether it has a relation, a structure, its
    lines for itself, one symbol only; the share of upright and bold letters; the share of the page's and of its lines' letters that are
    in words read surely; how many strong formulas the page has besides; how surely the same ink was read as words; how few letters the
    page has."""
    own = _lines_beside(formula, page)
    logs = [np.log(max(one.likelihood, 1e-4)) for one in symbols]
    plain = sum(one.is_a.text.isalpha() and one.is_a.form in (Letterform.UPRIGHT, Letterform.BOLD) for one in symbols)
    return np.array([
        float(np.mean(logs)),
        float(min(logs)),
        np.log(len(symbols)),
        _has_relation(symbols),
        _has_structure(tree),
        formula.display,
        len(symbols) == 1,
        plain / len(symbols),
        page_sure,
        _share_sure(own, page, lines) if own else page_sure,
        np.log1p(strong),
        _read_as_words(symbols, lines),
        1 / (1 + letters / 200),
    ], np.float64)  # fmt: skip


def _lines_beside(formula: Formula, page: PageSigns) -> set[int]:
    """The lines, by their places, that have letters of text on the baseline of a formula."""
    return {
        letter[0]
        for sign, letter in zip(page.signs, page.letters, strict=True)
        if letter is not None and abs(sign.part.baseline - formula.baseline) < 0.4 * formula.size
    }


def _share_sure(places: Iterable[int], page: PageSigns, lines: Sequence[ReadLine]) -> float:
    """The share of the letters of lines that are in words read surely."""
    own = [(lines[n], page.sure[n]) for n in places]
    sure = sum(len(line.words[k].symbols) for line, words in own for k in words)
    every = sum(len(word.symbols) for line, _ in own for word in line.words)
    return sure / every if every else 0.0


def _read_as_words(symbols: Sequence[Placed], lines: Sequence[ReadLine]) -> float:
    """The mean confidence of the words that were read in the ink of symbols, 0 where none were."""
    pieces = {piece for one in symbols for piece in one.seen.pieces}
    low, high = min(one.seen.box.x0 for one in symbols), max(one.seen.box.x1 for one in symbols)
    found = [
        word.confidence
        for line in lines
        if line.words and pieces.intersection(map(int, line.line.pieces))
        for word in line.words
        if low - 1 < (word.x0 + word.x1) / 2 < high + 1
    ]
    return float(np.mean(found)) if found else 0.0
