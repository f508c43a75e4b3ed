"""Fences that open and close put around what is between them, and what of that is high."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.signs import CLOSING, NARY, OPENING, OPERATIONS, RELATIONS
from evenquill.core.model.equation import (
    Fence,
    Fraction,
    Grid,
    Limits,
    Node,
    Operator,
    Root,
    Scripts,
    every_node,
    parts_of,
    row_of,
)


def with_pairs(nodes: Sequence[Node]) -> list[Node]:
    """The parts of a row with those between an opening and a closing sign as one; signs without a partner stay signs."""
    out: list[list[Node]] = [[]]
    opened: list[str] = []
    for node in nodes:
        base = node.base if isinstance(node, Scripts) else node
        sign = base.text if isinstance(base, Operator) else ""
        if sign in OPENING and base is node:
            opened.append(sign)
            out.append([])
        elif sign in CLOSING and opened:
            inside = out.pop()
            fence = Fence(opened.pop(), row_of(inside), sign)
            out[-1].append(Scripts(fence, node.sub, node.sup) if isinstance(node, Scripts) else fence)
        else:
            out[-1].append(node)
    while opened:
        inside = out.pop()
        out[-1].extend([Operator(opened.pop()), *inside])
    return out[0]


def is_broken(before: Node, after: Node) -> bool:
    """Whether two equations are the halves of one that is broken over a line end: lines break at relations and operations."""
    ends = (parts_of(before)[-1:], parts_of(after)[:1])
    return any(isinstance(part, Operator) and part.text in RELATIONS | OPERATIONS for end in ends for part in end)


def is_high(node: Node) -> bool:
    """Whether something in a node is higher than a line of letters, so that fences around it grow."""
    return any(
        isinstance(part, Fraction | Grid | Root | Limits) or (isinstance(part, Operator) and part.text in NARY)
        for part, _ in every_node(node)
    )
