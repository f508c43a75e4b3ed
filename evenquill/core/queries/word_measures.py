"""What is measured of a word that was recognised, to tell how likely it is wrong."""

from __future__ import annotations

import math
import re
import statistics
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from rapidfuzz.distance import Levenshtein

from evenquill.core.edits.words import core_of
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.language_model import model_of
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.lexicon import lexicon as lexicon_of
from evenquill.core.queries.shapes import is_code, is_number, number_form, oddity
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.word_widths import Width

MEASURES = (
    "unsure",
    "other reading",
    "unknown",
    "unknown name",
    "number",
    "odd",
    "rare",
    "seen elsewhere",
    "other reading known",
    "short",
    "no letters",
    "stop within a sentence",
    "capital within a sentence",
    "unbalanced quotes",
    "no stop before a sentence",
    "joined by a sign",
    "sign not read",
    "readings differ",
    "other reading of the word known",
    "commoner reading",
    "long and known",
    "nearly another word",
    "number written otherwise",
    "known in English",
    "capitals",
    "letters",
    "spelling",
    "frequency",
    "usual doubt",
    "width",
    "usual width",
)
"""Names of the measures, in order."""

CLOSING_OF = {"“": '”"', '"': '"”', "‘": "’'", "‚": "‘’", "„": '“”"', "«": "»", "'": "'’"}
"""By opening quotation mark those that close it."""

SENTENCE_WORD, NEVER_LAST = 4.5, 6.0
"""Zipf frequency of a word that begins a sentence more often than it is a name, and of words that end none: of, in, the."""

_AROUND = re.compile(r"^[^\w]+|[^\w]+$")
_JOINED = re.compile(r"^(.*[^\W\d_]{2}[.,:;!?]{1,2})([^\W\d_]{2}.*)$")

LONGEST_CHANCE = 6
"""Letters up to which a misread word may well be another word by chance."""

LONG_ENOUGH = 4
"""Letters beyond which a known word is no surer for being longer."""

FEWEST_NUMBERS, USUAL_DOUBT = 20, 0.8
"""Numbers of a document that tell how surely it reads them, and the usual doubt in words (a confidence of 0.96)."""

SHORT_NAME, LONG_NAME = 5, 7
"""Letters of a word from which one letter, and two, may differ from another that it was meant to be."""

LONGEST_FRAGMENT = 3
"""Letters of a piece that fell off a word, at most."""

MARGIN = 4.0
"""Uncertainty (natural logarithm of odds) beyond which more of it says nothing new."""


@dataclass(frozen=True)
class Vouchers:
    """How often words come in the document, and how sure they were at their best; ``number_doubt`` is the usual doubt in its numbers,
    ``usual_doubt`` that in all that was recognised.

    Numbers that stand alone, in tables, are read less surely than words in a line, and no less rightly.
    """

    counts: Counter[str]
    surest: dict[str, float]
    number_doubt: float = 0.0
    usual_doubt: float = 0.0

    def written_alike(self, number: str) -> int:
        """How many of the document's numbers are written in the same way: as many digits with the same signs between them."""
        return self._forms[number_form(number)]

    @cached_property
    def _forms(self) -> Counter[str]:
        found: Counter[str] = Counter()
        for word, count in self.counts.items():
            if is_number(word):
                found[number_form(word)] += count
        return found

    def repeated(self, length: int) -> list[str]:
        """Words that come more than once and are as long, give or take a letter; the commonest first."""
        return [word for near in (length, length - 1, length + 1) for word in self._by_length.get(near, ())]

    @cached_property
    def _by_length(self) -> dict[int, list[str]]:
        found: dict[int, list[str]] = {}
        for word, count in self.counts.most_common():
            if count > 1:
                found.setdefault(len(word), []).append(word)
        return found

    def is_near_repeated(self, word: str) -> bool:
        """Whether a word that comes once is nearly one that comes more often."""
        limit = 2 if len(word) >= LONG_NAME else 1
        near = (other for other in self.repeated(len(word)) if other != word)
        return len(word) >= SHORT_NAME and any(
            Levenshtein.distance(word, other, score_cutoff=limit) <= limit for other in near
        )

    def is_written_otherwise(self, number: str) -> bool:
        """Whether a number has signs within it and no other of the document has them so, though it has many with signs."""
        signed = sum(count for form, count in self._forms.items() if not form.isdigit())
        return not number.isdigit() and signed >= FEWEST_NUMBERS and self.written_alike(number) < 2

    @classmethod
    def of(cls, words: Iterable[Token]) -> Vouchers:
        count: Counter[str] = Counter()
        surest: dict[str, float] = {}
        doubts: list[float] = []
        every: list[float] = []
        for token in words:
            count[token.core] += 1
            surest[token.core] = max(surest.get(token.core, 0.0), token.confidence)
            if token.recognised:
                every.append(doubt_of(token.confidence))
                if is_number(token.core):
                    doubts.append(every[-1])
        of_numbers = statistics.median(doubts) if len(doubts) >= FEWEST_NUMBERS else 0.0
        return cls(count, surest, of_numbers, statistics.median(every) if every else 0.0)


class Beside(NamedTuple):
    """What a word's row says of it: the texts of the words before and after it, empty at the ends, and whether it is as wide as it should
    be there, None where that cannot be told."""

    before: str
    after: str
    width: Width | None = None

    @property
    def texts(self) -> tuple[str, str]:
        return self.before, self.after


def doubt_of(confidence: float) -> float:
    """The natural logarithm of the odds against a word, from 0 for none to twice MARGIN."""
    odds = (1 - min(confidence, 0.999)) / max(confidence, 0.02)
    return min(max(math.log(odds) + MARGIN, 0.0), 2 * MARGIN)


def measures(token: Token, beside: Beside, lexicon: Words, vouchers: Vouchers) -> tuple[float, ...]:
    """The measures of a word, in the order of MEASURES."""
    core = token.core
    doubt = doubt_of(token.confidence)
    if is_number(core):
        doubt = max(doubt - max(vouchers.number_doubt - USUAL_DOUBT, 0.0), 0.0)
    share = max((other.share for other in token.others if other.place < len(token.text)), default=0.0)
    wordlike = bool(core) and not is_number(core) and not is_code(core)
    known = not wordlike or not lexicon.has_list or lexicon.knows(core) or lexicon.knows(core.lower())
    if not known and core.isupper():
        known = lexicon.knows(core.capitalize())
    known = known and not token.fell_apart  # of its fragments one is no word
    name = core[:1].isupper() and not core.isupper()
    elsewhere = vouchers.counts[core] - 1
    vouched = elsewhere > 0 and vouchers.surest.get(core, 0.0) > 0.9 and bool(core)
    if len(core) <= 2:
        vouched = vouched and not _is_among_fragments(core, beside, lexicon)
    number = is_number(core)
    return (
        doubt,
        share,
        float(not known),
        float(not known and name),
        float(number),
        oddity(token.text, core),
        max(3.0 - lexicon.frequency(core), 0.0) if known and wordlike and 1 < len(core) <= LONGEST_CHANCE else 0.0,
        min(math.log1p(elsewhere), 2.0) if vouched and (not known or len(core) <= 2) else 0.0,
        float(not known and _other_is_known(token, lexicon)),
        float(len(core) <= 2),
        float(not core),
        float(token.text.endswith(".") and core.isalpha() and len(core) > 2 and known and beside.after[:1].islower()),
        float(_stands_capital(token, beside, lexicon)),
        float(_is_unbalanced(token, lexicon)),
        float(_lacks_stop(token, beside, lexicon)),
        float(len(words_joined(token.text)) > 1),
        float(any(other.place >= len(token.text) for other in token.others)),
        float(bool(token.rival)),
        float(bool(token.rival) and not known and lexicon.knows(core_of(token.rival))),
        _commoner(token, lexicon) if known and wordlike else 0.0,
        float(min(max(len(core) - LONGEST_CHANCE + 2, 0), LONG_ENOUGH)) if known and wordlike else 0.0,
        float(not known and not elsewhere and vouchers.is_near_repeated(core)),
        float(number and vouchers.is_written_otherwise(core)),
        float(not known and _is_english(core)),
        float(core.isupper() and len(core) > 1),
        float(len(core)),
        _spelling(core, lexicon) if not known and core.isalpha() else 0.0,
        max(lexicon.frequency(core), lexicon.frequency(core.lower())),
        vouchers.usual_doubt,
        *(beside.width or (UNMEASURED, UNMEASURED)),
    )


def _is_english(core: str) -> bool:
    """Whether a word that its own language does not have is English, as terms are in all languages."""
    english = lexicon_of("en")
    return english.knows(core) or english.knows(core.lower())


def _spelling(core: str, lexicon: Words) -> float:
    """How usual the letters of a word are in its language one after another (natural logarithm for each), 0 where that is not known."""
    model = model_of(lexicon.language)
    return model.spelled(core.lower()) / (len(core) + 1) if model else 0.0


def _is_among_fragments(core: str, beside: Beside, lexicon: Words) -> bool:
    """Whether a few letters stand beside a piece of a word that fell apart: they may be another, and do not vouch for each other.

    Such a piece is no word, or a single letter, as the other is.
    """
    pieces = [word for word in map(core_of, beside.texts) if word.isalpha() and word.islower()]
    return core.isalpha() and any(
        (len(word) <= LONGEST_FRAGMENT and not lexicon.knows(word)) or len(word) == len(core) == 1 for word in pieces
    )


def _stands_capital(token: Token, beside: Beside, lexicon: Words) -> bool:
    """Whether a common word has a capital in the middle of a sentence, in a language that has none there."""
    core = token.core
    if (
        lexicon.language == "de"
        or not core.isalpha()
        or not core.istitle()
        or not beside.before
        or len(core) < 2
        or _is_tabbed(token)
    ):
        return False
    small = core.lower()
    # Beside another capital it is part of a name, or of a title.
    if any(text[:1].isupper() and not is_code(core_of(text)) for text in beside.texts):
        return False
    if beside.before[-1:] in '.!?:…”"»)–—' or (not beside.before[-1:].isalnum() and beside.before[-1:] != ","):
        return False
    return lexicon.spells(small) and lexicon.frequency(small) > 3.0


def _lacks_stop(token: Token, beside: Beside, lexicon: Words) -> bool:
    """Whether the next word begins a sentence, by its capital, and this one does not end one."""
    after = _AROUND.sub("", beside.after)
    if (
        lexicon.language == "de"
        or not token.text[-1:].isalnum()
        or not after.isalpha()
        or not after.istitle()
        or len(after) < 2
        or token.core[:1].isupper()  # two capitals in a row are a name, or a title
        or (is_number(token.core) and len(token.core) <= 2)  # a day of a month
        or _is_tabbed(token)
    ):
        return False
    ends = lexicon.frequency(token.core.lower()) < NEVER_LAST
    return ends and lexicon.spells(after.lower()) and lexicon.frequency(after.lower()) > SENTENCE_WORD


def _is_tabbed(token: Token) -> bool:
    """Whether the word stands in a row of a table, which is no sentence."""
    return "\t" in token.block.text


def words_joined(text: str) -> list[str]:
    """The parts of a text that a sign joins which belongs at the end of the first: ``weed.and``; the text alone where there is none."""
    match = _JOINED.match(text)
    return [match[1], match[2]] if match else [text]


def _commoner(token: Token, lexicon: Words) -> float:
    """By how much a word is less common than what another reading of one of its characters makes of it, times the share of belief
    in that."""
    own = lexicon.frequency(token.core)
    gains = (
        share * (lexicon.frequency(changed) - own)
        for changed, share in one_character_changed(token)
        if len(changed) > 1 and lexicon.knows(changed)
    )
    return max(max(gains, default=0.0), 0.0)


def one_character_changed(token: Token) -> Iterator[tuple[str, float]]:
    """The word with one character read otherwise, and the share of belief in that."""
    for other in token.others:
        place = other.place - token.offset
        if 0 <= place < len(token.core):
            yield token.core[:place] + other.text.strip() + token.core[place + 1 :], other.share


def _is_unbalanced(token: Token, lexicon: Words) -> bool:
    """Whether a quotation mark opens at a word and closes nowhere in its block, or the other way round."""
    text = token.block.text
    first = token.text[:1]
    if first in CLOSING_OF:
        closing = CLOSING_OF[first]
        return not any(sign in text[token.start + 1 :] for sign in closing)
    last = token.text.rstrip(".,;:!?")[-1:]
    if last in "’'" and token.core:
        # An apostrophe at the end is English (the keepers’ log), or belongs to a quotation.
        return lexicon.language != "en" and not any(sign in text[: token.end - 1] for sign in "‘‚'")
    return last in '”"' and not any(sign in text[: token.end - 1] for sign in '“„"”')


def _other_is_known(token: Token, lexicon: Words) -> bool:
    """Whether one other reading of a character makes the word one that is known."""
    return any(lexicon.knows(changed) or lexicon.knows(changed.lower()) for changed, _ in one_character_changed(token))
