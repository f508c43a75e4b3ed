"""What single characters are in an equation: which letters are one letter in another form, and which signs do what."""

from __future__ import annotations

import unicodedata
from functools import cache

from evenquill.core.model.equation import Letterform

_FORMS = (
    ("MONOSPACE", Letterform.MONOSPACE),
    ("SANS-SERIF", Letterform.SANS_SERIF),
    ("DOUBLE-STRUCK", Letterform.DOUBLE_STRUCK),
    ("FRAKTUR", Letterform.FRAKTUR),
    ("BLACK-LETTER", Letterform.FRAKTUR),
    ("SCRIPT", Letterform.SCRIPT),
    ("BOLD ITALIC", Letterform.BOLD_ITALIC),
    ("BOLD", Letterform.BOLD),
    ("ITALIC", Letterform.ITALIC),
)
"""Words in the Unicode names of letters for mathematics, the telling ones first."""

_KEPT = frozenset("ℓ℘ℏℑℜℵ")
"""Letters with a form of their own that stands for itself."""

NARY = frozenset("∑∏∐∫∬∭∮⋃⋂⨁⨂⋁⋀⨆")
"""Operators over all that a bound variable may be, which are set large and have bounds."""

INTEGRALS = frozenset("∫∬∭∮")
"""Those whose bounds stand behind them."""

RELATIONS = frozenset("=<>≤≥≠≈≡∼≃≅≪≫∈∉∋⊂⊃⊆⊇→←↔⇒⇐⇔↦∝⊥∥≺≻∣⊢⊨≐:⟶⟹⟺⩽⩾≲≳↑↓⇌")
OPERATIONS = frozenset("+−±∓×÷·∗⋅∘⊕⊗⊖∪∩∧∨∖⋆†/∙")

OPENING = {"(": ")", "[": "]", "{": "}", "⟨": "⟩", "⌊": "⌋", "⌈": "⌉"}
"""Fences and what closes them."""

CLOSING = frozenset(OPENING.values())
BARS = frozenset("|∥‖")
"""Fences that open and close alike."""

_FUNCTIONS_NAMES = (
    "sin cos tan cot sec csc sinh cosh tanh coth arcsin arccos arctan log ln lg exp max min sup inf lim limsup liminf det dim ker "
    "deg arg gcd lcm Pr hom mod sgn sign tr rank span diag var Var cov Cov erf argmax argmin arsinh arcosh artanh tg ctg cotg "
    "arctg sen cosec card grad div rot curl const Re Im id vol ord supp conv"
)
FUNCTIONS = frozenset(_FUNCTIONS_NAMES.split())
"""Names of functions that are set upright."""

WITH_LIMITS = frozenset({"lim", "limsup", "liminf", "max", "min", "sup", "inf", "argmax", "argmin", "det", "gcd", "Pr"})
"""Functions that have their bounds below them when they stand in a display."""

ACCENTS = {
    "\u0302": "^", "ˆ": "^", "^": "^", "\u0303": "~", "˜": "~", "~": "~", "\u0304": "¯", "\u0305": "¯", "¯": "¯", "‾": "¯", "\u0307": "˙",
    "˙": "˙", "\u0308": "¨", "¨": "¨", "\u20d7": "→", "→": "→", "\u030c": "ˇ", "ˇ": "ˇ", "\u0306": "˘", "˘": "˘", "\u0301": "´",
    "´": "´", "\u0300": "`", "`": "`", "\u030a": "˚", "˚": "˚", "⏞": "⏞", "⏟": "⏟",
}  # fmt: skip
"""Signs over letters, and the one of each kind that the tree has."""

COMBINING = {
    "^": "\u0302", "~": "\u0303", "¯": "\u0304", "˙": "\u0307", "¨": "\u0308", "→": "\u20d7", "ˇ": "\u030c", "˘": "\u0306", "´": "\u0301",
    "`": "\u0300", "˚": "\u030a",
}  # fmt: skip
"""The combining character for each sign over letters."""

PRIMES = {"′": 1, "″": 2, "‴": 3, "'": 1, "’": 1}


@cache
def plain_letter(character: str) -> tuple[str, Letterform | None]:
    """A letter for mathematics as a plain letter and its form; None for a character that has no form of its own, or a ligature, which is
    read as several."""
    if (
        character in _KEPT
        or len(character) != 1
        or not (0x2100 <= ord(character) < 0x2150 or 0x1D400 <= ord(character) < 0x1D800)
    ):
        return character, None
    if character == "ℎ":
        return "h", Letterform.ITALIC
    name = unicodedata.name(character, "")
    form = next((form for words, form in _FORMS if words in name), None)
    if form is None:
        return character, None
    return unicodedata.normalize("NFKC", character), form
