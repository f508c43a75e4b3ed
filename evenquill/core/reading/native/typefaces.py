"""Fonts as the source names them -> looks of letters: family, weight, slant."""

from __future__ import annotations

import ctypes
import re
from typing import NamedTuple

import pypdfium2.raw as pdfium_c

from evenquill.core.model import Family

# Font descriptor flags, ISO 32000-1, table 123.
FIXED_PITCH = 1 << 0
SERIF = 1 << 1
ITALIC = 1 << 6
FORCE_BOLD = 1 << 18

BOLD_FROM = 600
"""Weight (100 to 900) from which letters count as bold; semi-bold is the first that is seen as emphasis."""

_SUBSET = re.compile(r"^[A-Z]{6}\+")
_BOLD = re.compile(r"bold|black|heavy|demi(?!n)|semibold|extrabold|^cmb|^sfb|-bd\b|,bd\b", re.I)
_ITALIC = re.compile(r"italic|oblique|slanted|kursiv|^cmti|^cmsl|^cmmi|^cmbxti|^sfti|-it\b|-obl\b|ital$", re.I)
_MONO = re.compile(r"mono|courier|typewriter|consol|^cmtt|^sftt|code\b|fixed", re.I)
_SANS = re.compile(
    r"sans|gothic|grotes|arial|helvet|carlito|calibri|verdana|tahoma|univers|futura|frutiger|segoe|roboto|"
    r"^cmss|^sfss|lato|inter\b|noto(?!serif)|liberation ?sans|dejavu ?sans",
    re.I,
)
_SYMBOL = re.compile(r"dingbat|wingding|webding|symbol|^cmsy|^cmex|^msam|^msbm|ornament|awesome|icons?\b", re.I)
_STYLE_TAIL = re.compile(
    r"[-, ]?(bold|black|heavy|demi|semibold|extrabold|light|medium|regular|roman|book|italic|oblique|"
    r"cond(ensed)?|mt|ps|std|[-, ])+$",
    re.I,
)
_TEX_FAMILIES = (
    (re.compile(r"^(cmss|sfss)", re.I), "Latin Modern Sans"),
    (re.compile(r"^(cmtt|sftt)", re.I), "Latin Modern Mono"),
)
_TEX = re.compile(r"^(cm[a-z]+|sf[a-z]{2})\d+$", re.I)


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
    base = _SUBSET.sub("", name)
    bold = is_called_bold(name) or bool(flags & FORCE_BOLD) or weight >= BOLD_FROM
    italic = bool(_ITALIC.search(base)) or bool(flags & ITALIC) or abs(italic_angle) > 2
    if _MONO.search(base) or flags & FIXED_PITCH:
        family = Family.MONO
    elif _SANS.search(base) and not flags & SERIF:
        family = Family.SANS
    else:
        family = Family.SERIF
    return Typeface(family_name(base), family, bold, italic, bool(_SYMBOL.search(base)), name)


def is_called_bold(name: str) -> bool:
    """Whether the name of a font says that its letters are bold."""
    return bool(_BOLD.search(_SUBSET.sub("", name)))


def family_name(base: str) -> str:
    """The family in a PostScript font name: ``LiberationSerif-BoldItalic`` is ``Liberation Serif``."""
    if _TEX.match(base):
        return next((family for pattern, family in _TEX_FAMILIES if pattern.match(base)), "Latin Modern Roman")
    family = _STYLE_TAIL.sub("", base.replace("_", " ")) or base
    return re.sub(r"(?<=[a-z])(?=[A-Z])", " ", family).strip()


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
