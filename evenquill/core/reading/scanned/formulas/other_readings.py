"""The tree of a formula from its signs, how likely it is right, and what else it may be."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform, Node, parts_of, problem_of
from evenquill.core.reading.formulas.parts import Part
from evenquill.core.reading.formulas.structure import tree_of
from evenquill.core.reading.scanned.formulas.corrected_trees import corrected
from evenquill.core.reading.scanned.formulas.dots_over import DOTS
from evenquill.core.reading.scanned.formulas.page_signs import PageSigns
from evenquill.core.reading.scanned.formulas.placing import Placed

DOUBTFUL, MOST_OTHERS = 0.98, 3
"""Likelihood of a symbol below which the formula may be another one, and such others that are kept, at most."""


class OtherTree(NamedTuple):
    """What a formula is if one of its symbols is what comes next for it, and the likelihood of that."""

    tree: Node
    share: float


class FormulaReading(NamedTuple):
    """The tree of a formula, how likely all of its symbols are right, and what else it may be, the likeliest first."""

    tree: Node
    sure: float
    others: tuple[OtherTree, ...]


def reading_of(
    tree: Node, parts: Sequence[Part], symbols: Sequence[Placed | None], bars: Sequence[Box], *, display: bool
) -> FormulaReading:
    """The reading of a formula that has a tree, by its parts and the symbol that was recognised for each, None for a letter of a word."""
    sure = np.exp(sum(np.log(max(one.share, 1e-4)) for one in symbols if one is not None))
    doubtful = [(n, one) for n, one in enumerate(symbols) if one is not None and one.share < DOUBTFUL]
    others: list[OtherTree] = []
    for n, one in sorted(doubtful, key=lambda pair: pair[1].share)[:MOST_OTHERS]:
        before, after = parts[:n], parts[n + 1 :]
        instead: list[Part] = []
        if one.is_a.text not in DOTS or len(parts) == 1:
            instead = [parts[n] if one.other is None else parts[n]._replace(text=one.other.text, form=one.other.form)]
        other = tree_of_signs([*before, *instead, *after], bars, display=display)
        if other != tree and not problem_of(other) and all(other != known.tree for known in others):
            others.append(OtherTree(other, 1 - one.share))
    return FormulaReading(tree, float(sure), tuple(sorted(others, key=lambda other: -other.share)))


def whole_formula(page: PageSigns) -> FormulaReading | None:
    """The signs of a picture that has nothing but a formula as that, None where there are none."""
    parts = [sign.part for sign in page.signs]
    tree = tree_of_signs(parts, page.bars, display=True) if parts else None
    if tree is None or problem_of(tree) or not parts_of(tree):
        return None
    return reading_of(tree, parts, page.symbols, page.bars, display=True)


def tree_of_signs(parts: Sequence[Part], bars: Sequence[Box], *, display: bool) -> Node:
    """The tree of a formula. In a displayed one slanted letters side by side are factors; in a line they may be a word."""
    return corrected(tree_of([_quantity(part) for part in parts] if display else parts, bars))


def _quantity(part: Part) -> Part:
    """A slanted letter as one that stands for a quantity."""
    return part._replace(words=False) if part.form is Letterform.ITALIC else part
