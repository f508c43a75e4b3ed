"""The document's named styles as WordprocessingML styles (ECMA-376 part 1, 17.7)."""

from __future__ import annotations

import re
from collections.abc import Iterable

from evenquill.core.languages import locale_of
from evenquill.core.model import Align, Family, ResolvedStyle
from evenquill.core.writers.docx.xml import Element, W, child, half_points, twips

FALLBACK_FONT = {
    Family.SERIF: "Liberation Serif",
    Family.SANS: "Liberation Sans",
    Family.MONO: "Liberation Mono",
}

JUSTIFICATION = {
    Align.LEFT: "left",
    Align.RIGHT: "right",
    Align.CENTER: "center",
    Align.JUSTIFY: "both",
    Align.DECIMAL: "right",
}

# Names that every word processor knows and treats in a special way (17.7.4.9).
_KNOWN_NAMES = {
    "Body text": "Body Text",
    "Caption": "caption",
    "Title": "Title",
    "Footnote text": "footnote text",
    "Endnote text": "endnote text",
}


def style_id(name: str) -> str:
    """The id under which a style of this name is kept: letters and digits only."""
    return re.sub(r"[^0-9A-Za-z]+", "", name.title()) or "Style"


def write_styles(root: Element, styles: Iterable[ResolvedStyle], language: str) -> None:
    """Adds all styles to ``w:styles`` and sets the document's language and usual font."""
    base, *_ = styles = list(styles)
    defaults = root.find(f"{{{W}}}docDefaults/{{{W}}}rPrDefault/{{{W}}}rPr")
    assert defaults is not None
    for old in list(defaults):
        defaults.remove(old)
    _font(defaults, base)
    child(defaults, "sz", val=half_points(base.size))
    child(defaults, "szCs", val=half_points(base.size))
    child(defaults, "lang", val=locale_of(language))
    for style in styles:
        _write(root, style)


def _write(root: Element, style: ResolvedStyle) -> None:
    made = child(root, "style", type="paragraph", customStyle="1", styleId=style_id(style.name))
    known = _KNOWN_NAMES.get(style.name) or (f"heading {style.outline}" if style.outline else "")
    if known:
        del made.attrib[f"{{{W}}}customStyle"]
    child(made, "name", val=known or style.name)
    child(made, "basedOn", val="Normal")
    if style.outline:
        child(made, "next", val="Normal")
    child(made, "qFormat")
    paragraph = child(made, "pPr")
    if style.keep_next:
        child(paragraph, "keepNext")
    spacing = {"before": twips(style.before), "after": twips(style.after)}
    if style.leading > 0:
        spacing["line"] = twips(style.leading)
        child(paragraph, "spacing", **spacing, lineRule="exact" if style.leading < style.size else "atLeast")
    else:
        child(paragraph, "spacing", **spacing)
    write_indent(paragraph, style.left, style.right, style.first)
    if style.align is not Align.LEFT:
        child(paragraph, "jc", val=JUSTIFICATION[style.align])
    if style.outline:
        child(paragraph, "outlineLvl", val=style.outline - 1)
    letters = child(made, "rPr")
    _font(letters, style)
    if style.bold:
        child(letters, "b")
    if style.italic:
        child(letters, "i")
    if style.color:
        child(letters, "color", val=style.color.upper())
    child(letters, "sz", val=half_points(style.size))
    child(letters, "szCs", val=half_points(style.size))


def write_indent(paragraph: Element, left: float, right: float, first: float) -> None:
    """``w:ind`` where there is any (17.3.1.12)."""
    attributes: dict[str, int] = {}
    if left:
        attributes["left"] = twips(left)
    if right:
        attributes["right"] = twips(right)
    if first > 0:
        attributes["firstLine"] = twips(first)
    elif first < 0:
        attributes["hanging"] = twips(-first)
    if attributes:
        child(paragraph, "ind", **attributes)


def _font(letters: Element, style: ResolvedStyle) -> None:
    name = style.font or FALLBACK_FONT[style.family]
    child(letters, "rFonts", ascii=name, hAnsi=name, cs=name)
