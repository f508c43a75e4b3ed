"""What figures and tables are called, in their captions and where they are named: ``Figure 3``, ``Tabelle 2.1``."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

FIGURE_AND_TABLE = {
    "en": ("Figure", "Table"), "de": ("Abbildung", "Tabelle"), "fr": ("Figure", "Tableau"), "es": ("Figura", "Tabla"),
    "it": ("Figura", "Tabella"), "pt": ("Figura", "Tabela"), "nl": ("Figuur", "Tabel"), "sv": ("Figur", "Tabell"),
    "fi": ("Kuva", "Taulukko"), "da": ("Figur", "Tabel"), "nb": ("Figur", "Tabell"), "no": ("Figur", "Tabell"),
    "pl": ("Rysunek", "Tabela"), "cs": ("Obrázek", "Tabulka"), "ca": ("Figura", "Taula"), "ro": ("Figura", "Tabelul"),
    "ru": ("Рисунок", "Таблица"), "uk": ("Рисунок", "Таблиця"), "el": ("Εικόνα", "Πίνακας"),
}  # fmt: skip
"""What figures and tables are called, by language (ISO 639-1); in others as in English."""

SHORT_AND_OTHER = (
    "fig", "fig.", "abb", "abb.", "tab.", "rys.", "obr.", "рис.", "табл.", "plate", "chart", "map", "photo", "bild",
)  # fmt: skip
"""Short forms of these, and what else is captioned."""

_WORDS = "|".join(
    map(
        re.escape,
        sorted(
            {*SHORT_AND_OTHER, *(word for words in FIGURE_AND_TABLE.values() for word in words)}, key=len, reverse=True
        ),
    )
)
_LABEL = re.compile(rf"\b(?P<word>{_WORDS})\s*(?P<number>\d+(?:[.-]\d+)*[a-z]?)\b", re.I)
_CAPTION = re.compile(rf"^(?:{_WORDS})\s*\d+[a-z]?\s*[.:)–—-]", re.I)


class Label(NamedTuple):
    """The word and the number as printed, and the characters of the text that they and the number take."""

    word: str
    number: str
    start: int
    end: int
    number_start: int

    @property
    def name(self) -> tuple[str, str]:
        """The same for all ways to write it: the first three letters, which are those of the word's short form, and the number."""
        return self.word[:3].casefold(), self.number.casefold()


def labels_in(text: str) -> Iterator[Label]:
    """All names of figures and tables in a text."""
    for match in _LABEL.finditer(text):
        yield Label(match["word"], match["number"], match.start(), match.end(), match.start("number"))


def label_of(caption: str) -> Label | None:
    """What a caption's figure or table is called, None where it does not begin with that."""
    first = next(labels_in(caption), None)
    return first if first is not None and first.start == 0 else None


def is_caption(text: str) -> bool:
    """Whether a paragraph's text begins as captions do."""
    return bool(_CAPTION.match(text))
