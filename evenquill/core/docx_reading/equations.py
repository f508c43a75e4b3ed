"""Equations of DOCX (OMML, ISO/IEC 29500-1, 22.1) -> trees."""

from __future__ import annotations

import re

from evenquill.core.docx_reading.names import Element, M
from evenquill.core.equations.signs import COMBINING, FUNCTIONS, INTEGRALS, plain_letter
from evenquill.core.model.equation import (
    DEEPEST,
    Accent,
    Fence,
    Fraction,
    Gap,
    Grid,
    GridKind,
    Identifier,
    Letterform,
    Limits,
    Node,
    Number,
    Operator,
    Phrase,
    Root,
    Row,
    Scripts,
    problem_of,
    row_of,
)

_FORMS = {
    "script": Letterform.SCRIPT, "fraktur": Letterform.FRAKTUR, "double-struck": Letterform.DOUBLE_STRUCK,
    "sans-serif": Letterform.SANS_SERIF, "monospace": Letterform.MONOSPACE,
}  # fmt: skip
_STYLES = {
    "p": Letterform.UPRIGHT, "b": Letterform.BOLD, "i": Letterform.ITALIC, "bi": Letterform.BOLD_ITALIC,
}  # fmt: skip
_GAPS = {"\u2003": 1.0, "\u2002": 0.5, "\u2004": 0.33, "\u2005": 0.25}
_OVER = {sign: plain for plain, sign in COMBINING.items()}
_PIECES = re.compile(r"\d+(?:[.,]\d+)*|[^\W\d_]+|.", re.DOTALL)


def tree_of(math: Element) -> Node | None:
    """The tree of ``m:oMath``; None for one without content, or beyond what can be taken."""
    tree = _row(math, 0)
    return None if tree == Row() or problem_of(tree) else tree


def _row(parent: Element | None, depth: int) -> Node:
    """What stands side by side in an element."""
    if parent is None or depth > DEEPEST:
        return Row()
    parts: list[Node] = []
    for child in parent:
        if isinstance(child.tag, str):
            parts += _parts(child, depth)
    return row_of(parts)


def _parts(element: Element, depth: int) -> list[Node]:
    tag = str(element.tag).removeprefix(M)

    def argument(name: str) -> Node:
        return _row(element.find(f"{M}{name}"), depth + 1)

    def said(holder: str, name: str, usual: str) -> str:
        found = element.find(f"{M}{holder}/{M}{name}")
        return found.get(f"{M}val", "") if found is not None else usual

    def is_off(holder: str, name: str) -> bool:
        """Whether a place is hidden."""
        return said(holder, name, "0") in ("1", "on", "true", "")

    match tag:
        case "r":
            return _run(element)
        case "f":
            return [Fraction(argument("num"), argument("den"), said("fPr", "type", "bar") != "noBar")]
        case "rad":
            index = argument("deg")
            return [Root(argument("e"), None if is_off("radPr", "degHide") or index == Row() else index)]
        case "sSub":
            return [Scripts(argument("e"), sub=argument("sub"))]
        case "sSup":
            return [Scripts(argument("e"), sup=argument("sup"))]
        case "sSubSup":
            return [Scripts(argument("e"), argument("sub"), argument("sup"))]
        case "sPre":
            return [Scripts(Row(), argument("sub"), argument("sup")), argument("e")]
        case "nary":
            return _nary(element, depth)
        case "d":
            return [_fence(element, depth)]
        case "m":
            rows = tuple(
                tuple(_row(cell, depth + 1) for cell in row.iterfind(f"{M}e")) for row in element.iterfind(f"{M}mr")
            )
            return [Grid(rows)] if rows and all(rows) else []
        case "eqArr":
            lines = tuple(_aligned(line, depth) for line in element.iterfind(f"{M}e"))
            return [Grid(lines, GridKind.LINES)] if lines else []
        case "acc":
            sign = said("accPr", "chr", "\u0302")
            return [Accent(argument("e"), _OVER.get(sign, sign))]
        case "bar":
            return [Accent(argument("e"), "¯", below=said("barPr", "pos", "bot") == "bot")]
        case "groupChr":
            return [
                Accent(argument("e"), said("groupChrPr", "chr", "⏟"), below=said("groupChrPr", "pos", "bot") == "bot")
            ]
        case "limLow" | "limUpp":
            return [_limits(argument("e"), argument("lim"), over=tag == "limUpp")]
        case "func":
            return [argument("fName"), argument("e")]
        case _ if tag.endswith("Pr"):
            return []
        case _:
            inner = element.find(f"{M}e")
            return [_row(inner if inner is not None else element, depth + 1)]


def _limits(base: Node, limit: Node, *, over: bool) -> Node:
    if over and isinstance(base, Limits) and base.over is None:
        return Limits(base.base, base.under, limit)
    return Limits(base, over=limit) if over else Limits(base, under=limit)


def _nary(element: Element, depth: int) -> list[Node]:
    properties = element.find(f"{M}naryPr")

    def said(name: str, usual: str) -> str:
        found = properties.find(f"{M}{name}") if properties is not None else None
        return found.get(f"{M}val", "") if found is not None else usual

    sign = Operator(said("chr", "∫") or "∫")
    below, above = (
        None if said(hidden, "0") in ("1", "on", "true", "") else _row(element.find(f"{M}{name}"), depth + 1)
        for name, hidden in (("sub", "subHide"), ("sup", "supHide"))
    )
    below, above = (None if one == Row() else one for one in (below, above))
    beside = said("limLoc", "subSup" if sign.text in INTEGRALS else "undOvr") == "subSup"
    operator: Node = sign
    if below is not None or above is not None:
        operator = Scripts(sign, below, above) if beside else Limits(sign, below, above)
    return [operator, _row(element.find(f"{M}e"), depth + 1)]


def _fence(element: Element, depth: int) -> Node:
    properties = element.find(f"{M}dPr")

    def sign(name: str, usual: str) -> str:
        found = properties.find(f"{M}{name}") if properties is not None else None
        return found.get(f"{M}val", "") if found is not None else usual

    parts: list[Node] = []
    for n, inner in enumerate(element.iterfind(f"{M}e")):
        if n:
            parts.append(Operator(sign("sepChr", "|") or "|"))
        parts.append(_row(inner, depth + 1))
    return Fence(sign("begChr", "("), row_of(parts), sign("endChr", ")"))


def _aligned(line: Element, depth: int) -> tuple[Node, ...]:
    """The cells of a line of several: a new one begins at each place at which lines are aligned."""
    cells: list[list[Node]] = [[]]
    for child in line:
        if not isinstance(child.tag, str):
            continue
        if child.find(f"{M}rPr/{M}aln") is not None:
            cells.append([])
        cells[-1] += _parts(child, depth + 1)
    return tuple(row_of(cell) for cell in cells)


def _run(element: Element) -> list[Node]:
    text = "".join(one.text or "" for one in element.iterfind(f"{M}t"))
    properties = element.find(f"{M}rPr")

    def said(name: str) -> str | None:
        found = properties.find(f"{M}{name}") if properties is not None else None
        return found.get(f"{M}val", "1") if found is not None else None

    if said("nor") not in (None, "0", "off", "false"):
        return [Phrase(text)] if text else []
    style = said("sty")
    form = _FORMS.get(said("scr") or "") or (_STYLES.get(style) if style else None)
    parts: list[Node] = []
    for piece in _PIECES.findall(text):
        parts += _pieces(piece, form, style)
    return parts


def _pieces(piece: str, form: Letterform | None, style: str | None) -> list[Node]:
    if piece in _GAPS:
        return [Gap(_GAPS[piece])]
    if piece.isspace():
        return []
    if piece[0].isdecimal():
        return [Number(piece, form or Letterform.UPRIGHT)]
    if not piece.isalpha():
        return [Operator(piece.replace("-", "−"))]
    if (style in ("p", "i") and len(piece) > 1) or piece in FUNCTIONS:
        return [Identifier(piece, Letterform.ITALIC if style == "i" else Letterform.UPRIGHT)]
    out: list[Node] = []
    for letter in piece:
        plain, own = plain_letter(letter)
        out.append(Identifier(plain, form or own or Letterform.ITALIC))
    return out
