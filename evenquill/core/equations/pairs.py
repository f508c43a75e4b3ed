"""Fences that open and close put around what is between them, and what of that is high."""

from __future__ import annotations

from collections.abc import Callable, Sequence

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

Paired = Callable[[Node, Node, Node], None]
"""Is told what was put together: the opening sign, the closing one with what stands at it, and what they became."""


def with_pairs(nodes: Sequence[Node], paired: Paired | None = None) -> list[Node]:
    """The parts of a row with those between an opening and a closing sign as one; signs without a partner stay signs."""
    out: list[list[Node]] = [[]]
    opened: list[Operator] = []
    for node in nodes:
        base = node.base if isinstance(node, Scripts) else node
        if isinstance(node, Operator) and node.text in OPENING:
            opened.append(node)
            out.append([])
        elif isinstance(base, Operator) and base.text in CLOSING and opened:
            opening = opened.pop()
            fence: Node = Fence(opening.text, row_of(out.pop()), base.text)
            if paired is not None:
                paired(opening, base, fence)
            if isinstance(node, Scripts):
                fence = Scripts(fence, node.sub, node.sup)
                if paired is not None:
                    paired(opening, node, fence)
            out[-1].append(fence)
        else:
            out[-1].append(node)
    while opened:
        inside = out.pop()
        out[-1].extend([opened.pop(), *inside])
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
