"""Whether a file's own tags fit what its pages show: only then are they used."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence

from msgspec.structs import replace

from evenquill.core.evidence import OUTSIDE, Line, PageEvidence, Tag
from evenquill.core.model import Remark, RemarkKind
from evenquill.core.model.text import ends_sentence
from evenquill.core.rebuild.drafts import AnyDraft, Draft

TAGGED = 0.85
"""Share of the letters that must belong to a tag; running heads need not."""

FIT = 0.9
"""Share of what is looked at that must bear the tags out."""

FEWEST = 8
"""Lines that must be there to tell."""

MOST_HEADINGS = 0.3
"""Share of the letters that may be in headings."""

LONGEST_HEADING = 4
"""Lines."""

CLOSE = 1.6
"""Ems from a line to the next one of its paragraph, at most."""

SAME_EDGE = 1.0
"""Points within which lines begin or end at one edge."""

PARAGRAPHS = frozenset({"P", "LBody", "Note", "FENote", "BlockQuote", "Caption", "TD", "TH"})

WITHOUT_LEVEL = frozenset({"H", "Title"})

DO_NOT_FIT = "The file’s own marks of headings and paragraphs do not fit what its pages show; they were not used."


def with_trusted_tags(pages: Sequence[PageEvidence]) -> tuple[list[PageEvidence], tuple[Remark, ...]]:
    """The pages, without their tags where these are partial or wrong, and what is to be said of that."""
    tagged = [page for page in pages if page.tags]
    if not tagged:
        return list(pages), ()
    if _cover(tagged) and _stay_together(tagged) and _hold_whole_paragraphs(tagged) and _head_what_stands_out(tagged):
        return list(pages), ()
    return [_untagged(page) for page in pages], (Remark(RemarkKind.TAGS, DO_NOT_FIT),)


def tagged_levels(drafts: Sequence[AnyDraft], pages: Sequence[PageEvidence]) -> dict[int, int]:
    """By draft (id) of those whose lines are all tagged: the level of the heading that it is by its tag, 0 for none.

    A tag that says heading, or title, and no level leaves it to the looks.
    """
    tags = {page.number: page.tags for page in pages}
    levels: dict[int, int] = {}
    for draft in drafts:
        if isinstance(draft, Draft) and all(line.tag >= 0 for line in draft.lines):
            own = {tags[line.page][line.tag] for line in draft.lines}
            said = {tag.heading_level for tag in own}
            if len(said) == 1 and not any(tag.kind in WITHOUT_LEVEL for tag in own):
                levels[id(draft)] = said.pop()
    return levels


def tagged_depths(drafts: Sequence[AnyDraft], pages: Sequence[PageEvidence]) -> dict[int, int]:
    """By draft (id) of those whose lines are all tagged as parts of lists: the depth of the list, from 0."""
    tags = {page.number: page.tags for page in pages if any(tag.depth >= 0 for tag in page.tags)}
    depths: dict[int, int] = {}
    for draft in drafts:
        if isinstance(draft, Draft) and all(line.tag >= 0 and line.page in tags for line in draft.lines):
            first = tags[draft.page][draft.lines[0].tag].depth
            if first >= 0:
                depths[id(draft)] = first
    return depths


def tagged_language(draft: Draft, tags: Mapping[int, tuple[Tag, ...]], usual: str) -> str:
    """The language of a paragraph whose lines are all said to be in one that is not the document's; ``tags`` are those of each page."""
    said = {tags[line.page][line.tag].language if line.tag >= 0 else "" for line in draft.lines}
    only = said.pop() if len(said) == 1 else ""
    return only if only != usual else ""


def _untagged(page: PageEvidence) -> PageEvidence:
    return replace(page, tags=(), lines=tuple(line._replace(tag=OUTSIDE) for line in page.lines)) if page.tags else page


def _letters(line: Line) -> int:
    return sum(len(word.text) for word in line.words)


def _tag(page: PageEvidence, line: Line) -> Tag | None:
    return page.tags[line.tag] if line.tag >= 0 else None


def _cover(pages: Sequence[PageEvidence]) -> bool:
    """Whether most letters belong to a tag."""
    every = [(line.tag >= 0, _letters(line)) for page in pages for line in page.lines]
    return sum(n for tagged, n in every if tagged) >= TAGGED * sum(n for _, n in every)


def _stay_together(pages: Sequence[PageEvidence]) -> bool:
    """Whether the lines of an element follow each other on the page: one that returns after another was tagged by chance."""
    returns = Counter[bool]()
    for page in pages:
        left: set[int] = set()
        before = -1
        for line in _in_columns(page):
            if line.tag < 0 or line.tag == before:
                continue
            returns[line.tag in left] += 1
            left.add(before)
            before = line.tag
    return returns[False] >= FIT * returns.total()


def _in_columns(page: PageEvidence) -> list[Line]:
    """The lines of a page, each followed by the one below it that begins at the same edge, where there is one."""
    upright = sorted((line for line in page.lines if not line.angle), key=lambda line: line.baseline)
    columns: list[list[Line]] = []
    for line in upright:
        for column in columns:
            last = column[-1]
            if last.box.overlap_x(line.box) > 0 and line.baseline - last.baseline < 2 * CLOSE * line.size:
                column.append(line)
                break
        else:
            columns.append([line])
    return list(itertools.chain.from_iterable(columns))


def _hold_whole_paragraphs(pages: Sequence[PageEvidence]) -> bool:
    """Whether lines that surely are of one paragraph have one tag: full ones that end within a sentence, with the next one close
    below in small letters."""
    outcomes = [before.tag == after.tag for page in pages for before, after in _running_on(page)]
    return len(outcomes) < FEWEST or sum(outcomes) >= FIT * len(outcomes)


def _running_on(page: PageEvidence) -> Iterator[tuple[Line, Line]]:
    right = max((line.box.x1 for line in page.lines), default=0.0)
    for before, after in itertools.pairwise(_in_columns(page)):
        tag = _tag(page, before)
        if tag is None or tag.kind not in PARAGRAPHS or after.tag < 0:
            continue
        close = 0 < after.baseline - before.baseline < CLOSE * before.size
        if close and before.size == after.size and abs(before.box.x1 - right) < SAME_EDGE and after.text[:1].islower():
            yield before, after


def _head_what_stands_out(pages: Sequence[PageEvidence]) -> bool:
    """Whether headings are short and few, and set apart from the text, or at least no sentences."""
    every = [(page, line, _tag(page, line)) for page in pages for line in page.lines]
    heads = [(page, line) for page, line, tag in every if tag is not None and tag.kind.startswith("H")]
    letters = sum(_letters(line) for _, line, _ in every)
    if sum(_letters(line) for _, line in heads) > MOST_HEADINGS * letters:
        return False
    counts = Counter((page.number, line.tag) for page, line in heads)
    if any(count > LONGEST_HEADING for count in counts.values()):
        return False
    sizes = Counter[float]()
    for _, line, _ in every:
        sizes[line.size] += _letters(line)
    usual = max(sizes, key=lambda size: sizes[size])
    set_apart = [
        line.size > usual or any(page.types[word.type].bold for word in line.words) or not ends_sentence(line.text)
        for page, line in heads
    ]
    return not set_apart or sum(set_apart) >= FIT * len(set_apart)
