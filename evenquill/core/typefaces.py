"""Typefaces that stand for those that are not at hand: open ones with letters as wide, where there are some, so that pages end alike."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterable

import msgspec

from evenquill.core.font_names import family_called
from evenquill.core.model import Document, Family, StandIn, texts_of
from evenquill.core.model.inline import lettering_of

_SAME_WIDTHS = (
    (r"times|tinos|nimbus ?rom|termes|thorndale", "Liberation Serif"),
    (r"arial|arimo|helvet|nimbus ?san|heros|albany", "Liberation Sans"),
    (r"courier|cousine|nimbus ?mon|cursor|cumberland", "Liberation Mono"),
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


FAMILY_OF_SHIPPED = {
    "Liberation Serif": Family.SERIF,
    "Liberation Sans": Family.SANS,
    "Liberation Mono": Family.MONO,
    "Carlito": Family.SANS,
    "Caladea": Family.SERIF,
    "DejaVu Sans": Family.SANS,
    "DejaVu Sans Mono": Family.MONO,
    "Libertinus Serif": Family.SERIF,
    "New Computer Modern": Family.SERIF,
}
"""Typefaces that are at hand wherever the application is, and what they look like."""

SHIPPED = tuple(FAMILY_OF_SHIPPED)


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


def stand_ins_with(chosen: Iterable[StandIn], others: Iterable[StandIn]) -> tuple[StandIn, ...]:
    """What was chosen to stand for typefaces, and what stands for ``others`` of which nothing was."""
    return tuple({one.name.casefold(): one for one in (*others, *chosen)}.values())


def is_known(name: str) -> bool:
    """Whether a typeface with letters as wide as those of one of this name is known, or it ships itself."""
    return name in SHIPPED or any(re.search(pattern, name, re.IGNORECASE) for pattern, _ in _SAME_WIDTHS)


def typeface_uses(document: Document) -> tuple[TypefaceUse, ...]:
    """The typefaces that the styles and the text of a document name, each once, those of most texts first."""
    counts: Counter[str] = Counter()
    families: dict[str, Family] = {}
    for block in document.blocks:
        for text in () if block.excluded else texts_of(block):
            style = document.style(text.style)
            named = dict.fromkeys((style.font, *(lettering_of(item).font for item in text.content)))
            counts.update(name for name in named if name)
            families |= {style.font: style.family}
    chosen = {one.name.casefold(): one.stands for one in document.stand_ins}
    uses = []
    for name, count in counts.most_common():
        family = families.get(name) or family_called(name)
        faces = faces_for(name, family, document.stand_ins)
        uses.append(TypefaceUse(name, family, count, chosen.get(name.casefold(), ""), faces))
    return tuple(uses)


def stand_ins(document: Document, at_hand: Collection[str]) -> tuple[StandIn, ...]:
    """The typefaces in use that are not at hand with what stands for them, those of most texts first."""
    known = {face.casefold() for face in at_hand}
    found = ((use.name, [face for face in use.faces if face.casefold() in known]) for use in typeface_uses(document))
    return tuple(StandIn(name, faces[0]) for name, faces in found if faces and name.casefold() not in known)
