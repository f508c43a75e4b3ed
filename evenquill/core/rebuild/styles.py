"""Styles: the looks of all paragraphs gathered into a small set with names.

Paragraphs of one kind, size, weight and indent share a style; spacing is the usual one of its members. What differs in one
paragraph alone (its alignment) stays with the paragraph.
"""

from __future__ import annotations

import statistics
from collections import Counter, defaultdict
from typing import NamedTuple

from evenquill.core.model import Align, Family, ResolvedStyle, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft, all_texts
from evenquill.core.rebuild.facts import Facts

INDENT_STEP = 6.0
"""Points to which indents are rounded when looks are compared."""

SMALLEST_INDENT = 2.0
"""Points; less is the way letters stand in their boxes."""

SIZE_STEP = 1.0
"""Points to which sizes of running text are rounded when looks are compared."""

FEWEST = 3
"""Paragraphs for which a look besides the common ones gets a style of its own."""

MOST_BEFORE = 72.0
"""Points; a larger gap is an empty part of the page and no spacing."""


ROLE_STYLES = {
    Role.NOTE: "Footnote text",
    Role.ENDNOTE: "Endnote text",
    Role.CAPTION: "Caption",
    Role.QUOTE: "Quotation",
    Role.VERSE: "Verse",
    Role.CODE: "Code",
    Role.CELL: "Table text",
    Role.TERM: "Definition Term",
    Role.DEFINITION: "Definition",
    Role.EQUATION: "Equation",
}
"""Names of the styles of blocks that have one each."""


INDENTED = frozenset((Role.PARAGRAPH, Role.QUOTE, Role.VERSE, Role.CODE, Role.TERM, Role.DEFINITION, Role.CONTENTS))
"""Blocks whose indents are measured; others are set in by what they are."""


class _Key(NamedTuple):
    role: Role
    level: int
    is_title: bool
    size: float
    bold: bool
    italic: bool
    family: Family
    left: float
    first: float


def make_styles(drafts: list[AnyDraft], facts: Facts) -> tuple[ResolvedStyle, ...]:
    """Names a style for each draft and returns all styles, the common one of running text first."""
    text = list(all_texts(drafts))
    keys = {id(draft): _key(draft) for draft in text}
    counts = Counter(keys.values())
    body = _body_key(text, keys, facts)
    canonical = {key: _canonical(key, counts, body) for key in counts}
    members: dict[_Key, list[Draft]] = defaultdict(list)
    members[body] = []
    for draft in text:
        members[canonical[keys[id(draft)]]].append(draft)
    names = _names(list(members), body)
    styles = []
    for key, group in members.items():
        style = _style(names[key], key, group, facts)
        styles.append(style)
        for draft in group:
            draft.style = style.id
    return tuple(styles)


def _key(draft: Draft) -> _Key:
    look = draft.type
    all_bold = all(word.type.bold for line in draft.lines for word in line.words)
    all_italic = all(word.type.italic for line in draft.lines for word in line.words)
    left, first = _indents(draft)
    plain_role = draft.role is Role.PARAGRAPH
    return _Key(
        draft.role,
        draft.level if draft.role in (Role.HEADING, Role.LIST_ITEM, Role.CONTENTS) else 0,
        draft.is_title and draft.role is Role.HEADING,
        # Headings of a level, captions, notes and so on share one look each, whatever the odd one has.
        round(look.size / SIZE_STEP) * SIZE_STEP if plain_role else 0.0,
        plain_role and all_bold and len(draft.lines) > 1,
        plain_role and all_italic and len(draft.lines) > 1,
        look.family if plain_role else Family.SERIF,
        round(left / INDENT_STEP) * INDENT_STEP,
        round(first / INDENT_STEP) * INDENT_STEP,
    )


def _indents(draft: Draft) -> tuple[float, float]:
    """Left indent, and that of the first line beyond it, in points."""
    if draft.role not in INDENTED or draft.align in (Align.CENTER, Align.RIGHT):
        return 0.0, 0.0
    if draft.role is Role.CODE:
        return max(min(line.x0 for line in draft.lines if line.page == draft.page) - draft.left, 0.0), 0.0
    first = draft.lines[0].x0 - draft.left
    if draft.role is Role.CONTENTS:
        return max(first, 0.0), 0.0
    same = [line for line in draft.lines[1:] if line.page == draft.page]
    if not same:
        # One line alone tells nothing of the others: a small indent is a first line's, a large one the paragraph's.
        return (0.0, first) if first < 3.2 * draft.lines[0].size else (first, 0.0)
    rest = min(line.x0 for line in same) - draft.left
    rest = rest if 0 <= rest <= draft.right - draft.left else 0.0
    return max(rest, 0.0), first - max(rest, 0.0)


def _body_key(text: list[Draft], keys: dict[int, _Key], facts: Facts) -> _Key:
    weights: Counter[_Key] = Counter()
    for draft in text:
        key = keys[id(draft)]
        if key.role is Role.PARAGRAPH:
            weights[key] += sum(len(line.words) for line in draft.lines)
    if weights:
        return weights.most_common(1)[0][0]
    look = facts.text_type
    size = round(look.size / SIZE_STEP) * SIZE_STEP
    return _Key(Role.PARAGRAPH, 0, False, size, False, False, look.family, 0.0, 0.0)


def _canonical(key: _Key, counts: Counter[_Key], body: _Key) -> _Key:
    """Rare looks are given the style that they are nearest to, none in a fixed width that of others; a definition of one line does not
    show how it hangs."""
    if key.role is Role.DEFINITION:
        return max((other for other in counts if other.role is key.role), key=lambda other: (counts[other], other.left))
    if key.role is not Role.PARAGRAPH or key == body or counts[key] >= FEWEST:
        return key
    near = [
        other
        for other in counts
        if (counts[other] >= FEWEST or other == body)
        and other.role is Role.PARAGRAPH
        and (other.family is Family.MONO) == (key.family is Family.MONO)
        and abs(other.size - key.size) <= SIZE_STEP
        and abs(other.left - key.left) <= INDENT_STEP
        and abs(other.first - key.first) <= INDENT_STEP
    ]
    if not near:
        return key
    return min(near, key=lambda other: (abs(other.size - key.size), other.family is not key.family, other != body))


def _names(keys: list[_Key], body: _Key) -> dict[_Key, str]:
    names: dict[_Key, str] = {}
    used: Counter[str] = Counter()
    for key in keys:
        name = _name(key, body)
        used[name] += 1
        names[key] = name if used[name] == 1 else f"{name} {used[name]}"
    return names


def _name(key: _Key, body: _Key) -> str:
    if key.role is Role.HEADING:
        return "Title" if key.is_title else f"Heading {key.level}"
    if key.role is Role.LIST_ITEM:
        return "List item" if key.level == 0 else f"List item, depth {key.level + 1}"
    if key.role is Role.CONTENTS:
        return f"Contents {key.level}"
    if key.role in ROLE_STYLES:
        return ROLE_STYLES[key.role]
    if key == body:
        return "Body text"
    if key.size > body.size:
        base = "Large text"
    elif key.size < body.size:
        base = "Small text"
    else:
        base = "Body text"
    if key.family is not body.family:
        base += {Family.MONO: " in fixed width", Family.SANS: " in sans", Family.SERIF: " in serif"}[key.family]
    if key.left > 0:
        base += ", set in"
    if key.first > body.first:
        base += ", first line indented"
    elif key.first < body.first:
        base += ", hanging" if key.first < 0 else ", first line flush"
    if key.bold or key.italic:
        base += " (" + " ".join(word for word, on in (("bold", key.bold), ("italic", key.italic)) if on) + ")"
    return base if base != "Body text" else "Body text, other"


def _style(name: str, key: _Key, group: list[Draft], facts: Facts) -> ResolvedStyle:
    if not group:
        look = facts.text_type
        return ResolvedStyle(name, name, look.font, look.family, look.size)
    looks = Counter(draft.type for draft in group)
    look = looks.most_common(1)[0][0]
    heading = key.role is Role.HEADING
    fixed = heading or key.role is Role.CAPTION
    bold = look.bold if heading or key.bold else key.bold
    italic = key.italic or (heading and look.italic)
    lefts, firsts = zip(*(_indents(draft) for draft in group), strict=True)
    # Headings share one indent; a centred one is centred by its own alignment.
    left = 0.0 if fixed else round(statistics.median(lefts), 1)
    first = 0.0 if fixed else round(statistics.median(firsts), 1)
    return ResolvedStyle(
        id=name,
        name=name,
        font=look.font,
        family=look.family,
        size=round(look.size * 2) / 2,
        bold=bold,
        italic=italic,
        color=look.color,
        align=_usual_side(group),
        left=left if abs(left) >= SMALLEST_INDENT else 0.0,
        right=round(statistics.median(draft.inset for draft in group), 1) if key.role is Role.QUOTE else 0.0,
        first=first if abs(first) >= SMALLEST_INDENT else 0.0,
        before=_usual_gap(group),
        leading=_usual_leading(group),
        outline=key.level if heading else 0,
        keep_next=heading or key.role is Role.TERM,
    )


def _usual_side(group: list[Draft]) -> Align:
    """The alignment that most of a group have. By decimals is said of each cell."""
    usual = Counter(draft.align for draft in group).most_common(1)[0][0]
    return Align.RIGHT if usual is Align.DECIMAL else usual


def _usual_gap(group: list[Draft]) -> float:
    gaps = [min(draft.gap, MOST_BEFORE) for draft in group if not draft.page_top]
    return round(statistics.median(gaps) * 2) / 2 if gaps else 0.0


def _usual_leading(group: list[Draft]) -> float:
    """The usual distance of baselines within the paragraphs of a group, 0 where none has two lines."""
    distances = [
        below.baseline - above.baseline
        for draft in group
        for above, below in zip(draft.lines, draft.lines[1:], strict=False)
        if above.page == below.page and below.baseline > above.baseline
    ]
    return round(statistics.median(distances) * 2) / 2 if distances else 0.0
