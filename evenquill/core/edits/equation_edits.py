"""Equations in edits: what is taken into a row, and rows that become displayed equations or cease to be."""

from __future__ import annotations

import re
from collections.abc import Iterable

from msgspec.structs import replace

from evenquill.core.equations.numbers import NUMBER
from evenquill.core.equations.tex_reader import TexProblem, read_tex
from evenquill.core.errors import EditError
from evenquill.core.model import Equation, Inline, Role, Text, TextBlock
from evenquill.core.model.equation import problem_of
from evenquill.core.model.inline import OBJECT, joined

_NUMBER_AT_END = re.compile(rf"\s*({NUMBER.pattern})\s*$")


def check_equations(content: Iterable[Inline]) -> None:
    """Raises EditError for an equation that is not sound."""
    for item in content:
        problem = problem_of(item.tree) if isinstance(item, Equation) else ""
        if problem:
            raise EditError(problem)


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
        tree = read_tex(text[: number.start()] if number is not None and number.start() else text)
    except TexProblem as problem:
        raise EditError(f"The row cannot be read as an equation. {problem}") from None
    return Equation(tree, display=True, number=number[1] if number is not None and number.start() else "")


def _within_line(item: Inline) -> tuple[Inline, ...]:
    """An equation as one within a line, its number as text behind it."""
    if not isinstance(item, Equation) or not item.display:
        return (item,)
    plain = replace(item, display=False, number="")
    return (plain, item.like(f" {item.number}")) if item.number else (plain,)
