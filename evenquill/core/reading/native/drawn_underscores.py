"""Underscores that are drawn and no letters: within text TeX sets ``_`` as a short rule, since many of its typefaces have none."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Sequence

from evenquill.core.evidence import Line, Rule, Word
from evenquill.core.model import Box
from evenquill.core.reading.rule_chains import rule_chains

NARROWEST, WIDEST = 0.2, 0.6
"""Ems: widths of an underscore; what is wider is to be filled in."""

THICKEST = 0.12
"""Ems."""

HIGHEST, LOWEST = 0.1, 0.25
"""Ems above and below the baseline between which an underscore stands."""

NEAR = 0.2
"""Ems to the letters that it belongs to, at most; it may reach as far below them."""

UNDERSCORE = "_"


def with_drawn_underscores(lines: Sequence[Line], rules: Sequence[Rule]) -> tuple[tuple[Line, ...], list[Rule]]:
    """The lines with the underscores that are drawn in them, and the rules that are none."""
    order = sorted((n for n, line in enumerate(lines) if not line.angle), key=lambda n: lines[n].baseline)
    baselines = [lines[n].baseline for n in order]
    tallest = max((line.size for line in lines), default=0.0)
    short: defaultdict[int, list[Rule]] = defaultdict(list)
    for chain in rule_chains(rule for rule in rules if rule.horizontal):
        # Lines under several words are often drawn word by word, and space by space: none of a chain with a longer one is an underscore.
        places = [
            _line_with(rule.box, lines, order, baselines, tallest) if rule.box.width <= WIDEST * tallest else None
            for rule in chain
        ]
        for rule, place in zip(chain, places, strict=True):
            if place is not None and None not in places:
                short[place].append(rule)
    found = {n: _beside_letters(lines[n], own) for n, own in short.items()}
    gone = {id(rule) for own in found.values() for rule in own}
    made = (_with(line, [rule.box for rule in found[n]]) if found.get(n) else line for n, line in enumerate(lines))
    return tuple(made), [rule for rule in rules if id(rule) not in gone]


def _line_with(
    box: Box, lines: Sequence[Line], order: Sequence[int], baselines: Sequence[float], tallest: float
) -> int | None:
    """The place of the line that a rule may be an underscore of; ``order`` are the places of lines by their ``baselines``, ``tallest`` the
    largest size of them."""
    first = bisect_left(baselines, box.center_y - LOWEST * tallest)
    end = bisect_left(baselines, box.center_y + HIGHEST * tallest)
    return next((n for n in order[first:end] if _may_be_underscore(box, lines[n])), None)


def _may_be_underscore(box: Box, line: Line) -> bool:
    """Whether a rule has the size and place of an underscore of a line, with no letter above it."""
    size = line.size
    if not NARROWEST * size <= box.width <= WIDEST * size or box.height > THICKEST * size:
        return False
    if not line.baseline - HIGHEST * size <= box.center_y <= line.baseline + LOWEST * size:
        return False
    reach = NEAR * size / 2
    return not any(word.x0 < box.x1 - reach and box.x0 + reach < word.x1 for word in line.words)


def _beside_letters(line: Line, rules: Sequence[Rule]) -> list[Rule]:
    """Those of the rules, from left to right, that stand at a letter, or at others that do."""
    letters = [(word.x0, word.x1) for word in line.words]
    left = list(rules)
    while True:
        beside = [rule for rule in left if any(_is_near(rule.box, *ends, NEAR * line.size) for ends in letters)]
        if not beside:
            return sorted((rule for rule in rules if rule not in left), key=lambda rule: rule.box.x0)
        left = [rule for rule in left if rule not in beside]
        letters = [(rule.box.x0, rule.box.x1) for rule in beside]


def _is_near(box: Box, start: float, end: float, reach: float) -> bool:
    return abs(box.x0 - end) < reach or abs(start - box.x1) < reach


def _with(line: Line, boxes: Sequence[Box]) -> Line:
    """A line with underscores, from left to right."""
    words = list(line.words)
    near = NEAR * line.size
    for box in boxes:
        place = next((n for n, word in enumerate(words) if word.x0 > box.center_x), len(words))
        before = words[place - 1] if place and box.x0 - words[place - 1].x1 < near else None
        behind = words[place] if place < len(words) and words[place].x0 - box.x1 < near else None
        look = before or behind or words[0]
        sign = Word(UNDERSCORE, box.x0, box.x1, look.type, look.marks, before is not None, look.link)
        end = place
        if behind is not None:
            words[place] = behind._replace(glued=True)
            end = place + 1
        start = place - (before is not None)
        words[start:end] = _joined([*words[start:place], sign, *words[place:end]])
    return line._replace(words=tuple(words))


def _joined(parts: Sequence[Word]) -> list[Word]:
    """Parts of a word, those of one look as one."""
    out = [parts[0]]
    for part in parts[1:]:
        if _look(out[-1]) == _look(part):
            out[-1] = out[-1]._replace(text=out[-1].text + part.text, x1=part.x1)
        else:
            out.append(part)
    return out


def _look(word: Word) -> tuple[int, int, int | None, int | None]:
    return word.type, word.marks, word.link, word.equation
