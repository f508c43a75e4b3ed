"""The title of a document, and the lines around it that look like headings and head nothing: subtitles, authors, places and dates."""

from __future__ import annotations

from collections.abc import Sequence, Set

from evenquill.core.model import Align
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.levels import depth_of, look_of
from evenquill.core.rebuild.series import place_of

MOST_LINES = 3
"""Lines of each paragraph of a cover, at most."""

FEWEST_ON_COVER = 3
"""Paragraphs of a cover, at least: a title alone on its page is no cover."""

SAME_SIZE = 0.5
"""Points within which sizes are alike."""

FEWEST_OTHERS = 2
"""Headings of a document besides its title and the line below it, from which it shows how its headings are set."""


def without_lines_around_title(headings: Sequence[Draft], drafts: Sequence[AnyDraft], certain: Set[int]) -> list[Draft]:
    """The headings without those of a cover that are smaller than its title, and without what stands right below the title and
    looks as no heading of the text does; ``certain`` are those (by id) that are headings whatever they look like."""
    if not headings or headings[0].page != drafts[0].page:
        return list(headings)
    first = headings[0]
    gone: set[int] = set()
    cover = [draft for draft in drafts if draft.page == first.page]
    if _is_cover(cover) and cover[-1] is not drafts[-1]:
        own = [draft for draft in headings if draft.page == first.page]
        largest = max(draft.type.size for draft in own)
        gone = {id(draft) for draft in own if draft.type.size < largest - SAME_SIZE}
    elif title_of(headings, drafts) is first:
        gone = {id(draft) for draft in _below_title(headings, drafts)}
    return [draft for draft in headings if id(draft) in certain or id(draft) not in gone]


def _below_title(headings: Sequence[Draft], drafts: Sequence[AnyDraft]) -> list[Draft]:
    """The headings below the title, before any text, that look as none behind them does: who wrote it, and when. Where too few others show
    how headings are set, those that are not bold."""
    title = headings[0]
    place = next(n for n, draft in enumerate(drafts) if draft is title)
    known = set(map(id, headings))
    run: list[Draft] = []
    for draft in drafts[place + 1 :]:
        if not isinstance(draft, Draft) or _is_counted(draft) or len(draft.lines) > MOST_LINES:
            break
        if id(draft) in known:
            run.append(draft)
        elif not draft.align is title.align is Align.CENTER:
            break
    while run and any(look_of(draft) == look_of(run[-1]) for draft in headings[1 + len(run) :]):
        run.pop()
    others = len(headings) - 1 - len(run)
    return [draft for draft in run if others >= FEWEST_OTHERS or not draft.type.bold]


def _is_cover(drafts: Sequence[AnyDraft]) -> bool:
    return len(drafts) >= FEWEST_ON_COVER and all(
        isinstance(draft, Draft) and len(draft.lines) <= MOST_LINES and not draft.marker for draft in drafts
    )


def title_of(headings: Sequence[Draft], drafts: Sequence[AnyDraft]) -> Draft | None:
    """The first heading, if it is the title of the document: on its first page, without a number, set as no other is that has none
    either, and smaller than none."""
    if len(headings) < 2 or headings[0].page != drafts[0].page:
        return None
    title, *others = headings
    alone = all(
        look_of(draft) != look_of(title) or draft.align != title.align or _is_counted(draft) for draft in others
    )
    largest = all(draft.type.size <= title.type.size + SAME_SIZE for draft in others)
    return title if alone and largest and not _is_counted(title) else None


def _is_counted(draft: Draft) -> bool:
    return bool(depth_of(draft.text)) or place_of(draft.text) is not None
