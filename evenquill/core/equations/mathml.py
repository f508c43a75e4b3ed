"""Equations as MathML Core (W3C, 2025)."""

from __future__ import annotations

from collections.abc import Callable

from lxml import etree

from evenquill.core.equations.pairs import is_high
from evenquill.core.equations.signs import NARY, WITH_LIMITS
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

APPLIED = "\u2061"
"""Stands unseen between a function and what it is of."""

NAMESPACE = "http://www.w3.org/1998/Math/MathML"

_UPPER, _LOWER, _DIGIT, _GREEK_UPPER, _GREEK_LOWER = 0, 1, 2, 3, 4
_BLOCKS = {
    Letterform.BOLD: (0x1D400, 0x1D41A, 0x1D7CE, 0x1D6A8, 0x1D6C2),
    Letterform.BOLD_ITALIC: (0x1D468, 0x1D482, 0, 0x1D71C, 0x1D736),
    Letterform.SCRIPT: (0x1D49C, 0x1D4B6, 0, 0, 0),
    Letterform.FRAKTUR: (0x1D504, 0x1D51E, 0, 0, 0),
    Letterform.DOUBLE_STRUCK: (0x1D538, 0x1D552, 0x1D7D8, 0, 0),
    Letterform.SANS_SERIF: (0x1D5A0, 0x1D5BA, 0x1D7E2, 0, 0),
    Letterform.MONOSPACE: (0x1D670, 0x1D68A, 0x1D7F6, 0, 0),
}
"""Where Unicode has the letters for mathematics: capitals, small letters, figures, Greek capitals, Greek small letters; 0 for none."""

_ELSEWHERE = {
    (Letterform.SCRIPT, "B"): "ℬ", (Letterform.SCRIPT, "E"): "ℰ", (Letterform.SCRIPT, "F"): "ℱ", (Letterform.SCRIPT, "H"): "ℋ",
    (Letterform.SCRIPT, "I"): "ℐ", (Letterform.SCRIPT, "L"): "ℒ", (Letterform.SCRIPT, "M"): "ℳ", (Letterform.SCRIPT, "R"): "ℛ",
    (Letterform.SCRIPT, "e"): "ℯ", (Letterform.SCRIPT, "g"): "ℊ", (Letterform.SCRIPT, "o"): "ℴ", (Letterform.FRAKTUR, "C"): "ℭ",
    (Letterform.FRAKTUR, "H"): "ℌ", (Letterform.FRAKTUR, "I"): "ℑ", (Letterform.FRAKTUR, "R"): "ℜ", (Letterform.FRAKTUR, "Z"): "ℨ",
    (Letterform.DOUBLE_STRUCK, "C"): "ℂ", (Letterform.DOUBLE_STRUCK, "H"): "ℍ", (Letterform.DOUBLE_STRUCK, "N"): "ℕ",
    (Letterform.DOUBLE_STRUCK, "P"): "ℙ", (Letterform.DOUBLE_STRUCK, "Q"): "ℚ", (Letterform.DOUBLE_STRUCK, "R"): "ℝ",
    (Letterform.DOUBLE_STRUCK, "Z"): "ℤ",
}  # fmt: skip
"""Letters that Unicode had before it had the blocks."""

Element = etree._Element


Places = Callable[[Node], tuple[int, int] | None]
"""The characters that a part of an equation was read from: the first, and the one after the last."""


def mathml(tree: Node, *, display: bool, places: Places | None = None) -> str:
    """The equation as a ``math`` element; with ``places``, each part says in ``data-typed`` which characters it was read from."""
    math = etree.Element("math", {"xmlns": NAMESPACE})
    if display:
        math.set("display", "block")
    _Writer(places).write(math, tree)
    return etree.tostring(math, encoding="unicode")


def formed(text: str, form: Letterform) -> str:
    """Letters in a form, by the characters that Unicode has for it; others stay as they are."""
    return "".join(_formed(character, form) for character in text)


def _formed(character: str, form: Letterform) -> str:
    if (form, character) in _ELSEWHERE:
        return _ELSEWHERE[form, character]
    blocks = _BLOCKS.get(form)
    if blocks is None:
        return character
    for kind, first, last in (
        (_UPPER, "A", "Z"), (_LOWER, "a", "z"), (_DIGIT, "0", "9"), (_GREEK_UPPER, "Α", "Ω"), (_GREEK_LOWER, "α", "ω"),
    ):  # fmt: skip
        if first <= character <= last and blocks[kind]:
            return chr(blocks[kind] + ord(character) - ord(first))
    return character


def _child(parent: Element, tag: str, text: str | None = None, **attributes: str) -> Element:
    made = etree.SubElement(parent, tag, attributes)
    made.text = text
    return made


def _is_function(node: Node) -> bool:
    base = node.base if isinstance(node, Scripts | Limits) else node
    return isinstance(base, Identifier) and base.form is Letterform.UPRIGHT and len(base.text) > 1


class _Writer:
    def __init__(self, places: Places | None) -> None:
        self.places = places

    def write(self, parent: Element, node: Node) -> None:
        self.write_part(parent, node)
        self.place(parent[-1], node)

    def place(self, made: Element, node: Node) -> None:
        place = self.places(node) if self.places is not None else None
        if place is not None:
            made.set("data-typed", f"{place[0]}:{place[1]}")

    def write_part(self, parent: Element, node: Node) -> None:
        match node:
            case Row(parts):
                row = _child(parent, "mrow")
                for n, part in enumerate(parts):
                    self.write(row, part)
                    if _is_function(part) and n + 1 < len(parts):
                        _child(row, "mo", APPLIED)
                        if not isinstance(parts[n + 1], Fence | Operator):
                            _child(row, "mspace", width="0.17em")
            case Identifier(text, form):
                made = _child(parent, "mi", formed(text, form))
                if form is Letterform.UPRIGHT and len(text) == 1:
                    made.set("mathvariant", "normal")
            case Number(text, form):
                _child(parent, "mn", formed(text, form))
            case Operator(text):
                made = _child(parent, "mo", text)
                if text in "()[]{}|∥⟨⟩":
                    made.set("stretchy", "false")
            case Phrase(text):
                _child(parent, "mtext", text.replace(" ", "\u00a0"))
            case Gap(width):
                _child(parent, "mspace", width=f"{width:g}em")
            case Fraction(above, below, bar):
                made = _child(parent, "mfrac") if bar else _child(parent, "mfrac", linethickness="0")
                self.write(made, above)
                self.write(made, below)
            case Root(body, None):
                self.write(_child(parent, "msqrt"), body)
            case Root(body, index) if index is not None:
                made = _child(parent, "mroot")
                self.write(made, body)
                self.write(made, index)
            case Scripts(base, sub, sup):
                self.write_around(parent, ("msub", "msup", "msubsup"), base, sub, sup)
            case Limits(base, under, over):
                self.write_around(parent, ("munder", "mover", "munderover"), base, under, over)
            case Accent(base, sign, below):
                made = _child(parent, "munder" if below else "mover", **{"accentunder" if below else "accent": "true"})
                self.write(made, base)
                _child(made, "mo", sign).set("stretchy", "true" if sign in "⏞⏟¯→" else "false")
            case Fence(opening, body, closing):
                row = _child(parent, "mrow")
                grows = "true" if is_high(body) else "false"
                if opening:
                    _child(row, "mo", opening, form="prefix", stretchy=grows)
                self.write(row, body)
                if closing:
                    _child(row, "mo", closing, form="postfix", stretchy=grows)
            case Grid():
                self.write_grid(parent, node)

    def write_around(
        self, parent: Element, tags: tuple[str, str, str], base: Node, low: Node | None, high: Node | None
    ) -> None:
        """The element of a base with something below it, above it, or both."""
        made = _child(parent, tags[0] if high is None else tags[1] if low is None else tags[2])
        if (
            tags[0] == "munder"
            and isinstance(base, Operator | Identifier)
            and (base.text in NARY or base.text in WITH_LIMITS)
        ):
            self.place(_child(made, "mo", base.text, movablelimits="false"), base)
        else:
            self.write(made, base)
        for part in (low, high):
            if part is not None:
                self.write(made, part)

    def write_grid(self, parent: Element, grid: Grid) -> None:
        table = _child(parent, "mtable")
        lines = grid.kind is GridKind.LINES
        if lines:
            table.set("displaystyle", "true")
        for cells in grid.rows:
            row = _child(table, "mtr")
            for n, cell in enumerate(cells):
                made = _child(row, "mtd")
                if lines:
                    made.set(
                        "style",
                        "text-align: " + ("right" if n == 0 and len(cells) > 1 else "left") + "; padding-inline: 0",
                    )
                self.write(made, cell)
