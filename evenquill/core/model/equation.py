"""The tree of an equation, after the presentation elements of MathML Core (W3C, 2025): what stands where, not what it means.

A tree is checked by ``problem_of`` before it is taken into a document.
"""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

import msgspec

DEEPEST = 40
"""Levels of a tree; hand-set mathematics seldom goes beyond ten."""

LARGEST = 20_000
"""Nodes of a tree: a matrix of 30 columns and 30 rows has some thousand."""

WIDEST = 200.0
"""Ems of a space; a page is some 40 wide."""


class Letterform(StrEnum):
    """How letters are drawn; in mathematics it is part of what they mean. ITALIC is usual for single letters, UPRIGHT for names."""

    UPRIGHT = "upright"
    ITALIC = "italic"
    BOLD = "bold"
    BOLD_ITALIC = "bold_italic"
    SCRIPT = "script"
    FRAKTUR = "fraktur"
    DOUBLE_STRUCK = "double_struck"
    SANS_SERIF = "sans_serif"
    MONOSPACE = "monospace"


class GridKind(StrEnum):
    """MATRIX has columns of their own, LINES are lines of one formula, aligned where its columns part."""

    MATRIX = "matrix"
    LINES = "lines"


class Row(msgspec.Struct, frozen=True, tag="row"):
    """Parts side by side."""

    parts: tuple[Node, ...] = ()


class Identifier(msgspec.Struct, frozen=True, omit_defaults=True, tag="identifier"):
    """A letter that stands for a quantity, or the name of a function."""

    text: str
    form: Letterform = Letterform.ITALIC


class Number(msgspec.Struct, frozen=True, omit_defaults=True, tag="number"):
    text: str
    form: Letterform = Letterform.UPRIGHT


class Operator(msgspec.Struct, frozen=True, tag="operator"):
    """A sign: of an operation, a relation, a fence by itself, a comma."""

    text: str


class Phrase(msgspec.Struct, frozen=True, tag="phrase"):
    """Words of the language within an equation, with their spaces."""

    text: str


class Gap(msgspec.Struct, frozen=True, tag="gap"):
    """A wide space, in ems."""

    width: float


class Fraction(msgspec.Struct, frozen=True, omit_defaults=True, tag="fraction"):
    """``bar`` is False for what stands above other things without a line, as binomials do."""

    above: Node
    below: Node
    bar: bool = True


class Root(msgspec.Struct, frozen=True, omit_defaults=True, tag="root"):
    body: Node
    index: Node | None = None


class Scripts(msgspec.Struct, frozen=True, omit_defaults=True, tag="scripts"):
    """What stands lowered and raised behind ``base``."""

    base: Node
    sub: Node | None = None
    sup: Node | None = None


class Limits(msgspec.Struct, frozen=True, omit_defaults=True, tag="limits"):
    """What stands below and above ``base``: bounds of sums, words over arrows, over and under braces."""

    base: Node
    under: Node | None = None
    over: Node | None = None


class Accent(msgspec.Struct, frozen=True, omit_defaults=True, tag="accent"):
    """A sign over ``base``, or ``below`` it: hat, bar, arrow, dot, brace. ``sign`` is a character that stands for itself, not combining."""

    base: Node
    sign: str
    below: bool = False


class Fence(msgspec.Struct, frozen=True, omit_defaults=True, tag="fence"):
    """A pair of signs around ``body``, as high as that; nothing for one that is not printed."""

    opening: str
    body: Node
    closing: str


class Grid(msgspec.Struct, frozen=True, omit_defaults=True, tag="grid"):
    """Rows of cells."""

    rows: tuple[tuple[Node, ...], ...]
    kind: GridKind = GridKind.MATRIX


Node = (
    Row | Identifier | Number | Operator | Phrase | Gap | Fraction | Root | Scripts | Limits | Accent | Fence | Grid
)  # fmt: skip


def row_of(parts: list[Node] | tuple[Node, ...]) -> Node:
    """Parts as one node: the only one itself, otherwise a row without rows in it."""
    flat: list[Node] = []
    for part in parts:
        flat.extend(part.parts if isinstance(part, Row) else (part,))
    return flat[0] if len(flat) == 1 else Row(tuple(flat))


def parts_of(node: Node) -> tuple[Node, ...]:
    """What stands side by side in a node: the parts of a row, or the node itself."""
    return node.parts if isinstance(node, Row) else (node,)


def children_of(node: Node) -> tuple[Node, ...]:
    """The nodes right below one, in the order in which they are read."""
    match node:
        case Row(parts):
            return parts
        case Fraction(above, below):
            return (above, below)
        case Root(body, index):
            return (body,) if index is None else (index, body)
        case Scripts(base, sub, sup):
            return tuple(part for part in (base, sub, sup) if part is not None)
        case Limits(base, under, over):
            return tuple(part for part in (base, under, over) if part is not None)
        case Accent(base) | Fence(body=base):
            return (base,)
        case Grid(rows):
            return tuple(cell for cells in rows for cell in cells)
        case _:
            return ()


def every_node(node: Node) -> Iterator[tuple[Node, int]]:
    """A node and all below it, each with how deep it is, from 1."""
    waiting = [(node, 1)]
    while waiting:
        current, depth = waiting.pop()
        yield current, depth
        waiting.extend((child, depth + 1) for child in reversed(children_of(current)))


def problem_of(node: Node) -> str:
    """What is wrong with a tree, in a sentence for the clerk; nothing if it is sound."""
    for count, (current, depth) in enumerate(every_node(node), 1):
        if depth > DEEPEST:
            return f"The equation has parts within parts more than {DEEPEST} deep."
        if count > LARGEST:
            return f"The equation has more than {LARGEST:,} parts."
        if isinstance(current, Identifier | Number | Operator | Phrase) and not current.text:
            return "A part of the equation has no text."
        if isinstance(current, Gap) and not -WIDEST <= current.width <= WIDEST:
            return f"A space of the equation is wider than {WIDEST:g} letters."
        if isinstance(current, Grid) and not (current.rows and all(current.rows)):
            return "A grid of the equation has no cells."
    return ""


def text_of(node: Node) -> str:
    """The characters of an equation in order, without what says how they stand: for finding it by its text."""
    texts = (part.text for part, _ in every_node(node) if isinstance(part, Identifier | Number | Operator | Phrase))
    return "".join(texts)
