"""Words of scans that are known to be read rightly or wrongly, since the document that was scanned is."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from difflib import SequenceMatcher
from pathlib import Path

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import KNOWN
from evenquill.core.model import Document
from evenquill.core.queries.kinds.words import with_neighbours
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.office import OfficeWords
from evenquill.core.queries.tokens import Token, tokens
from evenquill.core.queries.view import View
from evenquill.core.queries.word_measures import Beside, measures
from evenquill.core.rebuild.document import rebuild

from .evidence import evidence_of

MOST_WRONG = 0.3
"""Share of wrong words from which a page was not read but guessed: the page is doubted as a whole, and its words are not looked at."""

ONE_WAY = str.maketrans(
    {"’": "'", "‘": "'", "“": '"', "”": '"', "„": '"', "–": "-", "—": "-", "−": "-", "\u00ad": "", "ﬁ": "fi", "ﬂ": "fl"}
)
"""Signs that are written in several ways."""


def judged_words(case: Path) -> Iterator[tuple[str, Sequence[float], int]]:
    """For words that were recognised on a scan, in a language that is known: the kind of decision, the measures, and 1 for wrong ones."""
    made = case.parents[1] / "made" / case.name
    language = json.loads((case / "expected.json").read_text())["language"]
    if not (made / "evidence").exists() or language not in {known.short for known in KNOWN}:
        return
    scanned, printed = evidence_of(case), evidence_of(made)
    document = rebuild(scanned.pages, scanned.facts)
    view = View(document, OfficeWords())
    read = [pair for row in view.rows for pair in with_neighbours(row, view.words_of(row[0]) if row else Words(()))]
    wrong = wrong_among([token for token, _ in read], rebuild(printed.pages, printed.facts), printed.pages)
    for (token, beside), is_wrong in _on_pages_that_were_read(read, wrong):
        yield "word", measures(token, beside, view.words_of(token), view.vouchers), int(is_wrong)


def wrong_among(read: Sequence[Token], printed: Document, pages: Iterable[PageEvidence]) -> list[bool]:
    """For each word that was read whether nothing like it was printed: neither where it stands in the text nor, as all that is left over
    may stand elsewhere, on the pages."""
    left = Counter(word for page in pages for line in page.lines for word in one_way(line.text).split())
    texts, truth = ([one_way(token.text) for token in some] for some in (read, list(tokens(printed))))
    right = [False] * len(texts)
    for one in SequenceMatcher(None, truth, texts, autojunk=False).get_matching_blocks():
        for n in range(one.b, one.b + one.size):
            right[n] = True
            left[texts[n]] -= 1
    for n, text in enumerate(texts):
        if not right[n] and left[text] > 0:
            right[n] = True
            left[text] -= 1
    return [not one for one in right]


def one_way(text: str) -> str:
    """A text with each sign written in one way."""
    return text.translate(ONE_WAY)


def _on_pages_that_were_read(
    read: Sequence[tuple[Token, Beside]], wrong: Sequence[bool]
) -> Iterator[tuple[tuple[Token, Beside], bool]]:
    counts, wrongs = Counter[int](), Counter[int]()
    for (token, _), is_wrong in zip(read, wrong, strict=True):
        counts[token.page] += 1
        wrongs[token.page] += is_wrong
    for one, is_wrong in zip(read, wrong, strict=True):
        page = one[0].page
        if one[0].recognised and wrongs[page] <= MOST_WRONG * counts[page]:
            yield one, is_wrong
