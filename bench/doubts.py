"""How good the queries on words are, on pages made by script: ``python bench/doubts.py``.

Pages in four languages at 300, 200 and 150 dots an inch are printed, laid askew and scanned, read, and compared with what was printed.
"""

from __future__ import annotations

import difflib
import random
import re
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
import typst
import wordfreq

sys.path.insert(0, str(Path(__file__).parent.parent / "demo"))
import scan_effects

from evenquill.core.convert import convert
from evenquill.core.languages import long_code
from evenquill.core.model import Document
from evenquill.core.queries import Query, find_queries
from evenquill.core.queries.lexicon import Lexicon, lexicon
from evenquill.core.queries.tokens import Token, tokens
from evenquill.core.reading.pages import PagePool
from evenquill.core.reading.preparation import Preparation

LANGUAGES, RESOLUTIONS = ("en", "de", "fr", "fi"), (300, 200, 150)
PAGES = 4
"""Pages for each language and resolution, for each seed."""

SEEDS = (2, 4)
"""Seeds of the pages that the figures are taken on."""

WORDS, COMMON, RARE = 150, 4000, 60_000
SPECKS, QUALITY = 40, (40, 80)
"""Specks on a page, as many as the glass of an office scanner leaves; bounds of JPEG quality."""

FONTS = ("Libertinus Serif", "New Computer Modern", "DejaVu Sans", "DejaVu Sans Mono")
NAMES = ("Skerrin", "Tarrow", "Morvane", "Tobiah", "Renn", "Ardling", "Hesketh", "Vallin", "Oskery", "Brannow")


class Judged(NamedTuple):
    """A word as read, with what was printed; ``truth`` is None where no one word stands against it."""

    token: Token
    wrong: bool
    truth: str | None


class Sheet(NamedTuple):
    """PAGES pages of one language and resolution that were made and read as one document."""

    language: str
    dpi: int
    words: list[Judged]
    document: Document


def main() -> None:
    with tempfile.TemporaryDirectory() as name, PagePool() as pool:
        report([sheet for seed in SEEDS for sheet in sheets(Path(name), pool, seed)])


def sheets(folder: Path, pool: PagePool, seed: int) -> Iterator[Sheet]:
    """Pages of all languages and resolutions, read; each language's pages of one resolution are one document."""
    chance, noise = random.Random(seed), np.random.default_rng(seed)
    for language in LANGUAGES:
        for dpi in RESOLUTIONS:
            source = folder / f"{seed}-{language}-{dpi}.pdf"
            words, pages = [], []
            for _ in range(PAGES):
                own = list(made_words(language, chance))
                make_page(own, chance.choice(FONTS), source)
                page = scan_effects.printed(scan_effects.drawn(source, 1, dpi), noise)
                askew = scan_effects.turned(page, float(noise.uniform(-1, 1)))
                pages.append(scan_effects.scanned(askew, noise, specks=SPECKS))
                words += own
            source.write_bytes(scan_effects.as_pdf(pages, dpi, int(noise.integers(*QUALITY)), grey=True))
            preparation = Preparation(languages=(long_code(language),))
            document = convert(source, pool, folder / source.stem, preparation=preparation).document
            yield Sheet(language, dpi, judged(words, list(tokens(document))), document)


def made_words(language: str, chance: random.Random) -> Iterator[str]:
    """Words of a language in its own frequencies, with names, numbers, dates and codes among them, in sentences."""
    words = lexicon(language)
    listed = wordfreq.top_n_list(language, RARE)
    common = [word for word in listed[:COMMON] if _is_word(word, words)]
    rare = [word for word in listed[COMMON:] if _is_word(word, words)]
    begins = True
    for _ in range(WORDS):
        draw = chance.random()
        if draw < 0.05:
            word = chance.choice(NAMES)
        elif draw < 0.09:
            word = f"{chance.randint(0, 30)}.{chance.randint(0, 999):03}"
        elif draw < 0.11:
            word = str(chance.randint(2, 1999))
        elif draw < 0.12:
            word = f"{chance.choice('ABGKS')}-{chance.randint(1, 90)}"
        elif draw < 0.16:
            word = chance.choice(common).capitalize()  # as offices, titles, days and months have them
        else:
            pool = rare if draw > 0.8 else common[: max(int(len(common) * chance.random() ** 3), 60)]
            word = chance.choice(pool)
            if not words.knows(word) and words.knows(word.capitalize()):
                word = word.capitalize()
        if begins:
            word = word[:1].upper() + word[1:]
        begins = chance.random() < 0.09
        yield word + ("." if begins else "," if chance.random() < 0.06 else "")


@cache
def _is_word(word: str, words: Lexicon) -> bool:
    """Whether a string of the frequency list is a word that people print; it has names of the net, signs and single letters too."""
    return (
        word.isalpha() and (len(word) > 1 or word in "aiàyå") and (words.knows(word) or words.knows(word.capitalize()))
    )


def make_page(words: Sequence[str], font: str, path: Path) -> None:
    text = " ".join(words).replace("\\", "\\\\").replace('"', '\\"')
    paragraphs = (
        f'#set page(paper: "a5", margin: 16mm)\n#set text(font: "{font}", size: 10pt, hyphenate: false)\n#"{text}"'
    )
    source = path.with_suffix(".typ")
    source.write_text(paragraphs, encoding="utf-8")
    typst.compile(source, output=path)


def judged(printed: Sequence[str], read: Sequence[Token]) -> list[Judged]:
    """Each word as read, right or wrong."""
    texts = [token.text.replace("‘", "'").replace("’", "'") for token in read]
    out: list[Judged] = []
    truth = [word.replace("’", "'") for word in printed]
    for kind, a0, a1, b0, b1 in difflib.SequenceMatcher(None, truth, texts, autojunk=False).get_opcodes():
        for n in range(b0, b1):
            same = kind == "replace" and a1 - a0 == b1 - b0
            out.append(Judged(read[n], kind != "equal", truth[a0 + n - b0] if same or kind == "equal" else None))
    return out


def report(made: list[Sheet]) -> None:
    total = Counter[str]()
    bins: dict[int, list[bool]] = {}
    by = {key: Counter[str]() for key in (*LANGUAGES, *(f"{dpi} dpi" for dpi in RESOLUTIONS))}
    for sheet in made:
        asked = asked_about(sheet)
        counts = counted(sheet, asked, bins)
        total += counts
        by[sheet.language] += counts
        by[f"{sheet.dpi} dpi"] += counts
    for name, counts in ({"all": total} | by).items():
        found = counts["wrong asked"]
        print(
            f"{name:8} {counts['words']:6} words, {counts['wrong']:4} wrong; with a query {share(found, counts['wrong'])}; "
            f"false for each true {counts['right asked'] / max(found, 1):.2f}, "
            f"a page {counts['right asked'] / max(counts['pages'], 1):.1f}; "
            f"answer first {share(counts['first'], counts['answerable'])}, among five {share(counts['among'], counts['answerable'])}"
        )
    print("likelihood said and share that was wrong:")
    for low, outcomes in sorted(bins.items()):
        print(f"   {low / 10:.1f} to {(low + 1) / 10:.1f}: {np.mean(outcomes):.2f} of {len(outcomes)}")


def asked_about(sheet: Sheet) -> dict[tuple[str, int], Query]:
    """By row and place of a word the query on it; one may be on several words."""
    queries = [query for query in find_queries(sheet.document) if query.end]
    return {
        (query.block, query.start + match.start()): query
        for query in queries
        for match in re.finditer(r"\S+", query.text)
    }


def counted(sheet: Sheet, asked: dict[tuple[str, int], Query], bins: dict[int, list[bool]]) -> Counter[str]:
    counts = Counter(pages=PAGES, words=len(sheet.words))
    for one in sheet.words:
        query = asked.get((one.token.block.id, one.token.start))
        counts["wrong"] += one.wrong
        if query is None:
            continue
        bins.setdefault(min(int(query.likelihood * 10), 9), []).append(one.wrong)
        counts["wrong asked" if one.wrong else "right asked"] += 1
        if one.wrong and one.truth is not None:
            possible = [answer.replace("’", "'") for answer in query.answers]
            counts["answerable"] += 1
            counts["first"] += possible[:1] == [one.truth]
            counts["among"] += one.truth in possible
    return counts


def share(part: int, whole: int) -> str:
    return f"{100 * part / whole:.1f} %" if whole else "–"


if __name__ == "__main__":
    main()
