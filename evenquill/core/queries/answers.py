"""What a doubtful word may say instead: a noisy channel (Kernighan, Church and Gale 1990) from candidates to what was read.

Candidates are other readings by the recogniser, look-alike characters, words of the language and words of the document. Each is ranked by
how common it is and by how easily it is read as what stands there.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from rapidfuzz import process
from rapidfuzz.distance import Levenshtein

from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.likelihood import Vouchers
from evenquill.core.queries.shapes import is_plain_number, spoiled_number
from evenquill.core.queries.tokens import Token

MOST = 5
"""Answers to a query."""

LOOK_ALIKE = (
    ("rn", "m"), ("m", "rn"), ("ni", "m"), ("m", "ni"), ("in", "m"), ("nn", "m"), ("ri", "n"), ("n", "ri"), ("cl", "d"), ("d", "cl"),
    ("li", "h"), ("h", "li"), ("vv", "w"), ("w", "vv"), ("ii", "u"), ("u", "ii"), ("ii", "ü"), ("fi", "fl"), ("fl", "fi"),
    ("l", "i"), ("i", "l"), ("l", "1"), ("1", "l"), ("I", "l"), ("l", "I"), ("I", "1"), ("1", "I"), ("i", "!"),
    ("|", "I"), ("|", "l"), ("!", "I"), ("©", "0"), ("!", "i"), ("!", "l"),
    ("?", "l"), ("?", "7"), ("O", "0"), ("0", "O"), ("o", "0"), ("0", "o"), ("c", "e"), ("e", "c"), ("o", "e"), ("e", "o"), ("a", "o"),
    ("o", "a"), ("s", "g"), ("S", "5"), ("5", "S"), ("8", "B"), ("B", "8"), ("$", "S"), ("t", "f"), ("f", "t"), ("t", "r"), ("r", "t"),
    ("t", "l"), ("l", "t"), ("y", "v"), ("v", "y"), ("h", "b"), ("b", "h"), ("u", "n"), ("n", "u"), ("u", "ü"), ("a", "ä"), ("o", "ö"),
    ("ä", "a"), ("ö", "o"), ("ü", "u"), ("e", "é"), ("e", "è"), ("é", "e"), ("è", "e"), ("a", "à"), ("c", "ç"), ("i", "í"), ("i", "î"),
    ("B", "ß"), ("ß", "B"), ("j", "i"), ("i", "j"), ("q", "g"), ("g", "q"), ("k", "h"), (",", "."), (".", ","), ("é", "ê"), ("è", "ê"),
)  # fmt: skip
"""What is read, and what it may have been."""

LOOK_COST, OTHER_COST, EDIT_COST, NEAR_COST = 2.2, 0.4, 4.6, 3.6
"""Negative natural logarithms of how often a character is read as its look-alike, as another reading of low share, as anything, and as a
letter that a word of the same document has there."""

UNSEEN, UNSEEN_NAME = -7.0, 0.0
"""Logarithm (base e) of frequency, in a thousand million, of words that nothing knows, and of such that may be names."""

SPURIOUS = 0.8
"""Share of belief that a sign without its fellow, or a second one at a word's end, was never there."""

ENOUGH = 400
"""Words of the document compared with a doubtful one."""


def answers(token: Token, lexicon: Words, vouchers: Vouchers, *, most: int = MOST) -> tuple[str, ...]:
    """Readings in place of a word, signs around it included, the likeliest first."""
    before, after = token.text[: token.offset], token.text[token.offset + len(token.core) :]
    costs: dict[str, float] = {}

    def consider(core: str, cost: float) -> None:
        if core and core != token.core:
            costs[core] = min(cost, costs.get(core, math.inf))

    number = spoiled_number(token.core)
    if number is not None:
        consider(number, 0.0)
    readings = list(_other_readings(token))
    for core, cost in readings:
        consider(core, cost)
    for core, cost in _look_alikes(token.core):
        consider(core, cost)
        # A second look-alike, only towards words that are known: without that there is no end of them.
    for first, cost in _look_alikes(token.core):
        for second, more in _look_alikes(first):
            if len(token.core) > 4 and lexicon.frequency(second) >= 1.5:
                consider(second, cost + more)
    if token.core and not lexicon.knows(token.core):
        for word in lexicon.neighbours(token.core)[:8]:
            distance = Levenshtein.distance(word, token.core)
            if distance <= 3:
                consider(word, EDIT_COST * distance)
    for word, distance in _of_the_document(token.core, vouchers):
        consider(word, NEAR_COST * distance)
    ranked = sorted(costs, key=lambda core: costs[core] - _prior(core, lexicon, vouchers))
    cores = [before + core + after for core in ranked[: 3 * most]]
    signs = _signs_changed(token)
    sound = (
        not token.core or lexicon.knows(token.core) or vouchers.counts[token.core] > 1 or is_plain_number(token.core)
    )
    ordered = [*signs, *cores] if sound else [*cores[: most - 1], *signs, *cores]
    return tuple(dict.fromkeys(text for text in ordered if text and text != token.text))[:most]


def _other_readings(token: Token) -> Iterable[tuple[str, float]]:
    for other in token.others:
        place = other.place - token.offset
        if 0 <= place < len(token.core):
            changed = token.core[:place] + other.text.strip() + token.core[place + 1 :]
            yield changed, OTHER_COST + min(-math.log(max(other.share, 0.01)), 4.0) / 2


def _look_alikes(core: str) -> Iterable[tuple[str, float]]:
    for read, meant in LOOK_ALIKE:
        at = core.find(read)
        while at >= 0:
            yield core[:at] + meant + core[at + len(read) :], LOOK_COST
            at = core.find(read, at + 1)


def _of_the_document(core: str, vouchers: Vouchers) -> Iterable[tuple[str, int]]:
    if len(core) < 4:
        return
    near = [
        word
        for word, count in vouchers.counts.items()
        if count > 1 and abs(len(word) - len(core)) <= 1 and word != core
    ]
    found = process.extract(core, near[:ENOUGH], scorer=Levenshtein.distance, score_cutoff=2, limit=4)
    for word, distance, _ in found:
        yield word, int(distance)


def _prior(core: str, lexicon: Words, vouchers: Vouchers) -> float:
    plain = all(c.isalnum() or c in "’'-" for c in core)
    frequency = lexicon.frequency(core) if plain else 0.0  # of two words with a sign between it would be that of both
    unseen = UNSEEN_NAME if core[:1].isupper() else UNSEEN
    prior = frequency * math.log(10) if frequency else (1.5 if lexicon.knows(core) else unseen)
    seen = vouchers.counts[core]
    if seen:
        prior = max(prior, 4.0) + 1.5 * math.log1p(seen)
    if is_plain_number(core):
        prior = max(prior, 4.0)
    return prior


def _signs_changed(token: Token) -> list[str]:
    """The word with other signs around it, the likeliest first: those that the recogniser saw, none, stop for comma."""
    text, start, end = token.text, token.offset, token.offset + len(token.core)
    found: list[tuple[float, str]] = []
    for other in token.others:
        if not start <= other.place < end or not token.core:
            found.append((other.share, text[: other.place] + other.text.strip() + text[other.place + 1 :]))
    if not token.core:
        found += [(0.3, reading) for sign, reading in LOOK_ALIKE if sign == text]
    elif start:
        found.append((SPURIOUS if _is_unbalanced_start(token) else 0.2, text[start:]))
    if token.core and len(text) - end > 1:
        found.append((SPURIOUS, text[:-1]))
    if token.core and len(text) - end == 1:
        last = text[-1]
        found.append((0.3, text[:-1] + {",": ".", ".": ","}.get(last, "")))
        if last in "’'”\"":
            found.append((SPURIOUS - 0.1, text[:-1] + "."))
        found.append((SPURIOUS if last in "’'”\"" else 0.1, text[:-1]))
    return [reading for _, reading in sorted(found, key=lambda pair: -pair[0])][:3]


def _is_unbalanced_start(token: Token) -> bool:
    return token.text[0] in "‚‘„“\"'-—" and not any(sign in token.block.text[token.end - 1 :] for sign in '’‘”“"')
