"""Codes of fonts that TeX embeds as little drawings (Type 3), without names and without a map to Unicode: they are those of TeX's own
encodings, which agree with others in letters and figures only.

The encodings are T1 (Cork, 1990), its companion TS1, OT1 and OMS, as The LaTeX Companion and the ``fontenc`` package list them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from evenquill.core.reading.native.typefaces import NAMELESS

_T1 = {
    **dict(enumerate("`´ˆ˜¨˝˚ˇ˘¯˙¸˛‚‹›“”„«»–—")),
    0x19: "ı", 0x1A: "ȷ", 0x1B: "ff", 0x1C: "fi", 0x1D: "fl", 0x1E: "ffi", 0x1F: "ffl", 0x27: "’", 0x60: "‘", 0x7F: "-",
    **dict(enumerate("ĂĄĆČĎĚĘĞĹĽŁŃŇŊŐŔŘŚŠŞŤŢŰŮŸŹŽŻĲİđ§ăąćčďěęğĺľłńňŋőŕřśšşťţűůÿźžżĳ¡¿£", 0x80)),
    0xD7: "Œ", 0xDF: "SS", 0xF7: "œ", 0xFF: "ß",
}  # fmt: skip
_TS1 = {
    0x18: "←", 0x19: "→", 0x27: "'", 0x2A: "*", 0x84: "†", 0x85: "‡", 0x86: "‖", 0x87: "‰", 0x88: "•", 0x89: "℃", 0x8B: "ƒ", 0x97: "™",
    0xBF: "€",
}  # fmt: skip
_OT1 = {
    **dict(enumerate(("Γ", "Δ", "Θ", "Λ", "Ξ", "Π", "Σ", "Υ", "Φ", "Ψ", "Ω", "ff", "fi", "fl", "ffi", "ffl"))),
    **dict(enumerate("ıȷ`´ˇ˘¯˚¸ßæœøÆŒØ", 0x10)),
    0x22: "”", 0x27: "’", 0x3C: "¡", 0x3E: "¿", 0x5C: "“", 0x5F: "˙", 0x60: "‘", 0x7B: "–", 0x7C: "—", 0x7D: "˝", 0x7E: "˜", 0x7F: "¨",
}  # fmt: skip
SIGNS_OF_OMS = {
    0x00: "−", 0x01: "·", 0x02: "×", 0x03: "∗", 0x06: "±", 0x0D: "○", 0x0E: "◦", 0x0F: "•", 0x79: "†", 0x7A: "‡", 0x7B: "¶", 0x78: "§",
}  # fmt: skip

LIGATURES_OF_OT1, LIGATURES_OF_T1 = range(0x0B, 0x10), range(0x1B, 0x20)
"""Codes of ff, fi, fl, ffi and ffl."""

HYPHEN, END_OF_LINE = 0x02, frozenset((0x00, 0x0A, 0x0D))
"""What PDFium gives for a hyphen at a line's end; and codes that other files may have at the end of a line, so that they tell nothing."""


def texts_of_tex_codes(codes: Mapping[str, Sequence[int]]) -> dict[tuple[str, int], str]:
    """What codes mean, by face and code, where they do not mean what Unicode says; ``codes`` are those of a page by face.

    Nothing if no nameless face has codes that stand for nothing in Unicode (0 to 31, 128 to 159): such fonts have a map.
    """
    nameless = {face: frozenset(own) - {HYPHEN} for face, own in codes.items() if face.startswith(NAMELESS)}
    if not any(_is_control(code) for own in nameless.values() for code in own):
        return {}
    found: dict[tuple[str, int], str] = {}
    for face, own in nameless.items():
        table = _encoding_of(own)
        found |= {(face, code): table[code] for code in own if code in table}
    return found


def _is_control(code: int) -> bool:
    return (code < 0x20 and code not in END_OF_LINE) or 0x80 <= code < 0xA0


def _encoding_of(codes: frozenset[int]) -> Mapping[int, str]:
    """The encoding that a font's codes are of: text has letters, symbols have none; ligatures stand in other places in the older one."""
    if not any(chr(code).isascii() and chr(code).isalpha() for code in codes):
        return _TS1 if any(code >= 0x80 for code in codes) else SIGNS_OF_OMS
    if codes.intersection(LIGATURES_OF_OT1) and not codes.intersection(LIGATURES_OF_T1) and max(codes) < 0x80:
        return _OT1
    return _T1
