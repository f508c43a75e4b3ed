"""The symbols that are told apart, and the characters of typefaces for mathematics that show each."""

from __future__ import annotations

import string
from collections.abc import Iterator
from typing import NamedTuple

from evenquill.core.model.equation import Letterform

SIGNS = "0123456789+−=<>≤≥≠≈≡∼≃≅≪≫±∓×÷·∗∘/\\|∥()[]{}⟨⟩⌊⌋⌈⌉∑∏∫∮√∂∇∞∈∉⊂⊆⊃∪∩∅∀∃¬∧∨⊕⊗→←↔⇒⇔↦⊥∝′,.:;!?%°ℓ†∴"
ACCENTS = "^~"
CAPITALS = "ΓΔΘΛΞΠΣΦΨΩ"
GREEK = "αβγδεζηθικλμνξπρστυφχψω"
OTHER_GREEK = {"ϵ": "𝜖", "ϑ": "𝜗", "ϕ": "𝜙", "ϱ": "𝜚"}
DOUBLE_STRUCK = {"R": "ℝ", "N": "ℕ", "Z": "ℤ", "Q": "ℚ", "C": "ℂ", "E": "𝔼", "P": "ℙ", "1": "𝟙"}
SCRIPT = {"L": "ℒ", "F": "ℱ", "N": "𝒩", "O": "𝒪", "D": "𝒟", "H": "ℋ", "A": "𝒜", "B": "ℬ", "C": "𝒞", "S": "𝒮", "P": "𝒫"}
OF_ANY_HEIGHT = frozenset("()[]{}⟨⟩⌊⌋⌈⌉|∥∑∏∫∮√/\\")


class Shown(NamedTuple):
    """A class, the characters of typefaces for mathematics that show it, and those of text typefaces, in their slanted face or not."""

    text: str
    form: Letterform
    characters: str
    in_text: str = ""
    slanted: bool = False


def all_classes() -> list[Shown]:
    """The classes in the order of the network's outputs; the last is that for what is no symbol."""
    return list(_classes())


def _classes() -> Iterator[Shown]:
    upright, italic, bold = Letterform.UPRIGHT, Letterform.ITALIC, Letterform.BOLD
    for sign in SIGNS:
        yield Shown(sign, upright, sign, sign if sign in string.digits + string.punctuation else "")
    for sign in ACCENTS:
        yield Shown(sign, upright, {"^": "^ˆ", "~": "˜"}[sign])
    for n, letter in enumerate(string.ascii_uppercase):
        yield Shown(letter, upright, letter, letter)
        yield Shown(letter, italic, chr(0x1D434 + n), letter, slanted=True)
        yield Shown(letter, bold, chr(0x1D400 + n))
    for n, letter in enumerate(string.ascii_lowercase):
        yield Shown(letter, upright, letter, letter)
        yield Shown(letter, italic, "ℎ" if letter == "h" else chr(0x1D44E + n), letter, slanted=True)
        yield Shown(letter, bold, chr(0x1D41A + n))
    for letter in CAPITALS:
        yield Shown(letter, upright, letter + chr(0x1D6E2 + ord(letter) - ord("Α")))
    for letter in GREEK:
        yield Shown(letter, italic, chr(0x1D6FC + ord(letter) - ord("α")))
    for letter, character in OTHER_GREEK.items():
        yield Shown(letter, italic, character)
    for letter, character in DOUBLE_STRUCK.items():
        yield Shown(letter, Letterform.DOUBLE_STRUCK, character)
    for letter, character in SCRIPT.items():
        yield Shown(letter, Letterform.SCRIPT, character)
    yield Shown("", upright, "")
