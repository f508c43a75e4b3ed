"""Signs of a page in segments: what stands on one baseline without a wide gap, and which of it is running text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.equations.signs import FUNCTIONS
from evenquill.core.model import Box, union
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.formulas.factors import may_be_factors
from evenquill.core.reading.formulas.parts import LEVEL, SMALLER, Part

SEGMENT_GAP = 1.3
"""Ems from which a gap parts segments: wider than justified text has."""

WORD_GAP = 0.14
"""Ems between letters from which they belong to two words."""

PROSE_WORDS = 4
"""Words of a line that is text whatever else stands in it."""

ITEM_SIGNS = "0123456789.()[]•–-"
"""What marks of items and of notes consist of."""

SAME_EDGE = 1.3
"""Ems further right than the line above at which a line may begin that carries it on: a root's sign may stand before its first letter."""

SHORTEST_LINE = 3
"""Signs of a line of its own: fewer are a sign that stands off the baseline of its line."""

AT_EDGE, FLUSH = 0.25, 3
"""Ems from where lines of text begin within which a line is flush with them, and how many have to begin there."""

LAST_LINE = 0.6
"""Width over that of full lines up to which a line of mathematics flush with the text is the end of a paragraph; displayed ones that begin
there are as wide as the text."""

NOISE = 0.04
"""Ems between baselines of one line as they are measured on scans."""

LEADING = 1.9
"""Ems between baselines of one paragraph, at most; double-spaced text has more, and is told by its words."""


class Sign(NamedTuple):
    """A symbol; ``mathematical`` if only a formula would have it there; ``x0`` and ``x1`` are where the pen begins and ends.

    ``code`` is set in letters of one width.
    """

    part: Part
    mathematical: bool
    x0: float
    x1: float
    code: bool = False


class Segment(NamedTuple):
    """Signs on one baseline, by their places from the left. ``words`` are those of the language, ``seeds`` how many signs are
    mathematical; ``prose`` is whether it is text, maybe with formulas in it."""

    signs: list[int]
    box: Box
    baseline: float
    size: float
    words: int
    seeds: int
    prose: bool


def segments_of(signs: Sequence[Sign]) -> list[Segment]:
    """All signs in segments, from the top."""
    groups: list[list[int]] = []
    for n in sorted(range(len(signs)), key=lambda n: signs[n].part.baseline):
        part = signs[n].part
        first = signs[groups[-1][0]].part if groups else None
        last = signs[groups[-1][-1]].part if groups else None
        if (
            first is not None
            and last is not None
            and (
                part.baseline - first.baseline <= LEVEL * min(part.size, first.size)
                or part.baseline - last.baseline <= NOISE * part.size
            )
        ):
            groups[-1].append(n)
        else:
            groups.append([n])
    segments = [_segment(run, signs) for group in groups for run in _runs(group, signs)]
    return _with_continued(segments, signs)


def _runs(group: list[int], signs: Sequence[Sign]) -> list[list[int]]:
    """The signs on one baseline, cut at wide gaps."""
    out: list[list[int]] = []
    end = 0.0
    for n in sorted(group, key=lambda n: signs[n].part.box.x0):
        part = signs[n].part
        if out and _widest_gap(end, part, signs) <= SEGMENT_GAP * part.size:
            out[-1].append(n)
            end = max(end, part.box.x1)
        else:
            out.append([n])
            end = part.box.x1
    return out


def _widest_gap(start: float, part: Part, signs: Sequence[Sign]) -> float:
    """The widest gap from a place in a line to a part of it, over scripts and tall signs between."""
    gap = part.box.x0 - start
    if gap <= SEGMENT_GAP * part.size:
        return gap
    top, bottom = part.baseline - part.size, part.baseline + 0.5 * part.size
    between = sorted(
        (sign.part.box.x0, sign.part.box.x1)
        for sign in signs
        if start <= sign.part.box.center_x <= part.box.x0 and top < sign.part.box.center_y < bottom
    )
    widest, end = 0.0, start
    for x0, x1 in [*between, (part.box.x0, part.box.x0)]:
        widest = max(widest, x0 - end)
        end = max(end, x1)
    return widest


def _segment(run: list[int], signs: Sequence[Sign]) -> Segment:
    parts = [signs[n].part for n in run]
    words = words_of(run, signs)
    letters = sum(len(word) for word in words)
    seeds = sum(signs[n].mathematical for n in run)
    text = "".join(part.text for part in parts)
    first_word = bool(words) and text.lstrip(ITEM_SIGNS).startswith(words[0])
    begins_sentence = first_word and words[0].istitle()
    prose = len(words) >= PROSE_WORDS or letters > 0.5 * len(run) or (first_word and len(words) > 1) or begins_sentence
    sizes = sorted(part.size for part in parts)
    box = union([part.box for part in parts])
    return Segment(run, box, parts[0].baseline, sizes[len(sizes) // 2], len(words), seeds, prose)


def words_of(run: Sequence[int], signs: Sequence[Sign]) -> list[str]:
    """The words of the language among signs in order: at least two letters of the text's own typeface, and no function."""
    found: list[tuple[str, bool]] = []
    last: Sign | None = None
    for n in run:
        sign = signs[n]
        if not sign.part.words or sign.mathematical or not sign.part.text.isalpha():
            last = None
            continue
        goes_on = (
            last is not None and sign.x0 - last.x1 <= WORD_GAP * sign.part.size and is_slanted(last) is is_slanted(sign)
        )
        found.append((found.pop()[0] + sign.part.text if goes_on else sign.part.text, is_slanted(sign)))
        last = sign
    return [
        word
        for word, slanted in found
        if len(word) > 1 and word not in FUNCTIONS and not (slanted and (len(word) == 2 or may_be_factors(word)))
    ]


def is_slanted(sign: Sign) -> bool:
    """Whether a sign is a slanted letter of the text's own typeface, which may stand for a quantity."""
    return sign.part.words and sign.part.form is Letterform.ITALIC and sign.part.text.isalpha()


def _has_more_beside(segment: Segment, signs: Sequence[Sign]) -> bool:
    """Whether something stands right of a segment, at about its height."""
    reach = segment.box.x1, segment.box.x1 + 3 * segment.size
    return any(
        sign.part.size > SMALLER * segment.size
        and reach[0] < sign.part.box.center_x < reach[1]
        and abs(sign.part.box.center_y - segment.baseline) < 1.6 * segment.size
        for sign in signs
    )


def _with_continued(segments: list[Segment], signs: Sequence[Sign]) -> list[Segment]:
    """The segments; lines of mathematics that begin at the edge of the text, or right below a line of it and close, carry it on."""
    out = list(segments)
    lines = [segment.box for segment in segments if segment.prose and segment.words >= PROSE_WORDS]
    for n, segment in enumerate(out):
        if segment.prose or not segment.seeds or len(segment.signs) < SHORTEST_LINE:
            continue
        flush = [line for line in lines if abs(line.x0 - segment.box.x0) < AT_EDGE * segment.size]
        short = bool(flush) and segment.box.width < LAST_LINE * max(line.width for line in flush)
        if short and len(flush) >= FLUSH and not _has_more_beside(segment, signs):
            out[n] = segment._replace(prose=True)
            continue
        for above in reversed(out[:n]):
            step = segment.baseline - above.baseline
            if step > LEADING * segment.size:
                break
            if (
                step < 0.8 * segment.size
                or not above.prose
                or above.words < PROSE_WORDS
                or above.box.overlap_x(segment.box) < 0
            ):
                continue
            begins = segment.box.x0 - above.box.x0
            similar = abs(segment.size - above.size) < 0.1 * segment.size
            if similar and -2.5 * segment.size < begins < SAME_EDGE * segment.size and _is_close(above, segment):
                out[n] = segment._replace(prose=True)
            break
    return out


def _is_close(above: Segment, below: Segment) -> bool:
    """Whether two lines have the distance of lines in a paragraph."""
    return below.baseline - above.baseline < 1.6 * below.size
