"""The typefaces that a document names, with what stands for them where they are not at hand (ECMA-376 part 1, 17.8.3)."""

from __future__ import annotations

from lxml import etree

from evenquill.core.model import Document, Family
from evenquill.core.typefaces import faces_for, typeface_uses
from evenquill.core.writers.docx.styles import FALLBACK_FONT
from evenquill.core.writers.docx.xml import child, clean, element

FAMILIES = {Family.SERIF: "roman", Family.SANS: "swiss", Family.MONO: "modern"}
PITCHES = {Family.SERIF: "variable", Family.SANS: "variable", Family.MONO: "fixed"}


def font_table(document: Document) -> bytes:
    """The part ``fontTable.xml``: each typeface once, and for each the first other one that may stand for it."""
    families = {name: family for family, name in FALLBACK_FONT.items()}
    families |= {style.font: style.family for style in document.resolved_styles.values() if style.font}
    families |= {use.name: use.family for use in typeface_uses(document)}
    root = element("fonts")
    for name, family in families.items():
        made = child(root, "font", name=clean(name))
        others = faces_for(name, family, document.stand_ins)[1:]
        if others:
            child(made, "altName", val=clean(others[0]))
        child(made, "family", val=FAMILIES[family])
        child(made, "pitch", val=PITCHES[family])
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))
