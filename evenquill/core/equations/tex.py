"""Equations as TeX, with the commands of LaTeX and amsmath."""

from __future__ import annotations

from evenquill.core.equations.pairs import is_high
from evenquill.core.equations.signs import FUNCTIONS, NARY, OPENING
from evenquill.core.equations.tex_names import ACCENT_NAMES, NAMES
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
    parts_of,
)

_COMMANDS = {
    Letterform.BOLD: "mathbf",
    Letterform.BOLD_ITALIC: "boldsymbol",
    Letterform.SCRIPT: "mathcal",
    Letterform.FRAKTUR: "mathfrak",
    Letterform.DOUBLE_STRUCK: "mathbb",
    Letterform.SANS_SERIF: "mathsf",
    Letterform.MONOSPACE: "mathtt",
}
_KNOWN_NAMES = (
    "sin cos tan cot sec csc sinh cosh tanh coth arcsin arccos arctan log ln lg exp max min sup inf lim limsup liminf det dim ker "
    "deg arg gcd Pr hom"
)
_KNOWN = frozenset(_KNOWN_NAMES.split())
"""Functions that have a command of their own."""

_MATRICES = {
    ("(", ")"): "pmatrix",
    ("[", "]"): "bmatrix",
    ("{", "}"): "Bmatrix",
    ("|", "|"): "vmatrix",
    ("‖", "‖"): "Vmatrix",
    ("{", ""): "cases",
}
_GAPS = ((1.5, r"\qquad"), (0.75, r"\quad"), (0.25, r"\;"), (0.0, r"\,"))


def _join(parts: list[str]) -> str:
    """Pieces side by side, a space where a command would run into a letter."""
    out = ""
    for part in parts:
        if not part:
            continue
        command = out.rpartition("\\")[2] if "\\" in out else ""
        if out and part[0].isascii() and part[0].isalpha() and command.isascii() and command.isalpha():
            out += " "
        out += part
    return out


def _sign(text: str) -> str:
    name = NAMES.get(text)
    return ("-" if text == "−" else text) if name is None else "\\" + name


def _formed(text: str, form: Letterform) -> str:
    letters = _join([_sign(character) for character in text])
    if form is Letterform.UPRIGHT:
        if text in _KNOWN:
            return "\\" + text
        if text in FUNCTIONS:
            return rf"\operatorname{{{text}}}"
        return rf"\mathrm{{{letters}}}" if text.isascii() and text.isalpha() else letters
    if form is Letterform.ITALIC:
        return rf"\mathit{{{letters}}}" if len(text) > 1 and text.isascii() else letters
    return rf"\{_COMMANDS[form]}{{{letters}}}"


def tex(node: Node) -> str:
    """The equation as TeX, for a place where mathematics is expected."""
    match node:
        case Row(parts):
            return _join([tex(part) for part in parts])
        case Identifier(text, form):
            return _formed(text, form)
        case Number(text, form):
            return text if form is Letterform.UPRIGHT else _formed(text, form)
        case Operator(text):
            return _sign(text) if len(text) == 1 else rf"\mathrm{{{text}}}"
        case Phrase(text):
            return rf"\text{{{text}}}"
        case Gap(width):
            return next(command for least, command in _GAPS if width >= least)
        case Fraction(above, below, bar):
            return (
                rf"\frac{_group(above)}{_group(below)}"
                if bar
                else rf"\genfrac{{}}{{}}{{0pt}}{{}}{_group(above)}{_group(below)}"
            )
        case Root(body, index):
            return rf"\sqrt{_group(body)}" if index is None else rf"\sqrt[{tex(index)}]{_group(body)}"
        case Scripts(base, sub, sup):
            primes = _primes(sup)
            return _base(base) + "'" * primes + _script("_", sub) + ("" if primes else _script("^", sup))
        case Limits():
            return _limits(node)
        case Accent(base, sign, below):
            if sign in "⏞⏟":
                return rf"\{'underbrace' if below else 'overbrace'}{_group(base)}"
            if sign == "¯" and below:
                return rf"\underline{_group(base)}"
            wide = (
                {"^": "widehat", "~": "widetilde", "¯": "overline", "→": "overrightarrow"}
                if not _is_letter(base)
                else {}
            )
            name = wide.get(sign) or ACCENT_NAMES.get(sign)
            return rf"\overset{{{_sign(sign)}}}{_group(base)}" if name is None else rf"\{name}{_group(base)}"
        case Fence(opening, body, closing):
            if isinstance(body, Grid) and body.kind is GridKind.MATRIX and (opening, closing) in _MATRICES:
                return _environment(_MATRICES[opening, closing], body)
            if isinstance(body, Fraction) and not body.bar and (opening, closing) == ("(", ")"):
                return rf"\binom{_group(body.above)}{_group(body.below)}"
            if opening in OPENING and closing and not is_high(body):
                return _join([_sign(opening), tex(body), _sign(closing)])
            return _join([rf"\left{_fence(opening)}", tex(body), rf"\right{_fence(closing)}"])
        case Grid(kind=kind):
            return _environment("matrix" if kind is GridKind.MATRIX else "aligned", node)


def _primes(sup: Node | None) -> int:
    """How many primes a superscript consists of, 0 where it has something else."""
    parts = () if sup is None else parts_of(sup)
    return len(parts) if all(isinstance(part, Operator) and part.text == "′" for part in parts) else 0


def _is_letter(node: Node) -> bool:
    return isinstance(node, Identifier | Number) and len(node.text) == 1


def _group(node: Node) -> str:
    return "{" + tex(node) + "}"


def _base(node: Node) -> str:
    """What scripts stand at: in braces if it is more than one piece for TeX."""
    made = tex(node)
    simple = isinstance(node, Identifier | Number | Operator | Fence) and (len(made) == 1 or made[0] in "\\([")
    return made if simple else "{" + made + "}"


def _script(sign: str, node: Node | None) -> str:
    if node is None:
        return ""
    made = tex(node)
    return sign + (made if len(made) == 1 else "{" + made + "}")


def _limits(node: Limits) -> str:
    base = node.base
    takes_limits = (isinstance(base, Operator) and base.text in NARY) or (
        isinstance(base, Identifier) and base.text in _KNOWN
    )
    braced = isinstance(base, Accent) and base.sign in "⏞⏟"
    if takes_limits or braced:
        commanded = isinstance(base, Operator) and base.text in NARY
        return tex(base) + (r"\limits" if commanded else "") + _script("_", node.under) + _script("^", node.over)
    made = tex(base)
    if node.under is not None:
        made = rf"\underset{_group(node.under)}{{{made}}}"
    return made if node.over is None else rf"\overset{_group(node.over)}{{{made}}}"


def _fence(sign: str) -> str:
    return _sign(sign) if sign else "."


def _environment(name: str, grid: Grid) -> str:
    lines = (r" & ".join(tex(cell) for cell in cells) for cells in grid.rows)
    return rf"\begin{{{name}}}" + r" \\ ".join(lines) + rf"\end{{{name}}}"
