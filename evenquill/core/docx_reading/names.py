"""Names of elements and attributes (ISO/IEC 29500-1), and their values."""

from __future__ import annotations

from lxml import etree

Element = etree._Element

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
M = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
R = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}"
A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
WP = "{http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing}"
V = "{urn:schemas-microsoft-com:vml}"
MC = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"

TWIP, EMU = 1 / 20, 1 / 12700
"""Points in the units of lengths."""

_STRICT = {
    "http://purl.oclc.org/ooxml/wordprocessingml/main": W,
    "http://purl.oclc.org/ooxml/officeDocument/math": M,
    "http://purl.oclc.org/ooxml/officeDocument/relationships": R,
    "http://purl.oclc.org/ooxml/drawingml/main": A,
    "http://purl.oclc.org/ooxml/drawingml/wordprocessingDrawing": WP,
}


def usual_names(root: Element) -> Element:
    """The tree with the names of the transitional form, where it has those of the strict one (ISO/IEC 29500-4)."""
    if not any(space in _STRICT for space in root.nsmap.values()):
        return root
    for one in root.iter(etree.Element):
        one.tag = _usual(str(one.tag))
        for name in list(one.attrib):
            if (usual := _usual(str(name))) != name:
                one.set(usual, one.attrib.pop(name))
    return root


def _usual(name: str) -> str:
    space, _, own = name.removeprefix("{").partition("}")
    return f"{_STRICT[space]}{own}" if space in _STRICT else name


def value(parent: Element | None, name: str, attribute: str = "val") -> str | None:
    """An attribute of a child; None where there is no such child or attribute."""
    found = parent.find(f"{W}{name}") if parent is not None else None
    return found.get(f"{W}{attribute}") if found is not None else None


def is_on(parent: Element | None, name: str) -> bool | None:
    """Whether a property is switched on (17.17.4); None where nothing is said."""
    found = parent.find(f"{W}{name}") if parent is not None else None
    return found.get(f"{W}val", "1") not in ("0", "false", "off", "none") if found is not None else None


def number(text: str | None, usual: float = 0.0) -> float:
    """A number, or what is usual where it is none."""
    try:
        return float(text) if text is not None else usual
    except ValueError:
        return usual


def whole(text: str | None, usual: int = 0) -> int:
    """A whole number, or what is usual where it is none."""
    return int(number(text, usual))
