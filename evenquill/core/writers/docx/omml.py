"""Equations as OMML (ECMA-376 part 1, 22.1)."""

from __future__ import annotations

from lxml import etree

from evenquill.core.equations.signs import BARS, COMBINING, FUNCTIONS, INTEGRALS, NARY, RELATIONS
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
    row_of,
)
from evenquill.core.writers.docx.xml import XML_SPACE, Element, W, clean
from evenquill.core.writers.docx.xml import child as w_child

M = "http://schemas.openxmlformats.org/officeDocument/2006/math"
TYPEFACE = "Cambria Math"
"""The typeface that programs look for in equations; each takes its own where it has none of this name."""

_STYLES = {
    Letterform.UPRIGHT: (None, "p"),
    Letterform.ITALIC: (None, None),
    Letterform.BOLD: (None, "b"),
    Letterform.BOLD_ITALIC: (None, "bi"),
    Letterform.SCRIPT: ("script", "p"),
    Letterform.FRAKTUR: ("fraktur", "p"),
    Letterform.DOUBLE_STRUCK: ("double-struck", "p"),
    Letterform.SANS_SERIF: ("sans-serif", "p"),
    Letterform.MONOSPACE: ("monospace", "p"),
}
"""Script and style of a run (22.1.2.94, 22.1.2.111) for each form of letters."""

_GAPS = ((1.5, "\u2003\u2003"), (0.75, "\u2003"), (0.4, "\u2002"), (0.0, "\u2005"))
"""Spaces for gaps from so many ems."""


def omml(tree: Node, *, display: bool) -> Element:
    """``m:oMath``, within ``m:oMathPara`` where it stands by itself."""
    math = etree.Element(f"{{{M}}}oMath", nsmap={"m": M, "w": W})
    _write(math, tree)
    if not display:
        return math
    paragraph = etree.Element(f"{{{M}}}oMathPara", nsmap={"m": M})
    paragraph.append(math)
    return paragraph


def _child(parent: Element, tag: str, value: str | None = None) -> Element:
    made = etree.SubElement(parent, f"{{{M}}}{tag}")
    if value is not None:
        made.set(f"{{{M}}}val", value)
    return made


def _argument(parent: Element, tag: str, node: Node | None) -> None:
    made = _child(parent, tag)
    if node is not None:
        _write(made, node)


def _write(parent: Element, node: Node) -> None:
    """Writes a node, a row part by part: operators over a variable and functions take in what they work on."""
    parts = parts_of(node)
    n = 0
    while n < len(parts):
        part = parts[n]
        if _nary_of(part) is not None:
            end = n + 1
            while end < len(parts) and not _ends_operand(parts[end]):
                end += 1
            _write_nary(parent, part, row_of(parts[n + 1 : end]))
            n = end
        elif _is_function(part) and n + 1 < len(parts) and _is_argument(parts[n + 1]):
            made = _child(parent, "func")
            _argument(made, "fName", part)
            _argument(made, "e", parts[n + 1])
            n += 2
        else:
            _write_part(parent, part)
            n += 1


def _nary_of(node: Node) -> Operator | None:
    base = node.base if isinstance(node, Scripts | Limits) else node
    return base if isinstance(base, Operator) and base.text in NARY else None


def _ends_operand(node: Node) -> bool:
    return isinstance(node, Gap | Phrase) or (
        isinstance(node, Operator) and (node.text in RELATIONS or node.text in BARS or node.text in ",;.")
    )


def _is_function(node: Node) -> bool:
    base = node.base if isinstance(node, Scripts | Limits) else node
    return isinstance(base, Identifier) and base.text in FUNCTIONS and base.form is Letterform.UPRIGHT


def _is_argument(node: Node) -> bool:
    return not isinstance(node, Operator | Phrase | Gap) and not _is_function(node)


def _write_nary(parent: Element, node: Node, operand: Node) -> None:
    operator = _nary_of(node)
    assert operator is not None
    below = node.sub if isinstance(node, Scripts) else node.under if isinstance(node, Limits) else None
    above = node.sup if isinstance(node, Scripts) else node.over if isinstance(node, Limits) else None
    made = _child(parent, "nary")
    properties = _child(made, "naryPr")
    _child(properties, "chr", operator.text)
    beside = isinstance(node, Scripts) or (operator.text in INTEGRALS and not isinstance(node, Limits))
    _child(properties, "limLoc", "subSup" if beside else "undOvr")
    if below is None:
        _child(properties, "subHide", "1")
    if above is None:
        _child(properties, "supHide", "1")
    _argument(made, "sub", below)
    _argument(made, "sup", above)
    _argument(made, "e", operand)


def _write_part(parent: Element, node: Node) -> None:
    match node:
        case Row():
            _write(parent, node)
        case Identifier(text, form) | Number(text, form):
            script, style = _STYLES[form]
            if isinstance(node, Identifier) and form is Letterform.ITALIC and len(text) > 1:
                style = "i"
            _run(parent, text, script, None if isinstance(node, Number) and style == "p" else style)
        case Operator(text):
            _run(parent, text, None, "p" if text.isalpha() else None)
        case Phrase(text):
            _run(parent, text, words=True)
        case Gap(width):
            _run(parent, next(space for least, space in _GAPS if width >= least))
        case Fraction(above, below, bar):
            made = _child(parent, "f")
            if not bar:
                _child(_child(made, "fPr"), "type", "noBar")
            _argument(made, "num", above)
            _argument(made, "den", below)
        case Root(body, index):
            made = _child(parent, "rad")
            if index is None:
                _child(_child(made, "radPr"), "degHide", "1")
            _argument(made, "deg", index)
            _argument(made, "e", body)
        case Scripts(base, sub, sup):
            made = _child(parent, "sSub" if sup is None else "sSup" if sub is None else "sSubSup")
            _argument(made, "e", base)
            if sub is not None:
                _argument(made, "sub", sub)
            if sup is not None:
                _argument(made, "sup", sup)
        case Limits(base, under, over):
            _write_limits(parent, base, under, over)
        case Accent():
            _write_accent(parent, node)
        case Fence(opening, body, closing):
            made = _child(parent, "d")
            properties = _child(made, "dPr")
            _child(properties, "begChr", opening)
            _child(properties, "endChr", closing)
            _argument(made, "e", body)
        case Grid():
            _write_grid(parent, node)


def _write_limits(parent: Element, base: Node, under: Node | None, over: Node | None) -> None:
    if over is not None:
        made = _child(parent, "limUpp")
        _argument(made, "e", base if under is None else Limits(base, under))
        _argument(made, "lim", over)
    elif under is not None:
        made = _child(parent, "limLow")
        _argument(made, "e", base)
        _argument(made, "lim", under)
    else:
        _write(parent, base)


def _write_accent(parent: Element, node: Accent) -> None:
    if node.sign in "⏞⏟":
        made = _child(parent, "groupChr")
        properties = _child(made, "groupChrPr")
        _child(properties, "chr", node.sign)
        _child(properties, "pos", "bot" if node.below else "top")
        if not node.below:
            _child(properties, "vertJc", "bot")
    elif node.sign == "¯":
        made = _child(parent, "bar")
        _child(_child(made, "barPr"), "pos", "bot" if node.below else "top")
    else:
        made = _child(parent, "acc")
        _child(_child(made, "accPr"), "chr", COMBINING.get(node.sign, node.sign))
    _argument(made, "e", node.base)


def _write_grid(parent: Element, grid: Grid) -> None:
    if grid.kind is GridKind.LINES:
        made = _child(parent, "eqArr")
        for cells in grid.rows:
            line = _child(made, "e")
            for n, cell in enumerate(cells):
                start = len(line)
                _write(line, cell)
                if n and len(line) > start:
                    _align_at(line[start])
        return
    made = _child(parent, "m")
    column = _child(_child(_child(_child(made, "mPr"), "mcs"), "mc"), "mcPr")
    _child(column, "count", str(max(map(len, grid.rows))))
    _child(column, "mcJc", "center")
    for cells in grid.rows:
        row = _child(made, "mr")
        for cell in cells:
            _argument(row, "e", cell)


def _align_at(part: Element) -> None:
    """Makes a run the place at which lines are aligned (22.1.2.1)."""
    if part.tag != f"{{{M}}}r":
        return
    properties = part.find(f"{{{M}}}rPr")
    if properties is None:
        properties = etree.Element(f"{{{M}}}rPr")
        part.insert(0, properties)
    if not len(properties):
        _child(properties, "sty", "p")
    _child(properties, "aln")


def _run(
    parent: Element, text: str, script: str | None = None, style: str | None = None, *, words: bool = False
) -> None:
    made = _child(parent, "r")
    if words or script is not None or style is not None:
        properties = _child(made, "rPr")
        if words:
            _child(properties, "nor")
        if script is not None:
            _child(properties, "scr", script)
        if style is not None:
            _child(properties, "sty", style)
    if not words:
        w_child(w_child(made, "rPr"), "rFonts", ascii=TYPEFACE, hAnsi=TYPEFACE)
    written = _child(made, "t")
    written.text = clean(text)
    written.set(XML_SPACE, "preserve")
