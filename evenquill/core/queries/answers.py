"""What a doubtful word may say instead: a noisy channel (Kernighan, Church and Gale 1990) from candidates to what was read.

Candidates are other readings by the recogniser, look-alike characters, words of the language and words of the document. Each is ranked by
how common it is and by how easily it is read as what stands there.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable

from rapidfuzz import process
from rapidfuzz.distance import Levenshtein

from evenquill.core.edits.words import core_of
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.shapes import is_code, is_number, is_plain_number, spoiled_number
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.word_measures import Vouchers, one_character_changed, words_joined

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
    ("-", "."), ("à", "a"), ("nt", "m"), ("rh", "m"),
)  # fmt: skip
"""What is read, and what it may have been."""

LOOK_COST, OTHER_COST, EDIT_COST, NEAR_COST = 2.2, 0.4, 5.2, 4.0
"""Negative natural logarithms of how often a character is read as its look-alike, as another reading of low share, as anything, and as a
letter that a word of the same document has there."""

SIGN_COST, SPACE_COST = 0.3, 1.5
"""The same for a sign, besides the doubt in it, and for a space after a sign that was not seen."""

RIVAL_COST = 0.3
"""The same for what a second reading of the word says."""

SHORTEST_PART, USUAL_PART = 2, 4.5
"""Letters, and Zipf frequency, of words that may have run together."""

LOST = 0.1
"""Share of belief that a doubtful word has lost the sign behind it, where none is to be seen."""

CASE_COST = 1.0
"""Negative natural logarithm of how often a small letter is read as its capital."""

WITHIN = 120
"""Characters within which a quotation mark is looked for that closes another."""

OPENING, LONE = frozenset("‚‘„“\"'-—`"), 0.3
"""Signs that a lone one at the start of a word is mistaken for, and how readily they are believed in its place."""

SURE_OF_DIGITS = 8.0
"""Rank by which a number without the letters among its digits comes first, and a code with a letter for its first sign."""

FURTHER = 0.3
"""Share by which each change of a letter costs more than the one before."""

TOGETHER_SHARE, MOST_TOGETHER, MOST_COMBINED = 0.12, 6, 300
"""Share of other readings that are tried together, places in a word at which they may be, and combinations."""

UNSEEN, UNSEEN_NAME = -7.0, 0.0
"""Logarithm (base e) of frequency, in a thousand million, of words that nothing knows, and of such that may be names."""

SIGN_ALONE = -2.0
"""The same for a sign that stands alone."""

ALIKE_NUMBERS = 4
"""Numbers of the document written in one way from which this is how it writes them."""

SPURIOUS = 0.8
"""Share of belief that a sign without its fellow, or a second one at a word's end, was never there."""

ENOUGH = 400
"""Words of the document compared with a doubtful one."""


def answers(token: Token, lexicon: Words, vouchers: Vouchers, *, most: int = MOST) -> tuple[str, ...]:
    """Readings in place of a word, signs around it included, the likeliest first."""
    if token.fell_apart:
        whole = token._replace(text=token.text.replace(" ", ""))
        return (whole.text, *answers(whole, lexicon, vouchers, most=most - 1))
    before, after = token.text[: token.offset], token.text[token.offset + len(token.core) :]
    ranks: dict[str, float] = {}

    def consider(text: str, rank: float) -> None:
        if text and text != token.text:
            ranks[text] = min(rank, ranks.get(text, math.inf))

    for core, cost in _cores(token, lexicon, vouchers).items():
        name = token.core[:1].isupper() or not token.core[:1].isalpha()
        consider(before + core + after, cost - _prior(core, lexicon, vouchers, name=name))
    if token.rival:
        consider(token.rival, RIVAL_COST - _prior(core_of(token.rival), lexicon, vouchers))
    own = _prior(token.core, lexicon, vouchers, itself=True) if token.core else 0.0
    for text, share in _signs_changed(token, lexicon, vouchers):
        # Signs standing alone are seldom what was printed; a word or a letter is.
        known = own if token.core else _prior(core_of(text), lexicon, vouchers) if core_of(text) else SIGN_ALONE
        consider(text, SIGN_COST - math.log(share) - known)
    for sign, meant in LOOK_ALIKE:
        if token.offset and token.text.startswith(sign) and is_code(core_of(meant + token.text[len(sign) :])):
            consider(meant + token.text[len(sign) :], -SURE_OF_DIGITS)
    for parts in (words_joined(token.text), run_together(token.text, lexicon)):
        if len(parts) > 1:
            consider(" ".join(parts), SPACE_COST - min(_prior(core_of(part), lexicon, vouchers) for part in parts))
    return tuple(sorted(ranks, key=lambda text: ranks[text])[:most])


def run_together(text: str, lexicon: Words) -> list[str]:
    """The two words that a text is whose space was missed, or taken for a quotation mark; the text alone where it is none."""
    for mark in "'’‘\"”":
        before, _, after = text.partition(mark)
        if len(before) > 1 and len(after) > 2 and lexicon.knows(before) and lexicon.knows(core_of(after)):
            return [before, after]
    if not lexicon.knows(core_of(text)):
        places = range(SHORTEST_PART, len(text) - SHORTEST_PART + 1)
        usual = [n for n in places if min(map(lexicon.frequency, (text[:n], core_of(text[n:])))) >= USUAL_PART]
        if usual:
            best = max(usual, key=lambda n: min(map(lexicon.frequency, (text[:n], core_of(text[n:])))))
            return [text[:best], text[best:]]
    return [text]


def _cores(token: Token, lexicon: Words, vouchers: Vouchers) -> dict[str, float]:
    """Other readings of the word without its signs, each with what it costs to be read as what stands there."""
    costs: dict[str, float] = {}

    def consider(core: str, cost: float) -> None:
        if core and core != token.core:
            costs[core] = min(cost, costs.get(core, math.inf))

    number = spoiled_number(token.core)
    if number is not None:
        consider(number, -SURE_OF_DIGITS)
    for core, cost in _other_readings(token):
        consider(core, cost)
    for core, cost in _other_readings_together(token):
        if lexicon.knows(core):
            consider(core, cost)
    for core, cost in _look_alikes(token.core):
        consider(core, cost)
        # A second look-alike, only towards words that are known: without that there is no end of them.
        if len(token.core) > 3:
            for second, more in _look_alikes(core):
                if lexicon.frequency(second) >= 1.5:
                    consider(second, cost + more)
    if token.core and not lexicon.knows(token.core):
        for word in lexicon.alike(token.core):
            cased = _cased_as(word, token.core)
            distance = Levenshtein.distance(cased, token.core)
            if distance <= 3:
                consider(cased, EDIT_COST * (distance + FURTHER * (distance - 1)))
    elif token.core.istitle() and _stands_within(token):
        consider(token.core.lower(), CASE_COST)
    for core in _without_a_sign(token.core):
        consider(core, LOOK_COST)
    for word, distance in _of_the_document(token.core, vouchers):
        consider(word, NEAR_COST * distance)
    return costs


def _cased_as(word: str, core: str) -> str:
    """A word of the list with the first letter as high as the one that was read."""
    if core.isupper():
        return word.upper()
    return word[:1].upper() + word[1:] if core[:1].isupper() else word[:1].lower() + word[1:]


def _stands_within(token: Token) -> bool:
    """Whether the word stands within a sentence."""
    before = token.block.text[: token.start].rstrip()
    return bool(before) and (before[-1].isalnum() or before[-1] == ",")


def _without_a_sign(core: str) -> Iterable[str]:
    """A number with several signs in it without one of them, where that makes it a plain one."""
    signs = [place for place, c in enumerate(core) if not c.isalnum()]
    if len(signs) > 1 and is_number(core):
        shorter = (core[:place] + core[place + 1 :] for place in signs)
        yield from (number for number in shorter if is_plain_number(number))


def _other_readings_together(token: Token) -> Iterable[tuple[str, float]]:
    """The word with several of its characters read otherwise at once."""
    by_place: dict[int, list[tuple[str, float]]] = {}
    for other in token.others:
        place = other.place - token.offset
        if 0 <= place < len(token.core) and other.share >= TOGETHER_SHARE:
            by_place.setdefault(place, []).append((other.text.strip(), _cost_of(other.share)))
    if not 2 <= len(by_place) <= MOST_TOGETHER:
        return
    choices = [[(token.core[place], 0.0), *by_place.get(place, ())] for place in range(len(token.core))]
    for chosen in itertools.islice(itertools.product(*choices), MOST_COMBINED):
        yield "".join(text for text, _ in chosen), sum(cost for _, cost in chosen)


def _other_readings(token: Token) -> Iterable[tuple[str, float]]:
    for changed, share in one_character_changed(token):
        yield changed, _cost_of(share)


def _cost_of(share: float) -> float:
    return OTHER_COST + min(-math.log(max(share, 0.01)), 4.0) / 2


def _look_alikes(core: str) -> Iterable[tuple[str, float]]:
    for read, meant in LOOK_ALIKE:
        at = core.find(read)
        while at >= 0:
            yield core[:at] + meant + core[at + len(read) :], LOOK_COST
            at = core.find(read, at + 1)


def _of_the_document(core: str, vouchers: Vouchers) -> Iterable[tuple[str, int]]:
    if len(core) < 4:
        return
    near = [word for word in vouchers.repeated(len(core)) if word != core]
    found = process.extract(core, near[:ENOUGH], scorer=Levenshtein.distance, score_cutoff=2, limit=4)
    for word, distance, _ in found:
        yield word, int(distance)


def _prior(core: str, lexicon: Words, vouchers: Vouchers, *, name: bool = True, itself: bool = False) -> float:
    """The logarithm of how often a word may be expected; ``name`` says whether a capital may make it one, ``itself``
    that it is the doubtful word, which does not vouch for itself."""
    plain = all(c.isalnum() or c in "’'-" for c in core) and (core.islower() or core.isupper() or core[1:].islower())
    frequency = lexicon.frequency(core) if plain else 0.0  # of two words with a sign between it would be that of both
    unseen = UNSEEN_NAME if core[:1].isupper() and name else UNSEEN
    prior = frequency * math.log(10) if frequency else (1.5 if plain and lexicon.knows(core) else unseen)
    seen = vouchers.counts[core] - itself
    if seen > 0:
        prior = max(prior, 4.0) + 1.5 * math.log1p(seen)
    if is_plain_number(core):
        alike = vouchers.written_alike(core)
        prior = max(prior, 4.0) + (math.log(alike) if alike >= ALIKE_NUMBERS else 0.0)
    return prior


def _signs_changed(token: Token, lexicon: Words, vouchers: Vouchers) -> list[tuple[str, float]]:
    """The word with other signs around it, and how readily each is believed: those that the recogniser saw, none, stop for comma."""
    text, start, end = token.text, token.offset, token.offset + len(token.core)
    found: list[tuple[float, str]] = []
    for other in token.others:
        if not other.share:
            continue
        if not start <= other.place < end or not token.core:
            if other.place >= len(text):
                found += _signs_behind(token)
                continue
            read = text[: other.place] + other.text.strip() + text[other.place + 1 :]
            # Another sign in the place of a lone quotation mark is as lone.
            alone = other.place < start and _is_unbalanced_start(token) and other.text.strip() in OPENING
            found.append((other.share * (LONE if alone else 1.0), read))
    if not token.core:
        found += [(0.3, reading) for sign, reading in LOOK_ALIKE if sign == text]
    elif start:
        found.append((SPURIOUS if _is_unbalanced_start(token) else 0.2, text[start:]))
    whole = lexicon.knows(token.core) or vouchers.counts[token.core] > 1 or token.core[:1].isupper()
    if token.core and len(text) == end and whole:
        found += [(LOST * share, read) for share, read in _signs_behind(token)]
    if token.core and len(text) - end > 1:
        found.append((SPURIOUS, text[:-1]))
    if token.core and len(text) - end == 1:
        last = text[-1]
        following = token.block.text[token.end :].lstrip()
        lone_stop = last == "." and following[:1].islower()
        found.append((0.3, text[:-1] + {",": ".", ".": ","}.get(last, "")))
        if last in "’'”\"":
            found.append((SPURIOUS - 0.1, text[:-1] + "."))
        found.append((SPURIOUS if last in "’'”\"" else 0.5 if lone_stop else 0.1, text[:-1]))
    return [(reading, share) for share, reading in found]


def _signs_behind(token: Token) -> list[tuple[float, str]]:
    """The word with a stop or a comma behind it: before a capital that is most often a stop, else a comma."""
    likely, other = (".", ",") if _comes_before_capital(token) else (",", ".")
    return [(0.6, token.text + likely), (0.2, token.text + other)]


def _comes_before_capital(token: Token) -> bool:
    """Whether the next word has a capital."""
    return token.block.text[token.end :].lstrip()[:1].isupper()


def _is_unbalanced_start(token: Token) -> bool:
    following = token.block.text[token.end - 1 : token.end + WITHIN]
    return token.text[0] in OPENING and not any(sign in following for sign in '’‘”“"')
