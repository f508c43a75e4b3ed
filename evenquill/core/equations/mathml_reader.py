"""MathML as the clerk pastes it -> the tree of an equation.

The presentation elements are read (MathML 3 and MathML Core); what only says how they look, or what they mean, is passed over.
"""

from __future__ import annotations

import html
import re
from collections.abc import Callable, Sequence

from lxml import etree

from evenquill.core.equations.pairs import with_pairs
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.signs import ACCENTS, BARS, FUNCTIONS, plain_letter
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
    parts_of,
    problem_of,
    row_of,
)

LONGEST = 200_000
"""Characters of MathML that are read: ten times as many as of TeX, since it is so much longer."""

UNSEEN = frozenset("\u2061\u2062\u2063\u2064")
"""Applied functions, times, commas and plus that are meant and not seen."""

WIDE_GAP = 0.8
"""Ems from which a space is kept: narrower ones are those that every equation has."""

_VARIANTS = {
    "normal": Letterform.UPRIGHT, "italic": Letterform.ITALIC, "bold": Letterform.BOLD, "bold-italic": Letterform.BOLD_ITALIC,
    "script": Letterform.SCRIPT, "bold-script": Letterform.SCRIPT, "fraktur": Letterform.FRAKTUR, "bold-fraktur": Letterform.FRAKTUR,
    "double-struck": Letterform.DOUBLE_STRUCK, "sans-serif": Letterform.SANS_SERIF, "monospace": Letterform.MONOSPACE,
}  # fmt: skip
_SIGNS = {"-": "−", "&#8722;": "−", "∣": "|", "⋅": "·", "*": "∗"}
_WIDTHS = {"em": 1.0, "ex": 0.45, "px": 1 / 16, "pt": 1 / 12, "cm": 72 / 2.54 / 12, "mm": 72 / 25.4 / 12, "in": 6.0}
_NAMED_SPACES = {"thickmathspace": 0.28, "mediummathspace": 0.22, "thinmathspace": 0.17, "veryverythickmathspace": 0.39}
_BODIES = frozenset({"math", "mrow", "mstyle", "mpadded", "menclose", "merror", "mtd"})
_SKIPPED = frozenset({"annotation", "annotation-xml", "mprescripts", "none", "maligngroup", "malignmark", "mphantom"})

Element = etree._Element


def read_mathml(text: str) -> Node:
    """The tree of an equation in MathML. Raises EquationProblem."""
    if len(text) > LONGEST:
        raise EquationProblem(f"An equation may have {LONGEST:,} characters of MathML at most.", LONGEST)
    # A file may say what it is encoded in, which text no longer is; names of characters are HTML's.
    plain = re.sub(r"^\s*<\?xml.*?\?>|<!DOCTYPE[^>]*>", lambda found: " " * len(found.group()), text.lstrip("\ufeff"))
    parser = etree.XMLParser(resolve_entities=False, no_network=True, remove_comments=True, remove_pis=True)
    try:
        root = etree.fromstring(_with_characters(plain), parser)
    except etree.XMLSyntaxError as error:
        line, column = error.position
        starts = [0, *(found.end() for found in re.finditer("\n", plain))]
        at = min(starts[min(max(line - 1, 0), len(starts) - 1)] + max(column - 1, 0), len(text))
        raise EquationProblem("This is no complete MathML: a tag does not fit the ones before it.", at) from error
    tree = _Reader(text).node(root, 1)
    sentence = problem_of(tree)
    if sentence:
        raise EquationProblem(sentence, 0)
    if not parts_of(tree):
        raise EquationProblem("There is nothing to read.", 0)
    return tree


def _with_characters(text: str) -> str:
    """The text with HTML's names of characters as characters, but for those that XML itself has."""

    def character(found: re.Match[str]) -> str:
        return found.group() if found.group(1) in ("lt", "gt", "amp", "quot", "apos") else html.unescape(found.group())

    return re.sub(r"&(\w+);", character, text)


class _Reader:
    def __init__(self, text: str) -> None:
        self.text = text

    def problem(self, sentence: str, element: Element) -> EquationProblem:
        """A problem with an element, at the place where the first of its name is in its line."""
        starts = [0, *(found.end() for found in re.finditer("\n", self.text))]
        line = element.sourceline if isinstance(element.sourceline, int) else 1
        start = starts[min(max(line - 1, 0), len(starts) - 1)]
        return EquationProblem(sentence, max(self.text.find(f"<{_name(element)}", start), 0))

    def node(self, element: Element, depth: int) -> Node:
        if depth > 3 * DEEPEST:
            raise self.problem(f"The equation has parts within parts more than {DEEPEST} deep.", element)
        name = _name(element)
        text = " ".join(_text(element).split())
        if name in _BODIES:
            return self.row(element, depth)
        if name in _SKIPPED:
            return Row()
        if name in ("semantics", "maction"):
            return self.node(element[0], depth + 1) if len(element) else Row()
        if name in _LEAVES:
            return _LEAVES[name](text, element) if text or name == "mspace" else Row()
        if name in ("msqrt", "mfenced", "mtable", "mmultiscripts"):
            return getattr(self, f"_{name}")(element, depth)  # type: ignore[no-any-return]
        if name not in _CHILDREN:
            raise self.problem(f"<{name}> is no element of an equation that can be read.", element)
        children = [self.node(child, depth + 1) for child in element]
        if len(children) != _CHILDREN[name]:
            raise self.problem(f"<{name}> has to have {_CHILDREN[name]} parts and has {len(children)}.", element)
        return self.around(name, element, children)

    def row(self, element: Element, depth: int) -> Node:
        return row_of(with_pairs(_with_fenced_grids([self.node(child, depth + 1) for child in element])))

    def around(self, name: str, element: Element, parts: Sequence[Node]) -> Node:
        """What has parts above, below and behind it."""
        first, last = parts[0], parts[-1]
        match name:
            case "mfrac":
                return Fraction(first, last, element.get("linethickness", "1") not in ("0", "0pt", "0px", "0em"))
            case "mroot":
                return Root(first, last)
            case "msub":
                return Scripts(first, last, None)
            case "msup":
                return Scripts(first, None, last)
            case "msubsup":
                return Scripts(first, parts[1], last)
            case "munderover":
                return Limits(first, parts[1], last)
        below = name == "munder"
        if isinstance(last, Operator) and (sign := ACCENTS.get(last.text)) and last.text not in "→=":
            return Accent(first, sign, below)
        if isinstance(last, Operator) and last.text in "→⃗" and element.get("accent") == "true" and not below:
            return Accent(first, "→")
        return Limits(first, last, None) if below else Limits(first, None, last)

    def _msqrt(self, element: Element, depth: int) -> Node:
        return Root(self.row(element, depth))

    def _mfenced(self, element: Element, depth: int) -> Node:
        signs = list(element.get("separators", ",").replace(" ", ""))
        parts: list[Node] = []
        for n, child in enumerate(element):
            if n and signs:
                parts.append(Operator(signs[min(n - 1, len(signs) - 1)]))
            parts.append(self.node(child, depth + 1))
        return Fence(element.get("open", "("), row_of(parts), element.get("close", ")"))

    def _mtable(self, element: Element, depth: int) -> Node:
        rows = []
        for row in element:
            if _name(row) not in ("mtr", "mlabeledtr"):
                raise self.problem("A table of an equation has rows (<mtr>) only.", row)
            cells = [self.node(cell, depth + 2) for cell in row]
            rows.append(tuple(cells[1:] if _name(row) == "mlabeledtr" else cells))
        lines = element.get("displaystyle") == "true" or "right left" in element.get("columnalign", "")
        return Grid(tuple(rows), GridKind.LINES if lines else GridKind.MATRIX)

    def _mmultiscripts(self, element: Element, depth: int) -> Node:
        """Scripts behind, and before: those before stand behind nothing."""
        names = [_name(child) for child in element]
        at = names.index("mprescripts") if "mprescripts" in names else len(names)
        parts = [self.node(child, depth + 1) for child in element]
        if not parts:
            raise self.problem("<mmultiscripts> has nothing that its parts could belong to.", element)
        made = parts[0]
        for low, high in zip(parts[1:at:2], parts[2:at:2], strict=False):
            made = Scripts(made, _or_none(low), _or_none(high))
        before = [
            Scripts(Row(), _or_none(low), _or_none(high))
            for low, high in zip(parts[at + 1 :: 2], parts[at + 2 :: 2], strict=False)
        ]
        return row_of([*before, made])


def _with_fenced_grids(nodes: Sequence[Node]) -> list[Node]:
    """The parts of a row with grids and the bars or braces around them as one; a brace before cases has none behind them."""
    out: list[Node] = []
    rest = list(nodes)
    while rest:
        node = rest.pop(0)
        before = out[-1] if out else None
        if isinstance(node, Grid) and isinstance(before, Operator) and before.text in BARS | {"{"}:
            after = rest[0] if rest else None
            closing = after.text if isinstance(after, Operator) and after.text in BARS | {"}"} else ""
            if closing or before.text == "{":
                out[-1] = Fence(before.text, node, closing)
                rest = rest[1:] if closing else rest
                continue
        out.append(node)
    return out


def _or_none(node: Node) -> Node | None:
    return node if parts_of(node) else None


def _text(element: Element) -> str:
    return "".join(str(text) for text in element.itertext())


def _name(element: Element) -> str:
    return etree.QName(element).localname


def _letters(text: str, element: Element) -> Node:
    plain, own = zip(*map(plain_letter, text), strict=True)
    letters = "".join(plain)
    variant = _VARIANTS.get(element.get("mathvariant", ""))
    several = len(letters) > 1 or letters in FUNCTIONS
    usual = Letterform.UPRIGHT if several or letters in "ΓΔΘΛΞΠΣΦΨΩ∞∅" else Letterform.ITALIC
    if not letters[0].isalpha() and letters in "∞∅∇∂":
        return Operator(letters)
    return Identifier(letters, variant or own[0] or usual)


def _number(text: str, element: Element) -> Node:
    plain, own = zip(*map(plain_letter, text), strict=True)
    form = _VARIANTS.get(element.get("mathvariant", "")) or own[0] or Letterform.UPRIGHT
    return Number("".join(plain), form)


def _sign(text: str, _: Element) -> Node:
    kept = "".join(character for character in text if character not in UNSEEN)
    if kept in FUNCTIONS:
        return Identifier(kept, Letterform.UPRIGHT)
    return Operator(_SIGNS.get(kept, kept)) if kept else Row()


def _words(text: str, element: Element) -> Node:
    whole = _text(element).replace("\u00a0", " ")
    return Phrase(re.sub(r"\s+", " ", whole)) if whole.strip() else Gap(1.0)


def _space(_: str, element: Element) -> Node:
    given = element.get("width", "0").strip()
    found = re.fullmatch(r"(-?[\d.]+)\s*([a-z]*)", given)
    width = float(found.group(1)) * _WIDTHS.get(found.group(2), 0.0) if found else _NAMED_SPACES.get(given, 0.0)
    return Gap(round(width, 2)) if width >= WIDE_GAP else Row()


_LEAVES: dict[str, Callable[[str, Element], Node]] = {
    "mi": _letters, "mn": _number, "mo": _sign, "mtext": _words, "ms": _words, "mspace": _space,
}  # fmt: skip
_CHILDREN = {"mfrac": 2, "mroot": 2, "msub": 2, "msup": 2, "msubsup": 3, "munder": 2, "mover": 2, "munderover": 3}
"""Elements that have a number of parts, and that number."""
