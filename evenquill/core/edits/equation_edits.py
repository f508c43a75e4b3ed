"""Equations in edits: what is taken into a row, and rows that become displayed equations or cease to be."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.equations.numbers import NUMBER
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.reader import read_equation
from evenquill.core.errors import EditError
from evenquill.core.model import Equation, Inline, Role, Text, TextBlock, WordSpot
from evenquill.core.model.equation import problem_of
from evenquill.core.model.inline import OBJECT, joined, plain

_NUMBER_AT_END = re.compile(rf"\s*({NUMBER.pattern})\s*$")


def check_equations(content: Iterable[Inline]) -> None:
    """Raises EditError for an equation that is not sound."""
    for item in content:
        problem = problem_of(item.tree) if isinstance(item, Equation) else ""
        if problem:
            raise EditError(problem)


def with_equations_changed(
    words: tuple[WordSpot, ...], before: Sequence[Inline], after: Sequence[Inline]
) -> tuple[WordSpot, ...]:
    """Word spots of a row whose content was ``before`` and is ``after``: equations that are others now are as the clerk made them.

    Where the text around them has changed, too, equations that have moved are none that have changed.
    """
    if plain(before) != plain(after):
        return words
    old = dict(_by_place(before))
    changed = {place for place, item in _by_place(after) if place in old and old[place].tree != item.tree}
    return tuple(word.changed(word.start, word.end) if word.start in changed else word for word in words)


def _by_place(content: Sequence[Inline]) -> Iterator[tuple[int, Equation]]:
    """The equations of a row, each with its place in the row's text."""
    place = 0
    for item in content:
        if isinstance(item, Equation):
            yield place, item
        place += len(plain((item,)))


def content_for(role: Role, block: TextBlock) -> tuple[Inline, ...]:
    """The content of a row that is given a role: a displayed equation where it becomes one, one within the line where it was one.

    Raises EditError for a text that cannot be read as an equation.
    """
    if role is Role.EQUATION:
        return (_displayed(block),)
    if block.role is not Role.EQUATION:
        return block.content
    return joined(part for item in block.content for part in _within_line(item))


def _displayed(block: TextBlock) -> Equation:
    equations = [item for item in block.content if isinstance(item, Equation)]
    text = "".join(item.text for item in block.content if isinstance(item, Text)).replace(OBJECT, "").strip()
    if len(equations) == 1 and (not text or _NUMBER_AT_END.fullmatch(text)):
        return replace(equations[0], display=True, number=text or equations[0].number)
    if equations:
        raise EditError("A displayed equation has its row for itself: split the row before and after it first.")
    number = _NUMBER_AT_END.search(text)
    try:
        tree = read_equation(text[: number.start()] if number is not None and number.start() else text)
    except EquationProblem as problem:
        raise EditError(f"The row cannot be read as an equation. {problem}") from None
    return Equation(tree, display=True, number=number[1] if number is not None and number.start() else "")


def _within_line(item: Inline) -> tuple[Inline, ...]:
    """An equation as one within a line, its number as text behind it."""
    if not isinstance(item, Equation) or not item.display:
        return (item,)
    plain = replace(item, display=False, number="")
    return (plain, item.like(f" {item.number}")) if item.number else (plain,)
