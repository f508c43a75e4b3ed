"""Paragraphs that a column's or page's end, a picture or a table has cut in two: whether the text behind carries on the text before.

Each place is judged by itself, by a model (fitted with ``bench/corpus``, kind ``cut``), once both halves are there.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import OVER_TEXT, Type
from evenquill.core.fitted.trees import UNMEASURED, trees_of
from evenquill.core.language_model import model_of
from evenquill.core.layout.flow import SHIFTED, FlowLine
from evenquill.core.model import Align, Family, Role
from evenquill.core.model.labels import is_caption
from evenquill.core.rebuild.drafts import AnyDraft, Draft, PictureDraft, TableDraft
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.structure.line_facts import facts_of_line, limited
from evenquill.core.rebuild.structure.words import words_features

CLASSES = ("new", "same")

CUT_FEATURES = (
    "between", "size_ratio", "bold_above", "bold", "italic_above", "italic", "same_font", "same_color", "capitals_above",
    "capitals", "slack", "fits", "inset_above", "inset", "first_inset_above", "next_shift", "last_shift", "ends_sentence",
    "ends_colon", "ends_comma", "ends_broken", "ends_letter", "starts_lower", "starts_upper", "starts_digit", "mark_above",
    "mark", "hangs", "tabs_above", "tabs", "lines_above", "lines", "width_above", "width", "breaks_above", "breaks",
    "middle_above", "middle", "right_above", "right", "justified_above", "columns_alike", "size_over_text", "item_above", "heading_above",
    "heading", "item", "verse", "underlined", "indented_usually", "goes_on_by_words", "ends_by_words", "starts_by_words",
)  # fmt: skip
"""What is measured of two paragraphs, one on each side of a cut: see ``cut_features``."""

COLUMN, PAGE, PICTURE, TABLE = range(4)
"""What stands between."""


class Cut(NamedTuple):
    """Two drafts between which a paragraph may be cut, and what stands between."""

    above: Draft
    below: Draft
    between: int


def cuts_in(drafts: Sequence[AnyDraft], starts: Sequence[int]) -> list[Cut]:
    """All places where a paragraph may be cut; ``starts`` are the places of the first drafts of columns."""
    firsts = set(starts)
    out: list[Cut] = []
    above: Draft | None = None
    between: int | None = None
    for n, draft in enumerate(drafts):
        if n in firsts and above is not None:
            same_page = above.lines[-1].page == draft.page
            between = max(between or 0, COLUMN if same_page else PAGE)
        if isinstance(draft, PictureDraft) and draft.picture.kind in OVER_TEXT:
            continue
        if isinstance(draft, PictureDraft | TableDraft):
            between = max(between or 0, PICTURE if isinstance(draft, PictureDraft) else TABLE)
            continue
        if draft.role is Role.NOTE or _is_caption(draft):
            continue
        if draft.role is Role.EQUATION:
            above, between = None, None
            continue
        if above is not None and between is not None and Role.CONTENTS not in (above.role, draft.role):
            out.append(Cut(above, draft, between))
        above, between = draft, None
    return out


def join_cut(drafts: list[AnyDraft], starts: Sequence[int], facts: Facts) -> list[AnyDraft]:
    """The drafts with those that carry on another joined to it."""
    cuts = [cut for cut in cuts_in(drafts, starts) if _may_go_on(cut.above, cut.below)]
    if not cuts:
        return drafts
    usual = indented_share(drafts)
    rows = [cut_features(*cut, facts, usual) for cut in cuts]
    chances = trees_of("cuts").log_probabilities(np.array(rows, np.float32))
    into: dict[int, Draft] = {}
    for (above, below, _), row in zip(cuts, chances, strict=True):
        below.new_likelihood = float(np.exp(row[CLASSES.index("new")]))
        if below.new_likelihood < 0.5:
            whole = into.get(id(above), above)
            whole.extend(below)
            if whole.align is Align.LEFT and below.align is Align.JUSTIFY:
                whole.align = Align.JUSTIFY
            into[id(below)] = whole
    return [draft for draft in drafts if id(draft) not in into]


def indented_share(drafts: Sequence[AnyDraft]) -> float:
    """Share of the longer paragraphs whose first line stands in."""
    long = [draft for draft in drafts if isinstance(draft, Draft) and len(draft.lines) > 2 and not draft.marker]
    indented = sum(draft.lines[0].x0 > draft.lines[1].x0 + 0.5 * draft.lines[0].size for draft in long)
    return indented / len(long) if long else UNMEASURED


def cut_features(above: Draft, below: Draft, between: int, facts: Facts, usual: float) -> tuple[float, ...]:
    """CUT_FEATURES of two paragraphs; ``usual`` is how many begin with an indent (see ``indented_share``)."""
    a, b = facts_of_line(above.lines[-1]), facts_of_line(below.lines[0])
    size = a.size
    text_size = max(facts.text_type.size, 1.0)
    room = above.right - a.x1
    width, width_below = max(above.right - above.left, 1.0), max(below.right - below.left, 1.0)
    return (
        float(between), b.size / size, a.bold, b.bold, a.italic, b.italic, float(a.font == b.font), float(a.color == b.color),
        a.capitals, b.capitals, limited(room / size), limited((room - a.space - b.first_width) / size),
        limited((a.x0 - above.left) / size), limited((b.x0 - below.left) / size),
        limited((above.lines[0].x0 - above.left) / size) if len(above.lines) > 1 else UNMEASURED,
        limited((below.lines[1].x0 - b.x0) / size) if len(below.lines) > 1 else UNMEASURED,
        limited((a.x0 - above.lines[-2].x0) / size) if len(above.lines) > 1 else UNMEASURED,
        a.ends_sentence, a.ends_colon, a.ends_comma, a.ends_broken, a.ends_letter, b.starts_lower, b.starts_upper,
        b.starts_digit, float(bool(above.marker)), float(bool(below.marker)),
        limited((b.x0 - below.left - above.text_x + above.left) / size) if above.marker else UNMEASURED,
        float(a.tabs), float(b.tabs), float(min(len(above.lines), 20)), float(min(len(below.lines), 20)),
        a.width / width, b.width / width_below, float(bool(above.breaks)), float(bool(below.breaks)),
        float(above.align is Align.CENTER), float(below.align is Align.CENTER),
        float(above.align is Align.RIGHT), float(below.align is Align.RIGHT), float(above.align is Align.JUSTIFY),
        width_below / width, b.size / text_size,
        float(above.likely_role == "item"), float(above.likely_role == "heading"), float(below.likely_role == "heading"),
        float(below.likely_role == "item"), float(above.likely_role == "verse"), b.underlined, usual,
        *words_features(above.lines[-1].text, below.lines[0].text, model_of(facts.language)),
    )  # fmt: skip


def _may_go_on(above: Draft, below: Draft) -> bool:
    """What is certain: code is carried on by code alone, and text of one look by none of another."""
    if Role.CODE in (above.role, below.role):
        return above.role is below.role
    return not _changes_look(above.lines[-1], below.lines[0])


def _is_caption(draft: Draft) -> bool:
    return draft.likely_role == "caption" or is_caption(draft.lines[0].text)


def _changes_look(above: FlowLine, below: FlowLine) -> bool:
    """Whether one line as a whole is bold, slanted, of another family or colour, and the other line nothing of it."""
    return not (_looks(above) & _looks(below))


def _looks(line: FlowLine) -> set[tuple[bool, bool, Family, str | None]]:
    types = {word.type for word in line.words if not word.marks & SHIFTED} or {line.words[0].type}
    return {_look(one) for one in types}


def _look(type_: Type) -> tuple[bool, bool, Family, str | None]:
    return type_.bold, type_.italic and type_.bold, type_.family, type_.color
