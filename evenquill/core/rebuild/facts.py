"""What is true of the whole document and helps with each paragraph: its text size, line distances, words, language."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence, Type
from evenquill.core.languages import detect_language
from evenquill.core.model import Family
from evenquill.core.rebuild.sheet_kinds import SheetKind, sheet_kinds_of

SAMPLE_CHARACTERS = 4000
"""Enough text to tell a language beyond doubt."""

MOSTLY = 0.5
"""Share of a page's letters from which they make it typewritten."""

PROPORTIONAL = 0.2
"""Share of the letters that are not in a fixed width, from which these are the document's text."""

FEWEST_WORDS, LEAST_PROSE = 6, 0.2
"""Words of a line of running text, at least, which few cells of tables have; and the share of all letters that stand in such lines from
which they tell the look of text."""

FEWEST_CHARACTERS = 40
"""Below this nothing certain can be said of a language."""

NEARLY_FULL = 2.5
"""Ems that a full line may leave free."""

WIDEST_LEADING = 1.5
"""Ems; where few lines tell, a wider distance is taken for that of paragraphs."""

SINGLE_LEADING = 1.2
"""Ems; what type is usually set with."""

_WORD = re.compile(r"[^\W\d_]+(?:[-\u2010][^\W\d_]+)*")


class Facts(NamedTuple):
    """``text_type`` is the look of most letters; ``leading`` the usual distance of baselines by type size;

    ``words`` holds all words in lower case with their number, hyphenated ones too; ``soft_hyphen`` is the character
    that the document breaks words with if that differs from its real hyphen. ``typewritten`` are the scanned pages in a fixed width;
    ``kinds`` says by their numbers how pages were made.
    """

    text_type: Type
    leading: dict[float, float]
    words: Counter[str]
    soft_hyphen: str | None
    language: str
    typewritten: frozenset[int] = frozenset()
    kinds: Mapping[int, SheetKind | None] = MappingProxyType({})

    def leading_of(self, size: float) -> float:
        return self.leading.get(size, SINGLE_LEADING * size)


def facts_of(pages: Sequence[PageEvidence], language: str = "") -> Facts:
    """Facts of a document; ``language`` is what its file claims, and is taken at its word."""
    letters: Counter[Type] = Counter()
    prose: Counter[Type] = Counter()
    full: dict[float, Counter[float]] = defaultdict(Counter)
    every: dict[float, Counter[float]] = defaultdict(Counter)
    words: Counter[str] = Counter()
    hyphens_at_end: Counter[str] = Counter()
    hyphens_within: Counter[str] = Counter()
    sample: list[str] = []
    sampled = 0
    typewritten = set()
    for page in pages:
        if page.cleaned is not None and page.fixed_width_share() > MOSTLY:
            typewritten.add(page.number)
        _count_distances(page, full, every)
        for line in page.lines:
            for word in line.words:
                letters[page.types[word.type]] += len(word.text)
                if len(line.words) >= FEWEST_WORDS:
                    prose[page.types[word.type]] += len(word.text)
            text = line.text
            for match in _WORD.findall(text[:-1] if text.endswith(("-", "\u2010")) else text):
                words[match.lower().replace("\u2010", "-")] += 1
            if text[-1:] in "-\u2010":
                hyphens_at_end[text[-1]] += 1
            hyphens_within.update(c for c in text[:-1] if c in "-\u2010")
            if sampled < SAMPLE_CHARACTERS:
                sample.append(text)
                sampled += len(text)
    soft = None
    if hyphens_at_end and hyphens_within:
        end, within = hyphens_at_end.most_common(1)[0][0], hyphens_within.most_common(1)[0][0]
        soft = end if end != within else None
    return Facts(
        text_type=_text_type(prose if prose.total() >= LEAST_PROSE * letters.total() else letters),
        leading={size: _leading(size, full.get(size, Counter()), counts) for size, counts in every.items()},
        words=words,
        soft_hyphen=soft,
        language=language.split("-")[0].lower() or language_of(" ".join(sample)),
        typewritten=frozenset(typewritten),
        kinds=sheet_kinds_of(pages, typewritten),
    )


_PLAIN = Type("", Family.SERIF, 11.0)


def _text_type(letters: Counter[Type]) -> Type:
    """The look of most letters; of those that are not in a fixed width, where there are enough: a manual may have more code than text."""
    proportional = Counter({type_: count for type_, count in letters.items() if type_.family is not Family.MONO})
    if proportional.total() >= PROPORTIONAL * letters.total():
        letters = proportional
    return letters.most_common(1)[0][0] if letters else _PLAIN


def _count_distances(page: PageEvidence, full: dict[float, Counter[float]], every: dict[float, Counter[float]]) -> None:
    """Counts distances of baselines between lines of one size; under ``full`` those within a sentence that fills its line."""
    by_size: dict[float, list[Line]] = defaultdict(list)
    for line in page.lines:
        if not line.angle:
            by_size[line.size].append(line)
    for size, lines in by_size.items():
        lines.sort(key=lambda line: line.baseline)
        right = max(line.box.x1 for line in lines)
        for i, line in enumerate(lines):
            below = next((other for other in lines[i + 1 : i + 6] if line.box.overlap_x(other.box) > 0), None)
            if below is None or not 0.9 * size < below.baseline - line.baseline < 2.2 * size:
                continue
            distance = round((below.baseline - line.baseline) * 2) / 2
            every[size][distance] += 1
            if line.box.x1 > right - NEARLY_FULL * size and _runs_on(line.text, below.text):
                full[size][distance] += 1


def _runs_on(above: str, below: str) -> bool:
    """Whether a sentence goes on from one line to the next."""
    return above[-1:] not in ".:;!?" and below[:1].islower() and len(above.split()) > 4


def _leading(size: float, full: Counter[float], every: Counter[float]) -> float:
    """The distance of lines within paragraphs: below full lines, else any that is not as wide as paragraphs stand apart."""
    close = Counter({distance: n for distance, n in every.items() if distance < WIDEST_LEADING * size})
    certain = Counter({distance: n for distance, n in full.items() if n >= 2 or distance < WIDEST_LEADING * size})
    return _usual(certain or close) if certain or close else SINGLE_LEADING * size


def _usual(counts: Counter[float]) -> float:
    """The commonest distance, the smaller one of two that are nearly as common."""
    most = counts.most_common(1)[0][1]
    return min(distance for distance, n in counts.items() if n >= 0.6 * most)


def language_of(text: str) -> str:
    """ISO 639-1 code of the language of a text, or nothing where there is too little of it."""
    if sum(c.isalpha() for c in text) < FEWEST_CHARACTERS:
        return ""
    told = detect_language(text)
    return told.language.short if told.belief else ""
