"""Fonts as the source names them -> looks of letters: family, weight, slant."""

from __future__ import annotations

import ctypes
from typing import NamedTuple

import pypdfium2.raw as pdfium_c

from evenquill.core.font_names import (
    family_name,
    is_called_bold,
    is_called_italic,
    is_called_mono,
    is_called_regular,
    is_called_sans,
    is_called_symbol,
    without_subset,
)
from evenquill.core.model import Family

# Font descriptor flags, ISO 32000-1, table 123.
FIXED_PITCH = 1 << 0
SERIF = 1 << 1
ITALIC = 1 << 6
FORCE_BOLD = 1 << 18

BOLD_FROM = 600
"""Weight (100 to 900) from which letters count as bold; semi-bold is the first that is seen as emphasis."""

NAMELESS = "\0"
"""Begins the face of a font without a name while its page is read: what follows tells it from others."""


class Typeface(NamedTuple):
    """A font without its size and colour. ``face`` is its whole name in the file."""

    font: str
    family: Family
    bold: bool
    italic: bool
    symbol: bool
    face: str


def typeface_of(name: str, flags: int, weight: int, italic_angle: float) -> Typeface:
    """The look that a font name, descriptor flags, weight (0 for unknown) and angle (degrees) stand for."""
    heavy = bool(flags & FORCE_BOLD) or weight >= BOLD_FROM
    called_italic = is_called_italic(name)
    # A name that says the slant says the weight as well, where it is not the usual one; stems claim what they like.
    bold = is_called_bold(name) or (heavy and not is_called_regular(name) and not called_italic)
    italic = called_italic or bool(flags & ITALIC) or abs(italic_angle) > 2
    if is_called_mono(name) or flags & FIXED_PITCH:
        family = Family.MONO
    elif is_called_sans(name) and not flags & SERIF:
        family = Family.SANS
    else:
        family = Family.SERIF
    return Typeface(family_name(without_subset(name)), family, bold, italic, is_called_symbol(name), name)


def typeface_of_object(font: pdfium_c.FPDF_FONT) -> Typeface:
    """The look of a PDFium font handle."""
    size = pdfium_c.FPDFFont_GetBaseFontName(font, None, 0)
    buffer = ctypes.create_string_buffer(max(int(size), 1))
    pdfium_c.FPDFFont_GetBaseFontName(font, buffer, size)
    angle = ctypes.c_int()
    pdfium_c.FPDFFont_GetItalicAngle(font, ctypes.byref(angle))
    flags = int(pdfium_c.FPDFFont_GetFlags(font))
    weight = int(pdfium_c.FPDFFont_GetWeight(font))
    return typeface_of(buffer.value.decode("utf-8", "replace"), max(flags, 0), max(weight, 0), angle.value)
