"""Headings: paragraphs that stand out, their levels the same through the whole document.

Looks that stand out are put in order (size, weight, numbering); the document's own outline, where it has one, has the last word.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Hashable, Mapping, Sequence, Set
from types import MappingProxyType

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import UNDERLINED
from evenquill.core.model import Role
from evenquill.core.model.text import letters_and_digits_of
from evenquill.core.rebuild.drafts import AnyDraft, Draft
from evenquill.core.rebuild.levels import LARGER, SECTION_NUMBER, levels_of, look_of
from evenquill.core.rebuild.series import MAY_BE_HEADING, with_carried_on, with_counted_labels
from evenquill.core.rebuild.sheet_kinds import SheetKind
from evenquill.core.rebuild.titles import title_of, without_lines_around_title
from evenquill.core.source import OutlineEntry

MOST_LINES = 4
"""Lines of a paragraph that may be what an entry of the outline names."""

LONGEST_NUMBERED = 70
"""Characters of a heading that only its number tells."""

PARAGRAPHS = ("text", "lines", "pairs", "quotation", "verse", "term", "meaning")
"""Roles of what comes out as a paragraph."""

DEEPEST = 9

FAR_ABOVE = 8.0
"""Type sizes from a line to the text below it, from which it heads nothing, unless it is the first on its page."""

SAME_EDGE = 2.0
"""Points by which the left edges of headings set alike may differ: pages are not scanned quite straight."""

QUOTES = frozenset("\"“”„«»‘’'")
"""Signs that open and close what somebody said."""

_NUMBER = re.compile(r"^(\d{1,3}(\.\d{1,3})*\.?|[A-Z]\.|[IVXLC]+\.)\s")


_LABEL = re.compile(r"^[^\W\d_]+\.?\s+(\d{1,3}|[IVXLC]{1,7}|[A-Z])[.:]?$|^[IVXLC]{1,7}\.?$|^§\s*\d{1,3}$")
"""What only numbers a chapter, an article, a part: one word and a number, or a roman number alone."""

LABEL_DISTANCE = 3.5
"""Ems from the baseline of such a label to that of its title, at most."""


NO_TAGS: Mapping[int, int] = MappingProxyType({})
ONE_KIND: Mapping[int, SheetKind | None] = MappingProxyType({})


def _levels(
    headings: Sequence[Draft], drafts: Sequence[AnyDraft], kinds: Mapping[int, SheetKind | None]
) -> dict[int, int]:
    """The level of each heading (id), told among those on pages of its kind."""
    out: dict[int, int] = {}
    for kind in {kinds.get(draft.page) for draft in headings}:
        own = [draft for draft in headings if kinds.get(draft.page) == kind]
        beside = [draft for draft in drafts if kinds.get(draft.page) == kind]
        out |= zip(map(id, own), levels_of(own, beside), strict=True)
    return out


def join_labels(drafts: list[AnyDraft]) -> list[AnyDraft]:
    """The drafts with headings that only number a chapter put before its title: ``Chapter 2`` over ``The gauges``."""
    out: list[AnyDraft] = []
    for draft in drafts:
        label = out[-1] if out else None
        if (
            isinstance(label, Draft)
            and isinstance(draft, Draft)
            and label.likely_role == draft.likely_role == "heading"
            and len(label.lines) == 1
            and label.page == draft.page
            and 0 < draft.lines[0].baseline - label.lines[0].baseline < LABEL_DISTANCE * draft.lines[0].size
            and _LABEL.match(label.lines[0].text)
            and not _LABEL.match(draft.lines[0].text)
        ):
            label.breaks.add(1)
            label.extend(draft)
            label.seams.clear()
            continue
        out.append(draft)
    return out


def carry_on_headings(drafts: list[AnyDraft], text: Type) -> None:
    """Makes headings of what carries on the numbers of headings and looks as they do; ``text`` is the look of running text."""

    def rounded(draft: Draft) -> tuple[int, bool, bool, bool, bool]:
        look = look_of(draft)
        return (round(20 * look.size / text.size), *look[1:])

    usual = (20, text.bold, text.italic, False, False)
    with_counted_labels(drafts, rounded, usual)
    with_carried_on(drafts, rounded, usual)


def find_headings(
    drafts: list[AnyDraft],
    text_size: float,
    outline: tuple[OutlineEntry, ...],
    tagged: Mapping[int, int] = NO_TAGS,
    kinds: Mapping[int, SheetKind | None] = ONE_KIND,
) -> None:
    """Makes headings of the drafts that are ones, as the models of structure, the outline and the tags say, and gives each its level.

    ``tagged`` are the levels by draft (id) that the file's own tags give, 0 where they say that it is none: that is believed of all
    that is not set larger than the text, as titles are, which seldom have a tag of their own. ``kinds`` are the kinds of the pages.
    """
    none = {
        id(draft)
        for draft in drafts
        if isinstance(draft, Draft)
        and any(tagged.values())
        and tagged.get(id(draft)) == 0
        and look_of(draft).size < LARGER * text_size
    }
    by_title = {_folded(entry.title): entry for entry in outline}
    in_outline = {
        id(draft): by_title[_folded(draft.text)]
        for draft in drafts
        if isinstance(draft, Draft) and _may_be_in_outline(draft) and _folded(draft.text) in by_title
    }
    headings = [
        draft
        for n, draft in enumerate(drafts)
        if isinstance(draft, Draft)
        and draft.role is Role.PARAGRAPH
        and id(draft) not in none
        and ((_is_likely(draft) and _heads_something(drafts, n, text_size)) or id(draft) in in_outline)
    ]
    headings = without_lines_around_title(_with_terms_like_headings(headings, drafts, none), drafts, in_outline.keys())
    levels = _levels(headings, drafts, kinds)
    for draft in headings:
        draft.role = Role.HEADING
        entry = in_outline.get(id(draft))
        draft.level = min(entry.level if entry else levels[id(draft)], DEEPEST)
    title = title_of(headings, drafts)
    if title is not None and title.level == 1:
        title.is_title = True
    _find_numbered([draft for draft in drafts if id(draft) not in none])
    if in_outline:
        _fit_to_outline(headings, in_outline, levels)
    _find_tagged(drafts, tagged)


def _is_likely(draft: Draft) -> bool:
    """Whether a paragraph is more likely a heading than all that would be a paragraph together; signs alone head nothing."""
    if not letters_and_digits_of(draft.text):
        return False
    if draft.likely_role != "heading" or not draft.of_roles:
        return draft.likely_role == "heading"
    return draft.chance_of("heading") >= sum(map(draft.chance_of, PARAGRAPHS))


def _heads_something(drafts: list[AnyDraft], n: int, text_size: float) -> bool:
    """Whether what looks like a heading may be one: no quotation in large letters, no salutation, no subject of a letter below it, no last
    line of all, none far above the text that follows, as remarks are, and none at the foot of a page, a cover's, that a heading as large or
    larger follows on the next."""
    draft = drafts[n]
    assert isinstance(draft, Draft)
    first, last = draft.lines[0].text[:1], draft.lines[-1].text[-1:]
    if len(draft.lines) > 1 and first in QUOTES and last in QUOTES:
        return False
    before = drafts[n - 1] if n else None
    as_text = draft.lines[0].size <= LARGER * text_size
    if as_text and isinstance(before, Draft) and len(before.lines) == 1 and before.lines[0].text.endswith(","):
        return False
    after = drafts[n + 1] if n + 1 < len(drafts) else None
    is_far = isinstance(after, Draft) and after.page == draft.page and after.gap > FAR_ABOVE * draft.lines[0].size
    if is_far and not draft.page_top and before is not None:
        return False
    if as_text and not any(look_of(draft)[1:]) and (after is None or last == ","):
        return False
    return not (
        isinstance(after, Draft)
        and after.page != draft.page
        and after.likely_role == "heading"
        and after.lines[0].size >= draft.lines[0].size
        and as_text
    )


def _with_terms_like_headings(headings: list[Draft], drafts: list[AnyDraft], none: Set[int]) -> list[Draft]:
    """The headings, in order, with what was taken for a term, a label, a line of its own, or hardly for a heading, and looks as they do,
    at their edge."""
    edges: defaultdict[Hashable, list[float]] = defaultdict(list)
    for draft in headings:
        if any(look_of(draft)[1:]) or _is_underlined(draft):
            edges[look_of(draft), _is_underlined(draft)].append(draft.lines[0].x0)
    known = set(map(id, headings))
    return [
        draft
        for draft in drafts
        if isinstance(draft, Draft)
        and (
            id(draft) in known
            or (
                draft.role is Role.PARAGRAPH
                and draft.likely_role in ("term", "lines", "pairs", "heading")
                and draft.chance_of("heading") >= MAY_BE_HEADING
                and len(draft.lines) == 1
                and not draft.lines[0].tabbed
                and any(abs(x0 - draft.lines[0].x0) <= SAME_EDGE for x0 in edges[look_of(draft), _is_underlined(draft)])
                and id(draft) not in none
            )
        )
    ]


def _is_underlined(draft: Draft) -> bool:
    return all(word.marks & UNDERLINED for line in draft.lines for word in line.words)


def _find_tagged(drafts: list[AnyDraft], tagged: Mapping[int, int]) -> None:
    """Makes headings of what is tagged as one, of the level that its tag says. The highest that is used is the first."""
    highest = min((level for level in tagged.values() if level), default=1)
    for draft in drafts:
        level = tagged.get(id(draft), 0)
        if isinstance(draft, Draft) and level and draft.role in (Role.PARAGRAPH, Role.HEADING):
            draft.role, draft.level = Role.HEADING, level - highest + 1


def _find_numbered(drafts: list[AnyDraft]) -> None:
    """Makes headings of lines that carry the section numbers of headings on, however they are set.

    ``2.1 North pier`` is one where ``2 State of the gauges`` is.
    """
    known: dict[str, int] = {}
    for draft in drafts:
        if not isinstance(draft, Draft):
            continue
        match = SECTION_NUMBER.match(draft.text)
        if match is None:
            continue
        number = match.group(1)
        parent, _, _ = number.rpartition(".")
        if draft.role is Role.HEADING:
            known[number] = draft.level
        elif parent in known and _may_carry_number(draft):
            draft.role = Role.HEADING
            draft.level = known[number] = min(known[parent] + 1, DEEPEST)


def _may_carry_number(draft: Draft) -> bool:
    return (
        draft.role is Role.PARAGRAPH
        and may_be_numbered_title(draft)
        and not draft.lines[0].tabbed
        and sum(c.isalpha() for c in draft.text) >= 3
    )


def may_be_numbered_title(draft: Draft) -> bool:
    """Whether a numbered paragraph may be a heading that is set like the text: one short line, and no sentence."""
    text = draft.lines[0].text
    return len(draft.lines) == 1 and len(text) <= LONGEST_NUMBERED and not text.endswith(tuple(".,;:!?"))


def _may_be_in_outline(draft: Draft) -> bool:
    return len(draft.lines) <= MOST_LINES and draft.role is Role.PARAGRAPH and not draft.lines[0].tabbed


def _fit_to_outline(headings: list[Draft], in_outline: dict[int, OutlineEntry], levels: dict[int, int]) -> None:
    """Headings missing from the outline take the level that others of their look have in it."""
    votes: dict[int, Counter[int]] = {}
    for draft in headings:
        entry = in_outline.get(id(draft))
        if entry:
            votes.setdefault(levels[id(draft)], Counter())[entry.level] += 1
    for draft in headings:
        if id(draft) not in in_outline and levels[id(draft)] in votes:
            draft.level = votes[levels[id(draft)]].most_common(1)[0][0]


def _folded(text: str) -> str:
    """For comparison with outline titles: letters and digits only, without a leading number."""
    text = _NUMBER.sub("", text.strip()) if SECTION_NUMBER.match(text.strip()) else text
    return letters_and_digits_of(text)
