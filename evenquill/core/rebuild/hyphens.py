"""Words broken at a line's end: joined by evidence, real hyphens kept.

In the order of the evidence: a hyphen that the document uses only for breaking; the word elsewhere in the document, joined or
hyphenated; how common the forms are in the language; what a hyphen between such halves usually is.
"""

from __future__ import annotations

import re
from functools import lru_cache

from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import Family, UrlLink
from evenquill.core.model.text import HYPHENS
from evenquill.core.rebuild.facts import Facts
from evenquill.core.word_frequencies import frequency, is_counted

BREAKING = "/._?=&#~"
"""Signs in an address after which it is broken, with a hyphen that is not its own."""

_ADDRESS = re.compile(r"(?:[a-z]+://|www\.)\S*$", re.I)
_TAIL = re.compile(r"([^\W\d_]+(?:['’-][^\W\d_]+)*)[" + HYPHENS + "]$")
_HEAD = re.compile(r"^[^\W\d_]+(?:['’-][^\W\d_]+)*")


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
    if right[0].isupper() and not left.isupper():
        return True
    # A compound that already has a hyphen before the break is judged by its last part.
    last = left.rsplit("-", 1)[-1].lower()
    return _likelier_hyphenated(last, right.lower(), facts.language)


@lru_cache(maxsize=4096)
def _likelier_hyphenated(left: str, right: str, language: str) -> bool:
    """By frequency (wordfreq): the joined form unless it is unknown and both halves are common words."""
    if not is_counted(language):
        return False
    if frequency(left + right, language) > 0:
        return False
    halves = min(frequency(left, language), frequency(right, language))
    return len(left) > 1 and len(right) > 2 and halves >= 3.0


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
