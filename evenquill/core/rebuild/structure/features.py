"""What models are asked about: measures of a line in its column, and of a line and the one above it.

All are ratios to the document's own type size, distances and edges, so that they mean the same in any document. UNMEASURED stands for what
cannot be measured.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from evenquill.core.evidence import OVER_TEXT, PlacedPicture
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.language_model import LanguageModel, model_of
from evenquill.core.layout.flow import FlowEquation, FlowLine
from evenquill.core.layout.page import Column
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.model.text import letters_and_digits_of
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.structure.countings import COUNTING_FEATURES, NOT_COUNTED, CountedLine, counting_features
from evenquill.core.rebuild.structure.line_facts import LineFacts, facts_of_line, limited
from evenquill.core.rebuild.structure.surroundings import Surroundings
from evenquill.core.rebuild.structure.words import said_above, words_features

SHORTEST_PART = 6
"""Letters of a line that are enough to call it a part of a title."""

MOST_AGAIN = 20
"""Other lines that say the same; more tell no more."""

NEAR_VALUES = 4
"""Lines above among which one with a value beside its label is looked for."""

LineLook = tuple[float, bool, bool, bool, str | None, bool]
"""Size over that of the text, bold, italic, capitals, colour, centred: what headings of one level share."""


class DocumentLook(NamedTuple):
    """What lines are measured by.

    ``step`` is the usual distance of baselines in ems, ``tight``, ``middle`` and ``loose`` the 20th, 50th and 85th percentile of those that
    there are; ``flush`` is the share of lines that end at the right edge, ``indented`` that of lines that stand in by themselves,
    ``ended`` that of those that end as sentences do; ``looks`` and ``lefts`` count lines by look and by their left edge (in half
    ems), ``measured_lefts`` are all of the latter, ``texts`` counts lines by what they say; ``words`` is what is known of the document's
    language; ``countings`` are the COUNTING_FEATURES of lines that are counted, by their ids.
    """

    size: float
    bold: bool
    font: str
    color: str | None
    step: float
    tight: float
    middle: float
    loose: float
    flush: float
    indented: float
    looks: Mapping[LineLook, int]
    lefts: Mapping[int, int]
    lines: int
    pages: int
    ended: float
    measured_lefts: int
    words: LanguageModel | None
    texts: Mapping[str, int]
    countings: Mapping[int, tuple[float, ...]]


class MeasuredColumn(NamedTuple):
    """A column with the facts of its lines; ``places`` are those of the lines among its items, ``in_cell`` if it is a cell of a table."""

    column: Column
    lines: tuple[FlowLine, ...]
    facts: tuple[LineFacts, ...]
    places: tuple[int, ...]
    in_cell: bool = False


def measured(column: Column) -> MeasuredColumn:
    """The column with what is over its text left out."""
    items = tuple(item for item in column.items if not (isinstance(item, PlacedPicture) and item.kind in OVER_TEXT))
    column = column._replace(items=items)
    found = [(n, item) for n, item in enumerate(column.items) if isinstance(item, FlowLine)]
    lines = tuple(line for _, line in found)
    return MeasuredColumn(column, lines, tuple(map(facts_of_line, lines)), tuple(n for n, _ in found))


def look_of_document(columns: Sequence[MeasuredColumn], facts: Facts) -> DocumentLook:
    """What is usual in all columns together."""
    size = max(facts.text_type.size, 1.0)
    distances: list[float] = []
    flush = full = indented = begins = ended = 0
    looks: Counter[LineLook] = Counter()
    lefts: Counter[int] = Counter()
    lines = 0
    for measured_column in columns:
        column, own = measured_column.column, measured_column.facts
        width = max(column.right - column.left, 1.0)
        for n, line in enumerate(own):
            lines += 1
            ended += line.ends_sentence > 0
            looks[look_of_line(line, column, size)] += 1
            if abs(line.size - size) > 0.06 * size:
                continue
            lefts[round(2 * (line.x0 - column.left) / size)] += 1
            if line.width > 0.6 * width:
                full += 1
                flush += column.right - line.x1 < 0.35 * size
            if n and measured_column.places[n] == measured_column.places[n - 1] + 1:
                above = own[n - 1]
                distance = (line.baseline - above.baseline) / size
                if abs(above.size - size) < 0.06 * size and 0.5 < distance < 6:
                    distances.append(distance)
                if line.width > 0.5 * width:
                    begins += 1
                    indented += 0.7 * size < line.x0 - above.x0 < 4 * size
    distances.sort()
    step = facts.leading_of(facts.text_type.size) / size
    tight, middle, loose = (
        (distances[int(share * (len(distances) - 1))] for share in (0.2, 0.5, 0.85))
        if distances
        else (step, step, step)
    )
    return DocumentLook(
        size, facts.text_type.bold, facts.text_type.font, facts.text_type.color, step, tight, middle, loose, flush / max(full, 1),
        indented / max(begins, 1), looks, lefts, max(lines, 1), len({c.column.page for c in columns}),
        ended / max(lines, 1), max(lefts.total(), 1), model_of(facts.language),
        Counter(line.text for measured in columns for line in measured.facts), _countings(columns),
    )  # fmt: skip


def _countings(columns: Sequence[MeasuredColumn]) -> dict[int, tuple[float, ...]]:
    lines = [
        (id(line), CountedLine(facts.text, facts.width / max(own.column.right - own.column.left, 1.0)))
        for own in columns
        for line, facts in zip(own.lines, own.facts, strict=True)
    ]
    return {lines[at][0]: found for at, found in counting_features([line for _, line in lines]).items()}


def look_of_line(line: LineFacts, column: Column, size: float) -> LineLook:
    return (
        round(line.size / size * 20) / 20,
        line.bold > 0.9,
        line.italic > 0.9,
        line.capitals > 0,
        line.color,
        is_centred(line, column) > 0.5,
    )


def is_centred(line: LineFacts, column: Column) -> float:
    """1 for a line that leaves as much room at the left as at the right, and more than a little."""
    left, right = line.x0 - column.left, column.right - line.x1
    return float(left > 0.8 * line.size and abs(left - right) < max(0.03 * (column.right - column.left), 2.0))


JOINT_FEATURES = (
    "distance", "distance_over_step", "distance_over_tight", "distance_over_above", "distance_over_below",
    "distance_over_least", "size_ratio", "bold_above", "bold", "italic_above", "italic", "same_font", "same_color",
    "capitals_above", "capitals", "mono_above", "mono", "slack", "fits", "fits_centred", "inset_above", "inset",
    "shift", "shift_next", "next_shift", "centre_above", "centre", "centre_shift", "right_shift", "right_room",
    "ends_sentence", "ends_colon", "ends_comma", "ends_broken", "ends_letter", "starts_lower", "starts_upper",
    "starts_digit", "mark", "mark_above", "hangs", "mark_shift", "tabs_above", "tabs", "width_above", "width",
    "width_next", "letters_above", "letters", "words_above", "words", "flush", "indented", "tight",
    "middle_over_tight", "loose_over_tight", "rules", "same_box", "same_tag", "section", "caption_above", "caption",
    "following_above", "lines", "digits", "underlined_above", "underlined", "caption_run", "leader_above",
    "size_over_text", "same_left_run", "title_case_above", "title_case", "entry", "in_cell", "ended", "phrases", "room_to_margin",
    "goes_on_by_words", "ends_by_words", "starts_by_words",
    "tab_shift", "from_value", "before_value",
)  # fmt: skip
"""What is measured of a line and the one above it: see ``_joint``."""

ROLE_FEATURES = (
    "size_over_text", "bold", "text_bold", "italic", "mono", "capitals", "underlined", "same_font", "same_color",
    "centred", "flush_right", "inset", "right_room", "width", "above", "below", "above_over_step", "below_over_step",
    "letters", "words", "digits", "starts_lower", "starts_digit", "ends_sentence", "ends_colon", "ends_comma",
    "ends_letter", "tabs", "leader", "mark", "section", "lettered", "caption", "ends_in_number", "title_case",
    "entry", "rarity", "left_rarity", "look_share", "picture_above", "picture_below", "table_above", "table_below",
    "heading_tag", "list_tag", "in_outline", "page_y", "first", "page_first", "pages", "columns", "rule_above",
    "rule_below", "in_box", "above_size", "above_bold", "above_mark", "above_x", "above_width", "above_ends_sentence",
    "above_ends_colon", "above_tabs", "above2_mark", "above2_x", "below_size", "below_bold", "below_mark", "below_x",
    "below_width", "below_starts_lower", "below_tabs", "below2_mark", "below2_x", "below2_width", "successor",
    "predecessor", "run_of_look", "mono_document", "flush", "lines", "above_caption", "above_same_look",
    "below_same_look", "below_centred", "above_centred", "hangs", "ended", "phrases", "said_again",
    *COUNTING_FEATURES,
)  # fmt: skip
"""What is measured of a line: see ``_role``."""


class _OfLines(NamedTuple):
    """What is known of each line of a column, by its place, from those around it: how many ``rules`` are between it and the line above,
    which of the page's ``boxes`` it stands in (-1 for none); see the functions that measure the others."""

    looks: tuple[LineLook, ...]
    texts: tuple[str, ...]
    numbers: tuple[int, ...]
    rules: tuple[int, ...]
    boxes: tuple[int, ...]
    hanging: tuple[float, ...]
    left_runs: tuple[int, ...]
    phrases: tuple[float, ...]
    tabs: tuple[float, ...]


def features_of(
    own: MeasuredColumn, look: DocumentLook, around: Surroundings, *, first: bool, page_first: bool
) -> tuple[list[tuple[float, ...]], list[tuple[float, ...]]]:
    """For each line of a column: the measures of the joint with the line above (UNMEASURED in all for the first), and those of its role."""
    of = _of_lines(own, look, around)
    places = range(len(own.lines))
    joints = [_joint(own, of, n, look, around) if n else (UNMEASURED,) * len(JOINT_FEATURES) for n in places]
    roles = [_role(own, of, n, look, around, first=first and n == 0, page_first=page_first and n == 0) for n in places]
    return joints, roles


def _of_lines(own: MeasuredColumn, look: DocumentLook, around: Surroundings) -> _OfLines:
    boxes = [line.box for line in own.lines]
    texts = tuple(facts.text for facts in own.facts)
    return _OfLines(
        looks=tuple(look_of_line(facts, own.column, look.size) for facts in own.facts),
        texts=texts,
        numbers=tuple(map(_number_of, texts)),
        rules=(0, *itertools.starmap(around.rules_between, itertools.pairwise(boxes))),
        boxes=tuple(map(around.box_of, boxes)),
        hanging=tuple(_hanging(own)),
        left_runs=tuple(_left_runs(own)),
        phrases=tuple(_phrase_shares(own)),
        tabs=tuple(_tabs_above(own)),
    )


def _hanging(own: MeasuredColumn) -> list[float]:
    """For each line how far its left edge is from where the text of the nearest item above begins, in ems: UNMEASURED without one, or where
    a line between stands further out than the mark."""
    out: list[float] = []
    text_x = mark_x = UNMEASURED
    for facts in own.facts:
        if facts.mark:
            out.append(limited((facts.x0 - text_x) / facts.size) if text_x != UNMEASURED else UNMEASURED)
            mark_x, text_x = facts.x0, facts.text_x
            continue
        if text_x != UNMEASURED and facts.x0 < mark_x - 0.5 * facts.size:
            text_x = mark_x = UNMEASURED
        out.append(limited((facts.x0 - text_x) / facts.size) if text_x != UNMEASURED else UNMEASURED)
    return out


def _left_runs(own: MeasuredColumn) -> list[int]:
    """For each line how many lines directly above it begin at its edge."""
    out: list[int] = []
    for n, facts in enumerate(own.facts):
        same = n > 0 and abs(own.facts[n - 1].x0 - facts.x0) < 0.2 * facts.size
        out.append(out[-1] + 1 if same else 0)
    return out


def _tabs_above(own: MeasuredColumn) -> list[float]:
    """For each line where the value of the nearest line above begins that has one beside its label, 0 where none of the few above has."""
    out: list[float] = []
    for n in range(len(own.facts)):
        near = own.facts[max(n - NEAR_VALUES, 0) : n]
        out.append(next((facts.tab_x for facts in reversed(near) if facts.tab_x), 0.0))
    return out


def _phrase_shares(own: MeasuredColumn) -> list[float]:
    """For each line the share of it and its neighbours, two to each side, that end with a sign: nearly all in verse, few in prose."""
    ends = [facts.ends_sentence or facts.ends_comma for facts in own.facts]
    return [sum(map(bool, near)) / len(near) for n in range(len(ends)) for near in (ends[max(n - 2, 0) : n + 3],)]


def _distance(own: MeasuredColumn, n: int) -> float:
    """Points from the baseline of the line above to that of a line, UNMEASURED where it has none or something else stands between."""
    if not 0 < n < len(own.lines) or own.places[n] != own.places[n - 1] + 1:
        return UNMEASURED
    return own.facts[n].baseline - own.facts[n - 1].baseline


def _joint(own: MeasuredColumn, of: _OfLines, n: int, look: DocumentLook, around: Surroundings) -> tuple[float, ...]:
    """JOINT_FEATURES of a line that has one above it in its column."""
    column = own.column
    a, b = own.facts[n - 1], own.facts[n]
    after = own.facts[n + 1] if n + 1 < len(own.facts) else None
    size = a.size
    distance = _distance(own, n)
    apart = distance == UNMEASURED
    above, below = _distance(own, n - 1), _distance(own, n + 1)
    near = [d for d in (above, below) if d != UNMEASURED and d > 0.5 * size]
    left, right = column.left, column.right
    width = max(right - left, 1.0)
    room = right - a.x1
    fits = (room - a.space - b.first_width) / size
    both = a.x0 - left + right - a.x1
    tags = own.lines[n - 1].tag, own.lines[n].tag
    following = own.facts[n - 2] if n > 1 else None
    return (
        UNMEASURED if apart else limited(distance / size),
        UNMEASURED if apart else limited(distance / (look.step * size)),
        UNMEASURED if apart else limited(distance / (look.tight * size)),
        UNMEASURED if apart or above == UNMEASURED else limited(distance / max(above, 1.0)),
        UNMEASURED if apart or below == UNMEASURED else limited(distance / max(below, 1.0)),
        UNMEASURED if apart or not near else limited((distance - min(near)) / size),
        b.size / size,
        a.bold, b.bold, a.italic, b.italic,
        float(a.font == b.font), float(a.color == b.color), a.capitals, b.capitals, a.mono, b.mono,
        limited(room / size),
        limited(fits),
        limited((both - a.space - b.first_width) / size),
        limited((a.x0 - left) / size), limited((b.x0 - left) / size), limited((b.x0 - a.x0) / size),
        limited((after.x0 - b.x0) / size) if after else UNMEASURED,
        limited((after.x0 - a.x0) / size) if after else UNMEASURED,
        limited((a.x0 + a.x1 - left - right) / size), limited((b.x0 + b.x1 - left - right) / size),
        limited((b.x0 + b.x1 - a.x0 - a.x1) / size),
        limited((b.x1 - a.x1) / size),
        limited((right - b.x1) / size),
        a.ends_sentence, a.ends_colon, a.ends_comma, a.ends_broken, a.ends_letter, b.starts_lower, b.starts_upper, b.starts_digit,
        float(b.mark), float(a.mark), of.hanging[n],
        limited((b.x0 - a.text_x) / size) if a.mark else UNMEASURED,
        float(a.tabs), float(b.tabs),
        a.width / width, b.width / width, after.width / width if after else UNMEASURED,
        float(min(a.letters, 200)), float(min(b.letters, 200)), float(min(a.words, 30)), float(min(b.words, 30)),
        look.flush, look.indented, look.tight, look.middle / look.tight, look.loose / look.tight,
        float(of.rules[n]), float(of.boxes[n] == of.boxes[n - 1]),
        UNMEASURED if min(tags) < 0 else float(tags[0] == tags[1]),
        float(b.section), a.caption, b.caption,
        UNMEASURED if following is None else limited((a.x0 - following.x0) / size),
        float(min(len(own.lines), 60)), b.digits, a.underlined, b.underlined, float(a.caption and not b.caption), a.leader,
        b.size / look.size, float(of.left_runs[n - 1]), a.title_case, b.title_case, b.entry, float(own.in_cell),
        look.ended, of.phrases[n], limited((around.width - left - a.x1) / size),
        *words_features(said_above(of.texts[n - 1], b.x0, a), of.texts[n], look.words),
        limited((b.tab_x - a.tab_x) / size) if a.tab_x and b.tab_x else UNMEASURED,
        *((limited((b.x0 - of.tabs[n]) / size), limited((of.tabs[n] - b.x1) / size)) if of.tabs[n] else (UNMEASURED,) * 2),
    )  # fmt: skip


def _number_of(text: str) -> int:
    """The number that a line begins with, 0 for none."""
    digits = "".join(itertools.takewhile(str.isdecimal, text.lstrip("([§ ")))
    return int(digits) if digits and len(digits) < 4 else 0


def _role(
    own: MeasuredColumn,
    of: _OfLines,
    n: int,
    look: DocumentLook,
    around: Surroundings,
    *,
    first: bool,
    page_first: bool,
) -> tuple[float, ...]:
    """ROLE_FEATURES of a line; ``first`` and ``page_first`` say that it is that of the document, and of its page."""
    items, looks, numbers, rules = own.column.items, of.looks, of.numbers, of.rules
    column = own.column
    f = own.facts[n]
    size = look.size
    left, right = column.left, column.right
    width = max(right - left, 1.0)
    place = own.places[n]
    before = items[place - 1] if place else None
    behind = items[place + 1] if place + 1 < len(items) else None
    a = own.facts[n - 1] if n and isinstance(before, FlowLine) else None
    b = own.facts[n + 1] if n + 1 < len(own.facts) and isinstance(behind, FlowLine) else None
    a2 = own.facts[n - 2] if a is not None and n > 1 else None
    b2 = own.facts[n + 2] if b is not None and n + 2 < len(own.facts) else None
    above = (f.baseline - a.baseline) / f.size if a else UNMEASURED
    below = (b.baseline - f.baseline) / f.size if b else UNMEASURED
    tag = own.lines[n].tag
    key = looks[n]
    share = look.looks.get(key, 0) / look.lines
    left_share = look.lefts.get(round(2 * (f.x0 - left) / size), 0) / look.measured_lefts
    run = 1
    for step in (-1, 1):
        k = n + step
        while 0 <= k < len(looks) and run < 12 and looks[k] == key:
            run += 1
            k += step
    number = numbers[n]
    return (
        limited(f.size / size), f.bold, float(look.bold), f.italic, f.mono, f.capitals, f.underlined,
        float(f.font == look.font), float(f.color == look.color),
        is_centred(f, column), float(right - f.x1 < 0.3 * f.size and f.x0 - left > 0.2 * width), limited((f.x0 - left) / size),
        limited((right - f.x1) / size), f.width / width,
        limited(above), limited(below),
        limited(above / look.step) if a else UNMEASURED, limited(below / look.step) if b else UNMEASURED,
        float(min(f.letters, 200)), float(min(f.words, 30)), f.digits, f.starts_lower, f.starts_digit,
        f.ends_sentence, f.ends_colon, f.ends_comma, f.ends_letter, float(f.tabs), f.leader,
        float(f.mark), float(f.section), f.lettered, f.caption,
        f.ends_in_number, f.title_case, f.entry,
        float(min(look.looks.get(key, 0), 40)), left_share, share,
        _nearness(before, f.baseline - f.size, PlacedPicture, size), _nearness(behind, f.baseline, PlacedPicture, size),
        _nearness(before, f.baseline - f.size, FlowTable, size), _nearness(behind, f.baseline, FlowTable, size),
        *((float(tag in around.heading_tags), float(tag in around.list_tags)) if tag >= 0 else (UNMEASURED,) * 2),
        UNMEASURED if not around.titles else _in_titles(of.texts[n], around.titles),
        own.lines[n].box.y0 / max(around.height, 1.0), float(first), float(page_first), float(min(look.pages, 10)),
        float(column.beside),
        float(rules[n]), float(rules[n + 1]) if n + 1 < len(rules) else 0.0, float(of.boxes[n] >= 0),
        *((
            a.size / f.size, a.bold, float(a.mark), limited((a.x0 - f.x0) / size),
            a.width / width, a.ends_sentence, a.ends_colon, float(a.tabs),
        ) if a else (UNMEASURED,) * 8),
        *((float(a2.mark), limited((a2.x0 - f.x0) / size)) if a2 else (UNMEASURED,) * 2),
        *((
            b.size / f.size, b.bold, float(b.mark), limited((b.x0 - f.x0) / size),
            b.width / width, b.starts_lower, float(b.tabs),
        ) if b else (UNMEASURED,) * 7),
        *((float(b2.mark), limited((b2.x0 - f.x0) / size), b2.width / width) if b2 else (UNMEASURED,) * 3),
        *((float(_has(numbers, n, number + 1, 1)), float(_has(numbers, n, number - 1, -1))) if number else (UNMEASURED,) * 2),
        float(run), float(look.font == f.font and f.mono > 0.9), look.flush, float(min(len(own.lines), 60)),
        a.caption if a else UNMEASURED,
        float(looks[n - 1] == key) if a else UNMEASURED, float(looks[n + 1] == key) if b else UNMEASURED,
        is_centred(b, column) if b else UNMEASURED, is_centred(a, column) if a else UNMEASURED, of.hanging[n],
        look.ended, of.phrases[n], float(min(look.texts[of.texts[n]] - 1, MOST_AGAIN)),
        *look.countings.get(id(own.lines[n]), NOT_COUNTED),
    )  # fmt: skip


def _in_titles(text: str, titles: frozenset[str]) -> float:
    """1 for a line that is a title of the outline, a half for one that is a part of one."""
    own = letters_and_digits_of(text)
    if own in titles:
        return 1.0
    return 0.5 if len(own) >= SHORTEST_PART and any(own in title for title in titles) else 0.0


def _nearness(
    item: FlowLine | PlacedPicture | FlowTable | FlowEquation | None, y: float, kind: type, size: float
) -> float:
    """Ems from a line to a picture or table next to it, UNMEASURED where another thing stands there."""
    if not isinstance(item, kind):
        return UNMEASURED
    assert isinstance(item, FlowLine | PlacedPicture | FlowTable | FlowEquation)
    return limited(min(abs(item.box.y0 - y), abs(item.box.y1 - y)) / size)


def _has(numbers: Sequence[int], n: int, wanted: int, step: int) -> bool:
    """Whether a line after (or before) another begins with a number, before another sequence begins."""
    k = n + step
    while 0 <= k < len(numbers) and abs(k - n) < 40:
        if numbers[k] == wanted:
            return wanted > 0
        k += step
    return False
