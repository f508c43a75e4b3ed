"""Real sentences, titles and list items in many languages, from the HTML of a documentation package."""

from __future__ import annotations

import random
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from lxml import html

LANGUAGES = ("en", "de", "fr", "es", "it", "pt", "nl", "sv", "da", "cs", "ca", "ro", "ru")

GUIDES = "usr/share/doc/installation-guide-amd64"

_SENTENCE = re.compile(r"(?<=[.!?])\s+(?=[^\W\d_a-zа-я])")
_NUMBER = re.compile(r"^(?:\S+\s)?(?:[A-Z]\.)?[\d.]+\s+|^[^\W\d_]+ \S+\.\s+")


@dataclass(frozen=True)
class Prose:
    """What a language has to give: ``paragraphs`` are lists of sentences."""

    language: str
    paragraphs: tuple[tuple[str, ...], ...]
    titles: tuple[str, ...]
    items: tuple[str, ...]
    nouns: tuple[str, ...]


@cache
def prose_of(root: Path, language: str) -> Prose:
    """All prose of one language in the unpacked packages below ``root``."""
    paragraphs, titles, items = [], {}, {}
    for file in sorted((root / GUIDES / language).glob("*.html*")):
        page = html.parse(str(file), parser=html.HTMLParser(encoding="utf-8")).getroot()
        for element in page.iter("p", "h1", "h2", "h3", "h4", "li"):
            for note in element.xpath(".//sup | .//pre | .//div | .//span[@class='footnote']"):
                note.drop_tree()
            text = " ".join(element.text_content().split()).replace("\u00ad", "").replace("\u200b", "")
            if any(sign in text for sign in "/<>{}|_=[]#$") or not text:
                continue
            if element.tag == "p" and 60 <= len(text) <= 1500 and text[-1] in ".!?:":
                paragraphs.append(tuple(s for s in _SENTENCE.split(text) if 12 < len(s) < 400))
            elif element.tag.startswith("h"):
                title = _NUMBER.sub("", text).strip()
                if 3 < len(title) < 90:
                    titles[title] = None
            elif element.tag == "li" and 10 < len(text) < 300:
                items[text] = None
    kept = tuple(p for p in dict.fromkeys(paragraphs) if p)
    words = {
        w.strip("„“”\"'«»(),.;:"): None
        for p in kept
        for s in p
        for w in s.split()[1:]
        if re.fullmatch(r"[^\W\d_]{4,14}[,.]?", w)
    }
    return Prose(language, kept, tuple(titles), tuple(items), tuple(words))


class Writer:
    """Takes sentences, titles and words of one language at random; never the same paragraph twice in a row."""

    def __init__(self, prose: Prose, rng: random.Random) -> None:
        self.prose, self.rng, self.language = prose, rng, prose.language

    def sentence(self) -> str:
        return self.rng.choice(self.rng.choice(self.prose.paragraphs))

    def paragraph(self, least: int = 1, most: int = 6) -> str:
        """Sentences that follow each other in the source, and others."""
        wanted = self.rng.randint(least, most)
        out: list[str] = []
        while len(out) < wanted:
            out += self.rng.choice(self.prose.paragraphs)[: wanted - len(out)]
        text = " ".join(out)
        return text if text[-1] in ".!?" else text[:-1] + "."

    def title(self, longest: int = 60) -> str:
        fitting = [t for t in self.prose.titles if len(t) <= longest] if self.rng.random() < 0.85 else []
        return self.rng.choice(fitting or self.prose.titles)

    def item(self, longest: int = 200) -> str:
        if self.rng.random() < 0.5:
            text = self.rng.choice(self.prose.items)
            if len(text) <= longest:
                return text
        return self.phrase(2, 6) if longest < 60 or self.rng.random() < 0.3 else self.sentence()

    def word(self) -> str:
        return self.rng.choice(self.prose.nouns)

    def label(self) -> str:
        """One to three words with a capital."""
        text = " ".join(self.word() for _ in range(self.rng.choice((1, 1, 1, 2, 2, 3))))
        return text[0].upper() + text[1:]

    def phrase(self, least: int, most: int) -> str:
        text = " ".join(self.word() for _ in range(self.rng.randint(least, most)))
        return text[0].upper() + text[1:]

    def name(self) -> str:
        """A made-up name of a person."""
        first = self.rng.choice(
            ["A", "B", "C", "D", "E", "F", "G", "H", "I", "J", "K", "L", "M", "N", "O", "P", "R", "S", "T", "V", "W"]
        )
        return (
            f"{first}. {self._syllables()}" if self.rng.random() < 0.5 else f"{self._syllables()} {self._syllables()}"
        )

    def place(self) -> str:
        return self._syllables()

    def _syllables(self) -> str:
        parts = [
            "ar",
            "bel",
            "cor",
            "dun",
            "el",
            "fen",
            "gar",
            "hol",
            "is",
            "jor",
            "kel",
            "lor",
            "mar",
            "nor",
            "or",
            "pel",
            "quen",
            "ros",
            "sel",
            "tor",
            "ul",
            "ven",
            "wil",
            "yar",
            "zel",
        ]
        return "".join(self.rng.choice(parts) for _ in range(self.rng.choice((2, 2, 3)))).capitalize()

    def amount(self, style: str) -> str:
        """A sum of money or a measure, as one of the ways of writing numbers wants it."""
        value = round(10 ** self.rng.uniform(0, 5), 2)
        whole, cents = divmod(round(value * 100), 100)
        group = {"comma": ".", "point": ",", "thin": "\u2009", "plain": ""}[style]
        sign = "." if style in ("point", "plain") else ","
        digits = f"{whole:,}".replace(",", group)
        return f"{digits}{sign}{cents:02}"

    def date(self) -> str:
        d, m, y = self.rng.randint(1, 28), self.rng.randint(1, 12), self.rng.randint(1995, 2026)
        return self.rng.choice((f"{d:02}.{m:02}.{y}", f"{d}/{m}/{y}", f"{y}-{m:02}-{d:02}", f"{d}. {self.word()} {y}"))
