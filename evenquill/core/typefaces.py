"""Typefaces that stand for those that are not at hand: open ones with letters as wide, where there are some, so that pages end alike."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterable

import msgspec

from evenquill.core.model import Document, Family, StandIn, texts_of
from evenquill.core.model.inline import lettering_of

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


SHIPPED = (
    "Liberation Serif", "Liberation Sans", "Liberation Mono", "Carlito", "Caladea", "DejaVu Sans", "DejaVu Sans Mono", "Libertinus Serif",
    "New Computer Modern",
)  # fmt: skip
"""Typefaces that are at hand wherever the application is."""


class TypefaceUse(msgspec.Struct, frozen=True):
    """A typeface of a document: its family, how many texts have it, the one that was chosen to stand for it ("" for none), and those that
    are tried one after the other, itself first."""

    name: str
    family: Family
    count: int
    chosen: str
    faces: tuple[str, ...]


def faces_for(name: str, family: Family, chosen: Iterable[StandIn] = ()) -> tuple[str, ...]:
    """The typefaces in which text is set that has the typeface of this name, the first that is at hand: itself before the one that was
    ``chosen`` for it, and that before others."""
    picked = next((one.stands for one in chosen if one.name.casefold() == name.casefold()), "")
    found = next((face for pattern, face in _SAME_WIDTHS if re.search(pattern, name, re.IGNORECASE)), "")
    return tuple(dict.fromkeys(face for face in (name, picked, found, *USUAL[family]) if face))


def typeface_uses(document: Document) -> tuple[TypefaceUse, ...]:
    """The typefaces that the styles and the text of a document name, those of most texts first."""
    counts: Counter[tuple[str, Family]] = Counter()
    for block in document.blocks:
        for text in () if block.excluded else texts_of(block):
            style = document.style(text.style)
            fonts = {lettering.font for item in text.content if (lettering := lettering_of(item)) and lettering.font}
            counts.update((font, style.family) for font in {style.font, *fonts} if font)
    chosen = {one.name.casefold(): one.stands for one in document.stand_ins}
    return tuple(
        TypefaceUse(name, family, count, chosen.get(name.casefold(), ""), faces_for(name, family, document.stand_ins))
        for (name, family), count in counts.most_common()
    )


def stand_ins(document: Document, at_hand: Collection[str]) -> tuple[StandIn, ...]:
    """The typefaces of styles in use that are not at hand, those of most rows first."""
    known = {face.casefold() for face in at_hand}
    counts: dict[StandIn, int] = {}
    for block in document.blocks:
        for text in () if block.excluded else texts_of(block):
            style = document.style(text.style)
            faces = [
                face for face in faces_for(style.font, style.family, document.stand_ins) if face.casefold() in known
            ]
            if style.font and style.font.casefold() not in known and faces:
                one = StandIn(style.font, faces[0])
                counts[one] = counts.get(one, 0) + 1
    return tuple(sorted(counts, key=lambda one: -counts[one]))
