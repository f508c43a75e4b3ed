"""How likely words as read are wrong: gradient-boosted trees, fitted on scans of which it is known what was printed (``words`` in
``bench/corpus/fit.py``), which tell all measures together.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from evenquill.core.fitted.trees import trees_of
from evenquill.core.languages import language_name
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.word_measures import MEASURES


def likelihoods(measured: Sequence[Sequence[float]]) -> list[float]:
    """How likely each word with such measures, in the order of MEASURES, is wrong, 0 to 1."""
    if not measured:
        return []
    logarithms = trees_of("words").log_probabilities(np.array(measured, np.float32))
    return [float(value) for value in np.exp(logarithms[:, 1])]


def reason(token: Token, values: tuple[float, ...], words: Words) -> str:
    """What speaks against a word, for the clerk."""
    told = dict(zip(MEASURES, values, strict=True))
    reasons = []
    if told["odd"] >= 0.5 and token.core:
        reasons.append("an odd mix of characters")
    elif told["odd"] and not token.core:
        reasons.append("signs standing alone")
    if token.fell_apart:
        reasons.append("may be one word")
    elif told["unknown"]:
        names = " or ".join(language_name(one.language) for one in words.lexicons)
        reasons.append(f"not in the {names} word list" if names.strip() else "not in the word list")
    elif not words.has_list:
        reasons.append("no word list for its language")
    reasons.append(f"reader {round(100 * token.confidence)} %")
    return " · ".join(reasons)
