"""Trees of formulas on scans without what only dirt and touching letters can have made of them."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.equations.signs import FUNCTIONS
from evenquill.core.model.equation import (
    Accent,
    Fence,
    Fraction,
    Grid,
    Identifier,
    Letterform,
    Limits,
    Node,
    Operator,
    Phrase,
    Root,
    Row,
    Scripts,
    parts_of,
    row_of,
)

DOTS = frozenset("·⋅")
"""Signs of multiplication that a speck looks like."""

DOT = "˙"

DOTLESS = Identifier("ι", Letterform.ITALIC)

RUN_TOGETHER = {name.replace("in", "m"): name for name in FUNCTIONS if "in" in name}
"""Names of functions as they are read where ``in`` is one piece of ink: the dot of the ``i`` stands over an ``m``."""


def corrected(tree: Node) -> Node:
    """The tree without raised multiplication signs that multiply nothing, with names of functions whose letters touch, and with the dot of
    an ``i`` that was lost in a script. Lowered signs stay: sums over an index are written so."""
    match tree:
        case Row(parts):
            return row_of([corrected(part) for part in parts])
        case Scripts(base, sub, sup):
            base, sub, sup = corrected(base), _with_dots(_corrected(sub)), _with_dots(_raised(sup))
            return Scripts(base, sub, sup) if sub is not None or sup is not None else base
        case Limits(base, under, over):
            base, under, over = corrected(base), _corrected(under), _raised(over)
            return Limits(base, under, over) if under is not None or over is not None else base
        case Accent(base, sign):
            name = RUN_TOGETHER.get(_letters(base)) if sign == DOT else None
            return Identifier(name, Letterform.UPRIGHT) if name else replace(tree, base=corrected(base))
        case Fraction(above, below):
            return replace(tree, above=corrected(above), below=corrected(below))
        case Root(body, index):
            return Root(corrected(body), _corrected(index))
        case Fence(_, body):
            return replace(tree, body=corrected(body))
        case Grid(rows):
            return replace(tree, rows=tuple(tuple(corrected(cell) for cell in row) for row in rows))
        case _:
            return tree


def _corrected(part: Node | None) -> Node | None:
    return None if part is None else corrected(part)


def _with_dots(script: Node | None) -> Node | None:
    """A script with the letter ``i`` where a dotless one stands in it, which is next to no index."""
    if script is None:
        return None
    parts = [replace(part, text="i") if part == DOTLESS else part for part in parts_of(script)]
    return row_of(parts)


def _raised(script: Node | None) -> Node | None:
    """A raised script without dots at its ends, None where nothing else is in it."""
    parts = list(parts_of(script)) if script is not None else []
    while parts and _is_dot(parts[-1]):
        parts.pop()
    while parts and _is_dot(parts[0]):
        parts.pop(0)
    return corrected(row_of(parts)) if parts else None


def _is_dot(node: Node) -> bool:
    return isinstance(node, Operator) and node.text in DOTS


def _letters(node: Node) -> str:
    """The letters of a name; nothing for what is more than that."""
    parts = [part for part in parts_of(node) if isinstance(part, Identifier | Phrase)]
    return "".join(part.text for part in parts).strip() if len(parts) == len(parts_of(node)) else ""
