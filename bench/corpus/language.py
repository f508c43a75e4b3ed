"""Makes the language models that ship: from texts that packages carry in many languages, and from lists of words."""

from __future__ import annotations

import gzip
import heapq
import math
import re
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from pathlib import Path

import numpy as np
from lxml import html

from evenquill.core.language_model import END, LONGEST, START, STEP, LanguageModel, key_of, tokens_of
from evenquill.core.languages import detect_language
from evenquill.core.word_frequencies import share_of_words

TEXTS = (
    "debian-handbook",
    *(f"manpages-{code}" for code in ("cs", "da", "de", "es", "fi", "fr", "it", "nb", "nl", "pl", "pt-br", "ro", "ru", "sv")),
    *(f"aptitude-doc-{code}" for code in ("cs", "en", "es", "fi", "fr", "it", "nl", "ru")),
)  # fmt: skip

LANGUAGES = ("en", "de", "fr", "es", "it", "pt", "nl", "sv", "fi", "da", "nb", "pl", "cs", "ca", "ro", "ru")

FORTUNES = {"de": "de", "es": "es", "it": "it", "cs": "cs", "pl": "pl", "en": "."}

DISCOUNT = 0.75
"""Count that is taken from each pair for those that were not seen."""

MOST_PAIRS, MOST_LETTERS, WORDS = 50_000, 30_000, 40_000
"""Pairs of words and sequences of letters that are kept, those that tell most; words that are listed, from which spelling is learnt."""

_ROFF = re.compile(r"\\f.|\\[&%|^/,]|\\\(..|\\s[-+]?\d|\\-|\\e|\\")


def make_models(root: Path, folder: Path) -> Iterator[str]:
    """Writes a file for each language; says how large each is."""
    folder.mkdir(exist_ok=True)
    for language in LANGUAGES:
        paragraphs = dict.fromkeys(text for text in texts_of(root, language) if len(text) > 40)
        arrays, words = _model(paragraphs, share_of_words(language))
        file = folder / f"{language}.npz"
        np.savez_compressed(file, **arrays)
        yield f"{language}: {words} words, {file.stat().st_size / 1e6:.2f} MB"


def texts_of(root: Path, language: str) -> Iterator[str]:
    """Paragraphs in a language."""
    share = root / "usr/share"
    for folder in sorted((share / "doc/debian-handbook/html").glob(f"{language}-*")):
        for page in sorted(folder.glob("*.html")):
            yield from _of_language(_paragraphs(page), language)
    for page in sorted((share / f"doc/aptitude/html/{language}").glob("*.html")):
        yield from _of_language(_paragraphs(page), language)
    for folder in sorted((share / "man").glob(f"{language}*")):
        for page in sorted(folder.rglob("*.gz")):
            yield from _of_language(_of_manual(page), language)
    if language in FORTUNES:
        for file in sorted((share / "games/fortunes" / FORTUNES[language]).glob("*")):
            if file.is_file() and file.suffix not in (".dat", ".u8"):
                text = file.read_bytes().decode("utf-8", "replace")
                yield from _of_language((" ".join(part.split()) for part in text.split("\n%\n")), language)


def _of_language(texts: Iterator[str], language: str) -> Iterator[str]:
    """The texts that are in a language: much in translated books is not translated yet."""
    for text in texts:
        if len(text) > 40 and (language in ("ca", "ro", "ru") or detect_language(text).language.short == language):
            if language in ("ca", "ro") and detect_language(text).language.short == "en":
                continue
            yield text


def _paragraphs(page: Path) -> Iterator[str]:
    root = html.parse(str(page), parser=html.HTMLParser(encoding="utf-8")).getroot()
    for element in root.xpath("//p | //div[@class='para' and not(.//div)]"):
        yield " ".join(element.text_content().split())


def _of_manual(page: Path) -> Iterator[str]:
    """The prose of a manual page: runs of lines that are no requests."""
    own: list[str] = []
    for line in gzip.decompress(page.read_bytes()).decode("utf-8", "replace").splitlines():
        if line.startswith((".", "'")):
            if own:
                yield " ".join(own)
            own = []
        else:
            own.append(" ".join(_ROFF.sub("", line).split()))


def _model(paragraphs: Mapping[str, None], shares: Mapping[str, float]) -> tuple[dict[str, np.ndarray], int]:
    letters = _letters(shares)
    by_letters = LanguageModel({}, {}, {key_of(word): math.log(share) for word, share in _commonest(shares)}, *letters)
    pairs: Counter[tuple[str, str]] = Counter()
    firsts: Counter[str] = Counter()
    for text in paragraphs:
        before = START
        for token in (*tokens_of(text), END):
            if before == START and token == END:
                continue
            pairs[before, token] += 1
            firsts[before] += 1
            before = START if token == END else token
    gains = []
    for (first, second), count in pairs.items():
        if count > 1:
            share = (count - DISCOUNT) / firsts[first]
            # How much is lost without it (Stolcke 1998).
            gains.append((count * abs(math.log(share) - by_letters.word(second)), first, second, math.log(share)))
    kept = heapq.nlargest(MOST_PAIRS, gains)
    of_first: dict[str, list[tuple[str, float]]] = defaultdict(list)
    for _, first, second, value in kept:
        of_first[first].append((second, value))
    backoff = {}
    for first, own in of_first.items():
        left = 1 - sum(math.exp(value) for _, value in own)
        free = 1 - sum(math.exp(by_letters.word(second)) for second, _ in own)
        backoff[key_of(first)] = math.log(max(left, 1e-4) / max(free, 1e-2))
    tables = {
        "pairs": {key_of(f"{first} {second}"): value for _, first, second, value in kept},
        "backoff": backoff,
        "words": {key_of(word): math.log(share) for word, share in _commonest(shares)},
        "letters": letters[0],
        "letters_backoff": letters[1],
    }
    return {name: array for own, table in tables.items() for name, array in _arrays(own, table)}, sum(firsts.values())


def _letters(shares: Mapping[str, float]) -> tuple[dict[int, float], dict[int, float]]:
    """N-grams of the letters of the commonest words, each counted by the root of its frequency, and what they leave for others."""
    counts: list[Counter[str]] = [Counter() for _ in range(LONGEST + 1)]
    words = _commonest(shares)
    least = words[-1][1]
    for word, share in words:
        text, weight = f"^{word}$", math.sqrt(share / least)
        for n in range(1, len(text)):
            for length in range(1, min(n + 1, LONGEST) + 1):
                counts[length][text[n - length + 1 : n + 1]] += weight
    total = sum(counts[1].values())
    values = {gram: math.log(count / total) for gram, count in counts[1].items()}
    room = MOST_LETTERS - len(values)
    grams = heapq.nlargest(
        room, ((count, gram) for length in range(2, LONGEST + 1) for gram, count in counts[length].items())
    )
    kept = {gram for _, gram in grams}
    contexts: dict[str, list[str]] = defaultdict(list)
    # The beginning of a sequence is kept with it.
    for gram in sorted(kept, key=len):
        contexts[gram[:-1]].append(gram)
    left: dict[str, float] = {}
    sums: Counter[str] = Counter()
    kinds: Counter[str] = Counter()
    for length in range(2, LONGEST + 1):
        for gram, count in counts[length].items():
            sums[gram[:-1]] += count
            kinds[gram[:-1]] += 1
    for context in sorted(contexts, key=len):
        seldom = 1 + kinds[context]
        for gram in contexts[context]:
            values[gram] = math.log(counts[len(gram)][gram] / (sums[context] + seldom))
        rest = 1 - sum(math.exp(values[gram]) for gram in contexts[context])
        lower = 1 - sum(math.exp(values.get(gram[1:], math.log(1e-4))) for gram in contexts[context])
        left[context] = math.log(max(rest, 1e-5) / max(lower, 1e-2))
    return {key_of(gram): value for gram, value in values.items()}, {
        key_of(gram): value for gram, value in left.items()
    }


def _commonest(shares: Mapping[str, float]) -> list[tuple[str, float]]:
    """Words of letters alone with their shares, the commonest first."""
    return sorted(((word, share) for word, share in shares.items() if word.isalpha()), key=lambda one: -one[1])[:WORDS]


def _arrays(name: str, table: Mapping[int, float]) -> Iterator[tuple[str, np.ndarray]]:
    keys = sorted(table)
    yield f"{name}_keys", np.array(keys, np.uint32)
    yield name, np.array([min(max(round(-table[key] / STEP), 0), 255) for key in keys], np.uint8)
