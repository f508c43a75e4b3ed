"""Fits what a hyphen at a line's end is worth: words that have one of their own against words broken between syllables, in real texts."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pyphen
from sklearn.linear_model import LogisticRegression

from evenquill.core.rebuild.hyphens import measures

from .language import texts_of

LANGUAGES = ("en", "de", "fr", "es", "it", "pt", "nl", "sv", "da", "nb", "pl", "cs")

SHORTEST = 6
"""Letters of a word that is broken, at least."""

MOST = (9000, 3000)
"""Words of a language that were broken, and that have a hyphen of their own."""

KEPT = 0.12
"""Share of hyphens at line ends that are taken to belong to their words: more where text is broken seldom, fewer where it is justified."""

_WORD = re.compile(r"[^\W\d_]+(?:-[^\W\d_]+)*")

Example = tuple[str, str, int]
"""What stands before the hyphen and behind it, and 1 where it belongs to the word."""


def examples(root: Path, language: str) -> Iterator[Example]:
    """Words of texts broken once each, as often as they stand there."""
    breaker = pyphen.Pyphen(lang=next(code for code in pyphen.LANGUAGES if code.split("_")[0] == language))
    rng = random.Random(language)
    for text in dict.fromkeys(texts_of(root, language)):
        for word in _WORD.findall(text):
            if "-" in word:
                places = [n for n, c in enumerate(word) if c == "-"]
                at = rng.choice(places)
                yield word[:at], word[at + 1 :], 1
                # A part of such a word may be broken as well.
                ends = [*places, len(word)]
                parts = [
                    (start, word[start:end]) for start, end in zip([0, *(n + 1 for n in places)], ends, strict=True)
                ]
                inner = [start + at for start, part in parts if len(part) >= SHORTEST for at in breaker.positions(part)]
                if inner:
                    at = rng.choice(inner)
                    yield word[:at], word[at:], 0
            elif len(word) >= SHORTEST and (places := breaker.positions(word)):
                at = rng.choice(places)
                yield word[:at], word[at:], 0


def fit_hyphens(root: Path, file: Path, *, check: bool) -> Iterator[str]:
    """Writes the weights, the last of which is the constant; with ``check`` only says how often they are right, in languages left out."""
    rows, labels, groups = [], [], []
    for n, language in enumerate(LANGUAGES):
        found = list(examples(root, language))
        random.Random(1).shuffle(found)
        for keeps, most in enumerate(MOST):
            own = [measures(left, right, language) for left, right, kept in found if kept == keeps][:most]
            rows += own
            labels += [keeps] * len(own)
            groups += [n] * len(own)
    x, y, group = np.array(rows), np.array(labels), np.array(groups)
    weights = np.where(y == 1, KEPT / np.mean(y), (1 - KEPT) / np.mean(1 - y))
    if check:
        for n, language in enumerate(LANGUAGES):
            model = _fitted(x[group != n], y[group != n], weights[group != n])
            said, own = model.predict(x[group == n]), y[group == n]
            kept, joined = np.mean(said[own == 1] == 1), np.mean(said[own == 0] == 0)
            yield f"{language} left out: {kept:.3f} of {own.sum()} kept, {joined:.3f} of {(own == 0).sum()} joined"
        return
    model = _fitted(x, y, weights)
    np.save(file, np.array([*model.coef_[0], model.intercept_[0]], np.float32))
    yield f"weights of hyphens: {', '.join(f'{weight:.2f}' for weight in (*model.coef_[0], model.intercept_[0]))}"


def _fitted(x: np.ndarray, y: np.ndarray, weights: np.ndarray) -> LogisticRegression:
    return LogisticRegression(max_iter=3000, C=10).fit(x, y, weights)
