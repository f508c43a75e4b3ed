"""Typefaces that stand for those that are not at hand: open ones with letters as wide, where there are some, so that pages end alike."""

from __future__ import annotations

import re
from collections.abc import Collection

import msgspec

from evenquill.core.model import Document, Family, texts_of

_SAME_WIDTHS = (
    (r"times|tinos|nimbus ?rom|termes|thorndale", "Liberation Serif"),
    (r"arial|arimo|helvet|nimbus ?san|heros|albany", "Liberation Sans"),
    (r"courier|cousine|nimbus ?mono|cursor|cumberland", "Liberation Mono"),
    (r"calibri", "Carlito"),
    (r"cambria(?! math)", "Caladea"),
    (r"latin modern roman|computer modern|^cm[rbu]|cmu serif|lmroman", "New Computer Modern"),
    (r"libertin", "Libertinus Serif"),
    (r"verdana|bitstream vera|dejavu sans(?! mono)", "DejaVu Sans"),
    (r"latin modern mono|lmmono|consol|menlo|monaco|source code|dejavu sans mono", "DejaVu Sans Mono"),
)
"""Patterns of names, and an open typeface with letters as wide, or nearly so."""

USUAL = {
    Family.SERIF: ("Libertinus Serif", "New Computer Modern"),
    Family.SANS: ("Liberation Sans", "DejaVu Sans", "Libertinus Serif"),
    Family.MONO: ("Liberation Mono", "DejaVu Sans Mono"),
}
"""Typefaces of the three families, of which nothing else is known. Those of serifs ship with what sets the pages."""


class StandIn(msgspec.Struct, frozen=True):
    """A typeface of a document that is not at hand, and the one that stands for it."""

    name: str
    stands: str


def faces_for(name: str, family: Family) -> tuple[str, ...]:
    """The typefaces in which text is set that has the typeface of this name, the first that is at hand: itself before others."""
    found = next((face for pattern, face in _SAME_WIDTHS if re.search(pattern, name, re.IGNORECASE)), "")
    return tuple(dict.fromkeys(face for face in (name, found, *USUAL[family]) if face))


def stand_ins(document: Document, at_hand: Collection[str]) -> tuple[StandIn, ...]:
    """The typefaces of styles in use that are not at hand, those of most rows first."""
    known = {face.casefold() for face in at_hand}
    counts: dict[StandIn, int] = {}
    for block in document.blocks:
        for text in () if block.excluded else texts_of(block):
            style = document.style(text.style)
            faces = [face for face in faces_for(style.font, style.family) if face.casefold() in known]
            if style.font and style.font.casefold() not in known and faces:
                one = StandIn(style.font, faces[0])
                counts[one] = counts.get(one, 0) + 1
    return tuple(sorted(counts, key=lambda one: -counts[one]))
