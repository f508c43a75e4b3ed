"""Names and values of OpenDocument (ISO/IEC 26300, version 1.3)."""

from __future__ import annotations

import re

from lxml import etree

Element = etree._Element

OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
STYLE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
DRAW = "{urn:oasis:names:tc:opendocument:xmlns:drawing:1.0}"
FO = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}"
SVG = "{urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0}"
XLINK = "{http://www.w3.org/1999/xlink}"
DC = "{http://purl.org/dc/elements/1.1/}"
MANIFEST = "{urn:oasis:names:tc:opendocument:xmlns:manifest:1.0}"

_UNITS = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 7.2 / 2.54, "pc": 12.0, "px": 0.75}
_LENGTH = re.compile(r"\s*(-?[0-9]*\.?[0-9]+)(pt|in|cm|mm|pc|px)\s*")
_PERCENT = re.compile(r"\s*([0-9]*\.?[0-9]+)%\s*")


def points(text: str | None) -> float | None:
    """A length in points; None for what is none."""
    found = _LENGTH.fullmatch(text or "")
    return round(float(found[1]) * _UNITS[found[2]], 2) if found else None


def share(text: str | None) -> float | None:
    """A percentage as a share of 1; None for what is none."""
    found = _PERCENT.fullmatch(text or "")
    return float(found[1]) / 100 if found else None


def whole(text: str | None, usual: int = 0) -> int:
    """A whole number, or what is usual where it is none."""
    try:
        return int(text) if text is not None else usual
    except ValueError:
        return usual


def color(text: str | None) -> str:
    """Six hexadecimal digits of a colour, nothing for none."""
    found = re.fullmatch(r"#([0-9a-fA-F]{6})", text or "")
    return found[1].lower() if found else ""
