"""Equations in the markup of typst, which sets pages from it."""

from __future__ import annotations

import re
import unicodedata

from evenquill.core.equations.signs import FUNCTIONS, NARY
from evenquill.core.model.equation import (
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
)

_FORMS = {
    Letterform.UPRIGHT: "upright",
    Letterform.ITALIC: "italic",
    Letterform.BOLD: "bold",
    Letterform.BOLD_ITALIC: "bold",
    Letterform.SCRIPT: "cal",
    Letterform.FRAKTUR: "frak",
    Letterform.DOUBLE_STRUCK: "bb",
    Letterform.SANS_SERIF: "sans",
    Letterform.MONOSPACE: "mono",
}
_ACCENTS = {
    "^": "hat", "~": "tilde", "¯": "macron", "˙": "dot", "¨": "dot.double", "→": "arrow", "ˇ": "caron", "˘": "breve", "´": "acute",
    "`": "grave", "˚": "circle",
}  # fmt: skip


_FIGURES = re.compile(r"\d+(?:[.,]\d+)*")

_ESCAPED = frozenset("#$_^&/\\\"'~*`,;()[]{}|√∛∜⌜⌝⌞⌟⎰⎱")
"""Signs that mean something else in the markup where they stand by themselves."""

_BRACKETS = frozenset({"Ps", "Pe"})
"""Categories of Unicode: what opens, and what closes."""


def typst(node: Node) -> str:
    """The equation as typst has it between dollar signs."""
    match node:
        case Row(parts):
            return " ".join(filter(None, map(typst, parts)))
        case Identifier(text, form):
            return _letters(text, form)
        case Number(text, form):
            plain = form is Letterform.UPRIGHT and _FIGURES.fullmatch(text)
            return text if plain else f"{_FORMS[form]}({_string(text)})"
        case Operator(text):
            return _sign(text)
        case Phrase(text):
            return _string(text)
        case Gap(width):
            return f"#h({width:g}em)"
        case Fraction(above, below, bar):
            return (
                f"frac({_argument(above)}, {_argument(below)})"
                if bar
                else f"mat(delim: #none, {_argument(above)}; {_argument(below)})"
            )
        case Root(body, index):
            return f"sqrt({_argument(body)})" if index is None else f"root({_argument(index)}, {_argument(body)})"
        case Scripts(base, sub, sup):
            return _attached(f"scripts({_argument(base)})" if _is_large(base) else _argument(base), sub, sup)
        case Limits(base, under, over):
            return _attached(f"limits({_argument(base)})", under, over)
        case Accent(base, sign, below):
            if sign in "⏞⏟":
                return f"{'underbrace' if below else 'overbrace'}({_argument(base)})"
            if sign == "¯" and (below or not isinstance(base, Identifier)):
                return f"{'underline' if below else 'overline'}({_argument(base)})"
            return f"{_ACCENTS.get(sign, 'hat')}({_argument(base)})"
        case Fence(opening, body, closing):
            if isinstance(body, Fraction) and not body.bar and (opening, closing) == ("(", ")"):
                return f"binom({_argument(body.above)}, {_argument(body.below)})"
            return f"lr({_sign(opening)} {typst(body)} {_sign(closing)})" if opening or closing else typst(body)
        case Grid(rows, kind):
            if kind is GridKind.LINES:
                return " \\ ".join(" & ".join(map(typst, cells)) for cells in rows)
            return (
                "mat(delim: #none, " + "; ".join(", ".join(_argument(cell) for cell in cells) for cells in rows) + ")"
            )
    return ""


def _argument(node: Node) -> str:
    """What a function is given; one of nothing is given an empty text."""
    return typst(node) or '""'


def _is_large(node: Node) -> bool:
    return isinstance(node, Operator) and node.text in NARY


def _letters(text: str, form: Letterform) -> str:
    if form is Letterform.UPRIGHT and text in FUNCTIONS:
        return f"op({_string(text)})"
    if form is Letterform.ITALIC and len(text) == 1 and text.isalpha() and not text.isascii():
        return text
    return f"{_FORMS[form]}({_string(text)})"


def _string(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace('"', '\\"')
    return f'"{escaped}"'


def _attached(base: str, sub: Node | None, sup: Node | None) -> str:
    out = base
    if sub is not None:
        out += f"_({typst(sub)})"
    if sup is not None:
        out += f"^({typst(sup)})"
    return out


def _sign(sign: str) -> str:
    """An operator or a fence, nothing for none; brackets that nothing closes, and roots of nothing, would be errors."""
    if len(sign) > 1 or sign.isalpha() or sign.isspace():
        return _string(sign)
    return f"\\{sign}" if sign and (sign in _ESCAPED or unicodedata.category(sign) in _BRACKETS) else sign
