"""How probable words are in a language: after the word before them, by themselves, and, where no list has them, by their letters.

Word pairs back off to single words (absolute discounting; Ney, Essen and Kneser 1994); words that are not listed are spelled by n-grams of
their letters with back-off (Witten and Bell 1991). What ships is made by ``bench/corpus`` (``python -m corpus FOLDER language``), one file
for each language. All values are natural logarithms of probabilities.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Mapping
from functools import cache
from pathlib import Path
from zlib import crc32

import numpy as np

FOLDER = Path(__file__).parent / "fitted" / "language"

START, END, NUMBER = "<s>", "</s>", "0"
"""What stands for the start and end of a sentence, and for any number."""

STEP = 0.0625
"""Natural logarithms between two values that are told apart in the files: a byte holds 0 to 16."""

UNKNOWN = math.log(0.01)
"""That a word is one that is in no list."""

SENTENCE = math.log(0.05)
"""That a sentence ends: one token in twenty."""

LONGEST = 5
"""Letters that are looked at together at most, the edges of the word counted as letters."""

LEAST_LETTER = math.log(1e-4)
"""A letter that the language does not have."""

_TOKEN = re.compile(r"[^\W\d_]+(?:['’\-][^\W\d_]+)*|\d+(?:[.,:]\d+)*|[,;:()]|[.!?…]+(?=\s|$|[\"'”’»)])")


def tokens_of(text: str) -> Iterator[str]:
    """The words of a text in small letters, numbers as NUMBER, signs between words, and END where a sentence ends."""
    for found in _TOKEN.finditer(text):
        token = found.group()
        if token[0].isdigit():
            yield NUMBER
        elif token[0] in ".!?…":
            yield END
        else:
            yield token.lower()


def last_token_of(text: str) -> str | None:
    """The last token of a text, None where there is none; no token has a space in it."""
    for word in reversed(text.split()):
        tokens = list(tokens_of(word))
        if tokens:
            return tokens[-1]
    return None


def key_of(text: str) -> int:
    """The number by which a pair of words or a sequence of letters is kept."""
    return crc32(text.encode())


class LanguageModel:
    """The probabilities of one language.

    ``pairs`` are those of two words by ``key_of("first second")``, ``backoff`` what a word leaves for all that do not follow it there;
    ``words`` are those of single words; ``letters`` and ``letters_backoff`` are like ``pairs`` and ``backoff``, of the letters of words.
    """

    def __init__(
        self,
        pairs: Mapping[int, float],
        backoff: Mapping[int, float],
        words: Mapping[int, float],
        letters: Mapping[int, float],
        letters_backoff: Mapping[int, float],
    ) -> None:
        self.pairs, self.backoff, self.words = pairs, backoff, words
        self.letters, self.letters_backoff = letters, letters_backoff

    def word(self, word: str) -> float:
        """A word by itself, in small letters."""
        own = self.words.get(key_of(word))
        if own is not None:
            return own
        return SENTENCE if word in (START, END) else UNKNOWN + self.spelled(word)

    def spelled(self, word: str) -> float:
        """A word by its letters alone."""
        text = f"^{word}$"
        return sum(self._letter(text[max(n - LONGEST + 1, 0) : n], text[n]) for n in range(1, len(text)))

    def after(self, before: str, word: str) -> float:
        """A word after another."""
        own = self.pairs.get(key_of(f"{before} {word}"))
        return own if own is not None else self.backoff.get(key_of(before), 0.0) + self.word(word)

    def _letter(self, before: str, letter: str) -> float:
        left = 0.0
        for start in range(len(before) + 1):
            own = self.letters.get(key_of(before[start:] + letter))
            if own is not None:
                return left + own
            left += self.letters_backoff.get(key_of(before[start:]), 0.0)
        return left + LEAST_LETTER


@cache
def model_of(language: str) -> LanguageModel | None:
    """The model of a language (two letters), None where there is none."""
    file = FOLDER / f"{language}.npz"
    if not file.exists():
        return None
    data = np.load(file)

    def table(name: str) -> dict[int, float]:
        return dict(zip(data[f"{name}_keys"].tolist(), (data[name] * -STEP).tolist(), strict=True))

    return LanguageModel(*map(table, ("pairs", "backoff", "words", "letters", "letters_backoff")))
