"""Words broken at a line's end, with a hyphen or without one: joined by evidence, real hyphens kept.

In the order of the evidence: a hyphen that the document uses only for breaking; the word elsewhere in the document, joined or
hyphenated; how common the forms are in the language and how they are spelled, weighed together (``bench/corpus/hyphens.py`` fits
the weights).
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from functools import lru_cache
from operator import mul

from evenquill.core.fitted.trees import array_of
from evenquill.core.language_model import model_of
from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import Family, UrlLink
from evenquill.core.model.text import HYPHENS
from evenquill.core.rebuild.facts import Facts
from evenquill.core.word_frequencies import frequency, is_counted

SHORT = 3
"""Letters of a half, of which fewer are seldom a word."""

BREAKING = "/._?=&#~"
"""Signs in an address after which it is broken, with a hyphen that is not its own."""

ONCE_IN_ALL = 9.0
"""The Zipf frequency of a word that is all there is: that of a word, less this, is the logarithm (base 10) of its share."""

UNLISTED = 0.5
"""The Zipf frequency that words are given which no list has; lists end at 1."""

SEEN = 3.0
"""That of words that stand elsewhere in the document, at least."""

ONE_WORD, BETTER = 1.5, 6.5
"""Odds (logarithm, base 10) of one word over several, from which parts are one that was broken without a hyphen: where each has its line
for itself, as a word has that is wider than its column, and elsewhere. Of the line ends of 281 made documents whose letters would make
a word, those between words had -0.6 and 5.9 at most, 99 of 100 words with a line for each part had 1.5 or more."""

SHORTEST = 5
"""Letters of such a word: shorter ones fit into any column, and letters below each other may spell one."""

LETTERS_LEFT = 1.5
"""Letters that would fit behind the first part of such a word, at most."""

_ADDRESS = re.compile(r"(?:[a-z]+://|www\.)\S*$", re.I)
_TAIL = re.compile(r"([^\W\d_]+(?:['’-][^\W\d_]+)*)[" + HYPHENS + "]$")
_HEAD = re.compile(r"^[^\W\d_]+(?:['’-][^\W\d_]+)*")
_LETTERS = re.compile(r"[^\W\d_]+")
_LAST_LETTERS = re.compile(r"(?:^|[\s(„“\"])([^\W\d_]+)$")


def keeps_hyphen(before: str, after: str, facts: Facts) -> bool:
    """Whether the hyphen between the end of one line and the start of the next belongs to the word.

    ``before`` ends with the hyphen. A soft hyphen never does.
    """
    if before[-1] == "\u00ad":
        return False
    if _ADDRESS.search(before):
        return before[-2] not in BREAKING
    tail, head = _TAIL.search(before), _HEAD.match(after)
    if tail is None or head is None:
        return True  # numbers, codes and names made of signs keep theirs
    left, right = tail.group(1), head.group()
    if before[-1] == facts.soft_hyphen:
        return False
    joined, hyphenated = (left + right).lower(), f"{left}-{right}".lower()
    seen_joined, seen_hyphenated = facts.words[joined], facts.words[hyphenated]
    if seen_joined != seen_hyphenated:
        return seen_hyphenated > seen_joined
    if not is_counted(facts.language):
        return right[0].isupper() and not left.isupper()
    return _odds(left, right, facts.language) > 0


@lru_cache(maxsize=4096)
def _odds(left: str, right: str, language: str) -> float:
    """Odds (logarithm) that the hyphen between two halves belongs to the word."""
    *weights, constant = map(float, array_of("hyphens"))
    return sum(map(mul, weights, measures(left, right, language)), constant)


def measures(left: str, right: str, language: str) -> tuple[float, ...]:
    """What is weighed: frequencies (Zipf, over 8) of the joined word and of its halves, how much better the letters go together than apart
    (natural logarithm, over 10), and what the halves begin with. Of a word that has a hyphen before the break too, the last part counts."""
    last, first = left.rsplit("-", 1)[-1].lower(), right.split("-", 1)[0].lower()
    joined = frequency(last + first, language)
    halves = frequency(last, language), frequency(first, language)
    model = model_of(language)
    together = model.spelled(last + first) - model.spelled(last) - model.spelled(first) if model else 0.0
    return (
        joined / 8,
        float(joined > 0),
        halves[0] / 8,
        halves[1] / 8,
        min(halves) / 8,
        float(min(halves) > 0),
        together / 10,
        float(right[0].isupper() and not left.isupper()),
        float(left[0].isupper()),
        float(left.isupper()),
        float(len(last) < SHORT),
        float(len(first) < SHORT),
        float("-" in left or "-" in right),
    )


def runs_on_unbroken(above: FlowLine, line: FlowLine) -> bool:
    """Whether the end of a line and the start of the next are one address or path, broken where it has a sign."""
    last, first = above.words[-1], line.words[0]
    before, after = above.text.rpartition(" ")[2], line.text.partition(" ")[0]
    if len(before) < 2 or not after:
        return False
    whole = before.lstrip("(") + after.rstrip(".,;:)")
    if isinstance(last.link, UrlLink) and last.link == first.link and whole in last.link.url:
        return True
    if before[-1] == "/" and before[-2].isalnum():
        return True
    address = bool(_ADDRESS.search(before)) or (last.type.family is first.type.family is Family.MONO)
    return address and before[-1] in BREAKING and not after[0].isupper()


def is_cut_word(before: str, lines: Sequence[FlowLine], n: int, width: float, facts: Facts) -> bool:
    """Whether a line, by its place among those of a paragraph or a cell ``width`` points wide, begins with more of the word that the text
    before it ends with, which was broken without a hyphen, as words are that are wider than their column; maybe over several lines."""
    tail, head = _LAST_LETTERS.search(before), _LETTERS.match(lines[n].text)
    if tail is None or head is None or not head.group()[0].islower() or not _is_full(lines[n - 1], width):
        return False
    parts = [tail.group(1), head.group()]
    alone = len(lines[n - 1].words) == 1
    if _is_one_word(parts, facts, alone=alone):
        return True
    for above, line in itertools.pairwise(lines[n:]):
        more = _LETTERS.match(line.text)
        if len(above.words) > 1 or above.text != parts[-1] or more is None or not more.group()[0].islower():
            return False
        parts.append(more.group())
        if _is_one_word(parts, facts, alone=alone):
            return True
    return False


def _is_full(line: FlowLine, width: float) -> bool:
    """Whether hardly a letter more would have fitted in a line."""
    own = line.x1 - line.x0
    return own + LETTERS_LEFT * own / len(line.text) > width


def _is_one_word(parts: Sequence[str], facts: Facts, *, alone: bool) -> bool:
    """Whether parts are one word rather than several, by how common the words are (those of a text are taken as independent)."""
    whole = "".join(parts).lower()
    common = max(frequency(whole, facts.language), SEEN if facts.words[whole] else 0.0)
    if not common or len(whole) < SHORTEST:
        return False
    apart = sum(max(frequency(part.lower(), facts.language), UNLISTED) - ONCE_IN_ALL for part in parts)
    return common - ONCE_IN_ALL - apart > (ONE_WORD if alone else BETTER)
