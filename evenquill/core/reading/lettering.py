"""Text whose letters are not what they look like: fonts mapped wrongly.

A font whose words are of no language, or whose characters are private codes, is looked at: a few of its lines are read from the drawn
page, and where these say something else, the whole page is read from what it draws and compared with what its codes claim, character
by character. What the pages say together about a font decides in the end (``repair.py``).
"""

from __future__ import annotations

import difflib
import itertools
import unicodedata
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from typing import NamedTuple

import wordfreq

from evenquill.core.evidence import Line, PageEvidence, Vote, Word
from evenquill.core.languages import KNOWN
from evenquill.core.model import Box
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.regions import text_in_region

COMMON = 4000
"""Commonest words of each language that are looked for."""

FEWEST_WORDS = 30
"""Words of letters of a font from which a share of common ones can be told."""

FEWEST_COMMON = 0.08
"""Share of common words in running text of any of the languages, at least; it is a third and more in prose, less in tables of names."""

FEW_WORDS = 5
"""Different words of a font, in which no common one is, from which it is looked at: headings have no more."""

MOST_PRIVATE = 0.08
"""Share of characters without a meaning (private use, not assigned, replacement) from which a font is looked at."""

LONG_WORDS, MANY_CHARACTERS = 16, 80
"""Mean length of words, of so many characters, from which their spaces may be coded as something else."""

FEWEST_CHARACTERS, FEWEST_LONG_WORDS = 12, 3
"""Characters, and words of four and more, of a font that may be text; fonts of bullets and of formulas have fewer."""

SAMPLED = 4
"""Lines of a font that are read from the picture."""

LIKE = 0.55
"""Likeness of a sound line to what is read from its picture, at least; recognition errs by far less."""

LONGEST_LIGATURE = 3
"""Letters that one code can stand for."""


def suspect_faces(page: PageEvidence) -> frozenset[str]:
    """Fonts of the page whose codes deserve a look; costs next to nothing."""
    words: dict[str, list[str]] = {}
    for line in page.lines:
        for word in line.words:
            look = page.types[word.type]
            if not look.symbol:
                words.setdefault(look.face, []).append(word.text)
    return frozenset(face for face, own in words.items() if _is_suspect(own))


def _is_suspect(words: Sequence[str]) -> bool:
    characters = "".join(words)
    if len(characters) < FEWEST_CHARACTERS or sum(len(word) > 3 for word in words) < FEWEST_LONG_WORDS:
        return False
    counts = Counter(characters)
    private = sum(
        count for c, count in counts.items() if unicodedata.category(c) in ("Co", "Cn", "Cc") or c == "\ufffd"
    )
    if private > MOST_PRIVATE * len(characters):
        return True
    if len(characters) > MANY_CHARACTERS and len(characters) > LONG_WORDS * len(words):
        return True
    plain = [word.strip(".,;:!?()").lower() for word in words]
    plain = [word for word in plain if len(word) > 2 and word.isalpha()]
    common = sum(word in _common_words() for word in plain)
    if len(plain) >= FEWEST_WORDS:
        return common < FEWEST_COMMON * len(plain)
    return not common and len({word for word in plain if len(word) > 3}) >= FEW_WORDS


def wrong_faces(page: PageEvidence, suspects: Iterable[str], scan: Scan) -> frozenset[str]:
    """Those of the suspect fonts of which the page as it is drawn (``scan``) says something else than their codes.

    Raises LanguageMissing.
    """
    return frozenset(face for face in suspects if _is_mapped_wrongly(page, face, scan))


def _is_mapped_wrongly(page: PageEvidence, face: str, scan: Scan) -> bool:
    own = [line for line in page.lines if not line.angle and _share(page, line, face) > 0.5]
    lines = sorted(own, key=lambda line: -len(line.text))[:SAMPLED]
    read = [text_in_region(scan, _row(line, page.lines), Preparation()) for line in lines]
    likeness = [
        difflib.SequenceMatcher(None, line.text, text, autojunk=False).ratio()
        for line, text in zip(lines, read, strict=True)
        if text
    ]
    return bool(likeness) and sum(likeness) / len(likeness) < LIKE


def _share(page: PageEvidence, line: Line, face: str) -> float:
    own = sum(len(word.text) for word in line.words if page.types[word.type].face == face)
    return own / max(sum(len(word.text) for word in line.words), 1)


def _row(line: Line, lines: Sequence[Line]) -> Box:
    """The line's own height: fonts that are mapped wrongly often claim wrong heights too."""
    above = max((other.baseline for other in lines if other.baseline < line.baseline - 0.5 * line.size), default=0.0)
    top = max(line.baseline - 0.95 * line.size, min(above + 0.2 * line.size, line.baseline - 0.7 * line.size))
    return Box(line.box.x0, top, line.box.x1, line.baseline + 0.25 * line.size)


@cache
def _common_words() -> frozenset[str]:
    found: set[str] = set()
    for one in KNOWN:
        listed = itertools.islice(wordfreq.iter_wordlist(one.short, wordlist="small"), COMMON)
        found.update(word for word in listed if len(word) > 2 and word.isalpha())
        wordfreq.get_frequency_list.cache_clear()  # which would keep the whole lists of all languages
    return frozenset(found)


class Claim(NamedTuple):
    """A character as a font claims it, or a space between words, whose font is empty."""

    face: str
    text: str


def votes_of(page: PageEvidence, read: PageEvidence) -> tuple[Vote, ...]:
    """What the reading of the drawn page (``read``) says about the characters of the page's fonts.

    Lines with as many characters as were read are taken character by character, else words. Codes left over between letters that
    are known by then stand for what was read between them, which is how ligatures are found.
    """
    pairs = list(_compared(page, read))
    votes: Counter[tuple[Claim, str]] = Counter()
    for claims, drawn in pairs:
        if len(claims) == len(drawn):
            votes.update((claim, c) for claim, c in zip(claims, drawn, strict=True) if claim.face)
    firm = _firm(votes)
    for claims, drawn in pairs:
        if len(claims) != len(drawn):
            votes.update(pair for pair in _left_over(claims, drawn, firm) if pair[0].face)
    return tuple(Vote(claim.face, claim.text, drawn, count) for (claim, drawn), count in sorted(votes.items()))


def _firm(votes: Counter[tuple[Claim, str]]) -> dict[Claim, str]:
    """By claim what was read most often in its place."""
    best: dict[Claim, tuple[int, str]] = {}
    for (claim, drawn), count in votes.items():
        best[claim] = max(best.get(claim, (0, "")), (count, drawn))
    return {claim: drawn for claim, (_, drawn) in best.items()}


def _left_over(claims: Sequence[Claim], drawn: str, firm: dict[Claim, str]) -> Iterator[tuple[Claim, str]]:
    """Claims between known ones, with what was read in their place: as many letters, or several for one claim."""
    known = [firm.get(claim, "") for claim in claims]
    for _, a0, a1, b0, b1 in difflib.SequenceMatcher(None, known, drawn, autojunk=False).get_opcodes():
        if a1 - a0 == b1 - b0:
            yield from zip(claims[a0:a1], drawn[b0:b1], strict=True)
        elif a1 - a0 == 1 and 0 < b1 - b0 <= LONGEST_LIGATURE:
            yield claims[a0], drawn[b0:b1]


def _compared(page: PageEvidence, read: PageEvidence) -> Iterator[tuple[list[Claim], str]]:
    """Lines as claimed and as read where they have as many characters, else their words, whatever they have."""
    for line in page.lines:
        if line.angle:
            continue
        beside = [
            word
            for other in read.lines
            if not other.angle and abs(other.baseline - line.baseline) < 0.3 * line.size
            for word in other.words
            if line.words[0].x0 - 1 < (word.x0 + word.x1) / 2 < line.words[-1].x1 + 1
        ]
        beside.sort(key=lambda word: word.x0)
        claims = [claim for n, word in enumerate(line.words) for claim in _claims(page, word, apart=n > 0)]
        drawn = "".join((" " if n and not word.glued else "") + word.text for n, word in enumerate(beside))
        if len(claims) == len(drawn) + 1:
            claims.pop()  # a space at the line's end, coded as something else
        if len(claims) == len(drawn):
            yield claims, drawn
            continue
        for word in line.words:
            over = [other for other in beside if word.x0 - 1 < (other.x0 + other.x1) / 2 < word.x1 + 1]
            yield list(_claims(page, word, apart=False)), "".join(other.text for other in over)


def _claims(page: PageEvidence, word: Word, *, apart: bool) -> Iterator[Claim]:
    if apart and not word.glued:
        yield Claim("", " ")
    face = page.types[word.type].face
    for c in word.text:
        yield Claim(face, c)
