"""Which typeface stands for one of a name that says nothing: the one that ships whose letters are as wide as those on the page, so that
lines and pages end alike."""

from __future__ import annotations

import json
import statistics
from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cache
from pathlib import Path

from evenquill.core.model import Document, Family, Marks, StandIn, TextBlock, texts_of
from evenquill.core.model.inline import lettering_of
from evenquill.core.typefaces import SHIPPED, USUAL, is_known

FEWEST_WORDS = 12
"""Words that tell how wide the letters of a typeface are."""

MOST_WORDS = 400

LEAST_LETTERS = 3

NOTICED = 0.01
"""Share by which letters must be nearer in width to be worth another typeface than the usual one of the family."""

FAMILIES = {
    Family.SERIF: ("Libertinus Serif", "Liberation Serif", "Caladea", "New Computer Modern"),
    Family.SANS: ("Liberation Sans", "Carlito", "DejaVu Sans"),
    Family.MONO: ("Liberation Mono", "DejaVu Sans Mono"),
}
"""Those of SHIPPED by what they look like."""


@cache
def _letter_widths() -> dict[str, dict[str, float]]:
    """Ems of letters by typeface, as ``bench/letter_widths.py`` measured them."""
    table: dict[str, dict[str, float]] = json.loads(
        (Path(__file__).parent / "fitted" / "letter_widths.json").read_text()
    )
    assert set(table) == set(SHIPPED)
    return table


def measured_stand_ins(document: Document) -> tuple[StandIn, ...]:
    """What stands for the typefaces of a document of which nobody knows one with letters as wide."""
    found = []
    for (name, family), ratios in _ratios(document).items():
        fits = {face: abs(statistics.median(own) - 1.0) for face, own in ratios.items() if len(own) >= FEWEST_WORDS}
        if not fits:
            continue
        nearest = min(fits, key=lambda face: fits[face])
        usual = next((face for face in USUAL[family] if face in fits), nearest)
        if fits[nearest] < fits[usual] - NOTICED:
            found.append(StandIn(name, nearest))
    return tuple(found)


def _ratios(document: Document) -> Mapping[tuple[str, Family], Mapping[str, list[float]]]:
    """For each typeface without a known likeness, by name and family, how wide its words are over what each of the family would be."""
    ratios: dict[tuple[str, Family], dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    for block in document.blocks:
        for text in texts_of(block):
            style = document.style(text.style)
            key = (style.font, style.family)
            if not style.font or style.bold or style.italic or is_known(style.font) or not _is_plain(text):
                continue
            for face in FAMILIES[style.family]:
                own = ratios[key][face]
                if len(own) < MOST_WORDS:
                    own += _words(text, style.size, _letter_widths()[face])
    return ratios


def _is_plain(text: TextBlock) -> bool:
    """Whether all of a text looks as its style says."""
    return all(
        not item.marks & (Marks.BOLD | Marks.ITALIC | Marks.SMALL_CAPITALS)
        and not (lettering_of(item).font or lettering_of(item).size)
        for item in text.content
    )


def _words(text: TextBlock, size: float, widths: Mapping[str, float]) -> Iterator[float]:
    """How wide the words of a text are, which have letters of the table alone and were not recognised, over what they would be."""
    whole = text.text
    for word in text.words:
        letters = whole[word.start : word.end]
        if len(letters) >= LEAST_LETTERS and word.confidence == 1.0 and all(letter in widths for letter in letters):
            yield word.box.width / (size * sum(widths[letter] for letter in letters))
