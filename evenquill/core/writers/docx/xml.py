"""Making WordprocessingML elements, and the measures that it counts in."""

from __future__ import annotations

import re

from lxml import etree

W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
XML_SPACE = "{http://www.w3.org/XML/1998/namespace}space"

EMU_PER_POINT = 12_700
TWIPS_PER_POINT = 20

_FORBIDDEN = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")

Element = etree._Element


def element(tag: str, **attributes: str | int) -> Element:
    """A ``w:`` element with ``w:`` attributes."""
    made = etree.Element(f"{{{W}}}{tag}", nsmap={"w": W})
    for name, value in attributes.items():
        made.set(f"{{{W}}}{name}", str(value))
    return made


def child(parent: Element, tag: str, **attributes: str | int) -> Element:
    """A new ``w:`` element at the end of ``parent``."""
    made = etree.SubElement(parent, f"{{{W}}}{tag}")
    for name, value in attributes.items():
        made.set(f"{{{W}}}{name}", str(value))
    return made


def twips(points: float) -> int:
    """Twentieths of a point."""
    return round(points * TWIPS_PER_POINT)


def half_points(points: float) -> int:
    return round(points * 2)


def emus(points: float) -> int:
    """English metric units, for drawings."""
    return round(points * EMU_PER_POINT)


def clean(text: str) -> str:
    """Text with what XML 1.0 cannot hold replaced by the sign for it."""
    return _FORBIDDEN.sub("\ufffd", text)


def attribute(made: Element, name: str, value: str | int) -> None:
    """Sets one more ``w:`` attribute, where its place among the others does not matter."""
    made.set(f"{{{W}}}{name}", str(value))
