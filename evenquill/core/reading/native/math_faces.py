"""Typefaces for mathematics, and what their characters are.

TeX's own typefaces have codes of their own for what Unicode had no place for when they were drawn; files often carry no map for them, and
PDFium then gives the code itself. The tables are OML, OMS and OMX, as Knuth's "Computer Modern Typefaces" (1986) has them.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

from evenquill.core.equations.signs import NARY, RELATIONS, plain_letter
from evenquill.core.font_names import without_subset
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.native.tex_codes import SIGNS_OF_OMS

_LETTERS = re.compile(
    r"(?i)^(cmmi\d|lmmathitalic|lmmi|cmmib|pxmi|rpxmi|txmi|rtxmi|ntxmi|mtmi|eurm|zptmcm7m|pplr7m|futmii)"
)
_SIGNS = re.compile(
    r"(?i)^(cmsy\d|cmbsy|lmmathsymbols|lmsy|pxsy|txsy|rtxsy|ntxsy|mtsy|zpsycm|eusm|rsfs|zptmcm7y|pplr7y)"
)
_LARGE = re.compile(
    r"(?i)^(cmex|lmmathextension|lmex|pxex|txex|rtxex|ntxex|mtex|zptmcm7v|pplr7v|fourier-math-ex|esint)"
)
_ALPHABETS = re.compile(r"(?i)^(msam|msbm|stmary|eufm|eufb|fplmbb|bbold|dsrom|bbm|pazomathblackboard)")
_UNICODE = re.compile(r"(?i)math|^symbol|^standardsym")

_SYMBOL_FACE = re.compile(r"(?i)^symbol|^standardsym")
"""The typeface whose phi and phi1 look the other way round than the characters that their names are taken for."""

_OML = {
    0x0F: "ϵ", 0x10: "ζ", 0x11: "η", 0x12: "θ", 0x13: "ι", 0x14: "κ", 0x15: "λ", 0x16: "μ", 0x17: "ν", 0x18: "ξ", 0x19: "π", 0x1A: "ρ",
    0x1B: "σ", 0x1C: "τ", 0x1D: "υ", 0x1E: "ϕ", 0x1F: "χ", 0x0B: "α", 0x0C: "β", 0x0D: "γ", 0x0E: "δ", 0x00: "Γ", 0x01: "Δ", 0x02: "Θ",
    0x03: "Λ", 0x04: "Ξ", 0x05: "Π", 0x06: "Σ", 0x07: "Υ", 0x08: "Φ", 0x09: "Ψ", 0x0A: "Ω", 0x20: "ψ", 0x21: "ω", 0x22: "ε", 0x23: "ϑ",
    0x24: "ϖ", 0x25: "ϱ", 0x26: "ς", 0x27: "φ", 0x3F: "⋆", 0x40: "∂", 0x60: "ℓ", 0x7B: "ı", 0x7C: "ȷ", 0x7D: "℘", 0x7E: "→",
}  # fmt: skip
_OMS = {
    **SIGNS_OF_OMS, 0x04: "÷", 0x05: "⋄", 0x07: "∓", 0x08: "⊕", 0x09: "⊖", 0x0A: "⊗", 0x0C: "⊙",
    0x0E: "∘", 0x0F: "∙", 0x10: "≍", 0x11: "≡", 0x12: "⊆", 0x13: "⊇", 0x14: "≤", 0x15: "≥", 0x18: "∼", 0x19: "≈", 0x1A: "⊂", 0x1B: "⊃",
    0x1C: "≪", 0x1D: "≫", 0x1E: "≺", 0x1F: "≻", 0x20: "←", 0x21: "→", 0x22: "↑", 0x23: "↓", 0x24: "↔", 0x27: "≃", 0x28: "⇐", 0x29: "⇒",
    0x2C: "⇔", 0x2F: "∝", 0x30: "′", 0x31: "∞", 0x32: "∈", 0x33: "∋", 0x34: "△", 0x36: "̸", 0x37: "↦", 0x38: "∀", 0x39: "∃", 0x3A: "¬",
    0x3B: "∅", 0x3C: "ℜ", 0x3D: "ℑ", 0x3E: "⊤", 0x3F: "⊥", 0x40: "ℵ", 0x5B: "∪", 0x5C: "∩", 0x5D: "⊎", 0x5E: "∧", 0x5F: "∨", 0x60: "⊢",
    0x62: "⌊", 0x63: "⌋", 0x64: "⌈", 0x65: "⌉", 0x66: "{", 0x67: "}", 0x68: "⟨", 0x69: "⟩", 0x6A: "|", 0x6B: "‖", 0x6E: "∖", 0x70: "√",
    0x71: "∐", 0x72: "∇", 0x73: "∫", 0x74: "⊔", 0x75: "⊓",
}  # fmt: skip
_OMX = {
    **dict(enumerate("()[]⌊⌋⌈⌉{}⟨⟩|‖/∖")),
    **dict(enumerate("()()[]⌊⌋⌈⌉{}⟨⟩/∖", 0x10)),
    **dict(enumerate("()[]⌊⌋⌈⌉{}⟨⟩/∖/∖", 0x20)),
    **dict(enumerate("⎛⎞⎡⎤⎣⎦⎢⎥⎧⎫⎩⎭⎨⎬⎪⏐", 0x30)),
    **dict(enumerate("⎝⎠⎜⎟⟨⟩⨆⨆∮∮⨀⨀⨁⨁⨂⨂", 0x40)),
    **dict(enumerate("∑∏∫⋃⋂⨄⋀⋁∑∏∫⋃⋂⨄⋀⋁", 0x50)),
    **dict(enumerate("∐∐^^^~~~[]⌊⌋⌈⌉{}", 0x60)),
    **dict(enumerate("√√√√⎷\ue000\ue001", 0x70)),
    0x77: "‖", 0x7A: "⏞", 0x7B: "⏞", 0x7C: "⏟", 0x7D: "⏟",
}  # fmt: skip

_FILLED = {"⁄": "/", "\u2206": "Δ", "\u2126": "Ω", "µ": "μ", "-": "−"}
"""Characters that look like those meant, and those."""

_PIECES = dict(zip(map(chr, range(0xF8EB, 0xF8FF)), "⎛⎜⎝⎡⎢⎣⎧⎨⎩⎪⎮⎞⎟⎠⎤⎥⎦⎫⎬⎭", strict=True)) | {
    "\uf8e6": "⏐",
    "\uf8e5": "\ue001",
}
"""Pieces of tall signs by the codes for private use that the common list of glyph names has for them."""

_TEXT_SIGNS = frozenset("•·∙◦∘*∗†‡§¶°©®™…,.;:\"'’“”–—‐‑-")
"""Signs that text takes from typefaces for mathematics, and that do not make an equation of it."""


class Face(NamedTuple):
    """What a typeface is for mathematics: ``kind`` is letters, signs, large, alphabets (double-struck, Fraktur), unicode, or text."""

    kind: str
    bold: bool = False


class Symbol(NamedTuple):
    """A character with its meaning. ``mathematical`` if it stands in a typeface for mathematics or is one that only mathematics has."""

    text: str
    form: Letterform
    mathematical: bool


@lru_cache(maxsize=1024)
def face_of(name: str) -> Face:
    """What a typeface is, by its name in the file."""
    plain = without_subset(name).replace(" ", "")
    bold = bool(re.search(r"(?i)cmmib|cmbsy|bold|mib\d", plain))
    for kind, pattern in (
        ("large", _LARGE),
        ("alphabets", _ALPHABETS),
        ("signs", _SIGNS),
        ("letters", _LETTERS),
        ("unicode", _UNICODE),
    ):
        if pattern.search(plain):
            return Face(kind, bold)
    return Face("text", bold)


def symbol_of(text: str, face: Face, name: str, *, bold: bool, italic: bool) -> Symbol:
    """The meaning of a character as it was read, by its typeface."""
    text = _PIECES.get(text, text)
    code = ord(text[0])
    if face.kind == "large" and code < 0x80:
        return Symbol(_OMX.get(code, text), Letterform.UPRIGHT, True)
    if face.kind == "signs":
        return _sign(text, code, face)
    if face.kind == "letters":
        known = _OML.get(code) if code < 0x30 or code in (0x3F, 0x40, 0x60) or code > 0x7A else None
        text = known or _FILLED.get(text, text)
        upright = text.isdigit() or (text.isalpha() and "Α" <= text <= "Ω")
        form = Letterform.BOLD_ITALIC if face.bold else Letterform.UPRIGHT if upright else Letterform.ITALIC
        return Symbol(text, form, text not in _TEXT_SIGNS)
    if face.kind == "alphabets":
        form = Letterform.FRAKTUR if re.search(r"(?i)euf", name) else Letterform.DOUBLE_STRUCK
        return Symbol(text, form if text.isalpha() else Letterform.UPRIGHT, text.isalpha() or text in RELATIONS)
    plain, own = plain_letter(text)
    if own is not None:
        return Symbol(plain, own, True)
    form = (
        Letterform.BOLD_ITALIC
        if bold and italic
        else Letterform.BOLD
        if bold
        else Letterform.ITALIC
        if italic
        else Letterform.UPRIGHT
    )
    if face.kind == "unicode":
        if _SYMBOL_FACE.search(without_subset(name)):
            text = {"φ": "ϕ", "ϕ": "φ"}.get(text, text)
        text = {"∣": "|", "-": "−", "\u2206": "Δ", "\u2126": "Ω", "µ": "μ"}.get(text, text)
        greek = text.isalpha() and "α" <= text <= "ϵ"
        return Symbol(text, Letterform.ITALIC if greek and not bold else form, text not in _TEXT_SIGNS)
    text = {"\u2206": "Δ", "\u2126": "Ω"}.get(text, text)
    if "α" <= text <= "ω" and not bold:
        form = Letterform.ITALIC
    return Symbol(text, form, text in NARY or text == "√")


def _sign(text: str, code: int, face: Face) -> Symbol:
    """A character of a typeface of signs, in which capitals are those of a script."""
    if text.isascii() and text.isalpha() and text.isupper():
        return Symbol(text, Letterform.SCRIPT, True)
    if code < 0x80 and text not in "{}|*\\":
        text = _OMS.get(code, text)
    text = _FILLED.get(text, text)
    return Symbol("|" if text == "∣" else text, Letterform.UPRIGHT, text not in _TEXT_SIGNS)
