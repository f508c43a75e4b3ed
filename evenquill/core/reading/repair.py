"""Fonts mapped wrongly, repaired for the whole document: what all pages say about a font decides what its characters are.

A page that was too short to be looked at is repaired by what the others found out.
"""

from __future__ import annotations

import unicodedata
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence

from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence, Vote, Word
from evenquill.core.model import RemarkKind

WRONG = 0.45
"""Share of a font's characters read as others from which none of its claims is believed; recognition errs by a few in a hundred."""

CLEAR = 0.5
"""Share of the votes on a character that its reading needs."""

Repairs = Mapping[str, Mapping[str, str]]
"""By font what its claimed characters are."""

REPAIRED = "The letters of page {page} are coded wrongly in its file; they were repaired by what is drawn."


def with_repaired_lettering(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages with the characters of wrong fonts put right. Fonts have no names afterwards: looks that differed by them alone are one."""
    repairs = repairs_of([vote for page in pages for vote in page.votes])
    return [_nameless(repaired(page, repairs) if repairs else page) for page in pages]


def repairs_of(votes: Sequence[Vote]) -> Repairs:
    """What is to be repaired by these votes. A font that is mostly right keeps its claims, but for codes that mean nothing."""
    by_font: dict[str, dict[str, Counter[str]]] = {}
    for vote in votes:
        by_font.setdefault(vote.face, {}).setdefault(vote.claimed, Counter())[vote.drawn] += vote.times
    repairs: dict[str, dict[str, str]] = {}
    for face, claims in by_font.items():
        total = sum(count.total() for count in claims.values())
        agreed = sum(count[claimed] for claimed, count in claims.items())
        wrong = total - agreed > WRONG * total
        for claimed, count in claims.items():
            drawn, most = count.most_common(1)[0]
            if drawn != claimed and most >= CLEAR * count.total() and (wrong or _means_nothing(claimed)):
                repairs.setdefault(face, {})[claimed] = drawn
    return repairs


def _means_nothing(claimed: str) -> bool:
    return unicodedata.category(claimed) in ("Co", "Cn", "Cc") or claimed == "\ufffd"


def repaired(page: PageEvidence, repairs: Repairs) -> PageEvidence:
    """The page with its wrong characters put right, and a remark where there were any."""
    if not any(look.face in repairs for look in page.types):
        return page
    lines = tuple(line._replace(words=tuple(_words(page, line, repairs))) for line in page.lines)
    changed = replace(page, lines=tuple(line for line in lines if line.words))
    if changed.lines == page.lines or any(remark.kind is RemarkKind.LETTERING for remark in page.remarks):
        return changed
    return changed.remarked(RemarkKind.LETTERING, REPAIRED)


def _words(page: PageEvidence, line: Line, repairs: Repairs) -> Iterator[Word]:
    for word in line.words:
        meant = repairs.get(page.types[word.type].face)
        if meant is None:
            yield word
            continue
        text = "".join(meant.get(c, c) for c in word.text)
        yield from _parted(word, text)


def _parted(word: Word, text: str) -> Iterator[Word]:
    """A word in which a space was coded as something else, as the words that it is."""
    parts = text.split(" ")
    step = (word.x1 - word.x0) / max(len(text), 1)
    at = 0
    for part in parts:
        if part:
            x0 = word.x0 + at * step
            yield word._replace(
                text=part, x0=round(x0, 2), x1=round(x0 + len(part) * step, 2), glued=word.glued and not at
            )
        at += len(part) + 1


def _nameless(page: PageEvidence) -> PageEvidence:
    return replace(page, types=tuple(look._replace(face="") for look in page.types))
