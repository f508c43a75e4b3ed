"""One line of a formula: what stands on its baseline, with accents, bounds and scripts where they belong."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.pairs import with_pairs
from evenquill.core.equations.signs import ACCENTS, INTEGRALS, NARY, PRIMES, WITH_LIMITS
from evenquill.core.model.equation import Accent, Gap, Limits, Node, Operator, Phrase, Row, Scripts, row_of
from evenquill.core.reading.formulas.letters import with_names
from evenquill.core.reading.formulas.parts import SMALLER, Part, box_of, size_of

OFF_BASELINE = 0.16
"""Ems off the baseline of a line up to which letters stand on it; scripts are raised or lowered by 0.15 and more, and smaller."""

OFF_AXIS = 0.4
"""Ems by which the middle of something large may be off the axis of its line."""

WIDE_ACCENT = 0.9
"""Ems from which a sign over letters may be over several."""

STACKED = frozenset("→⟶=")
"""Signs that may have words or bounds above them."""

WIDE_GAP = 0.8
"""Ems from which a gap is one that was set, as between two formulas in one line; relations have 0.28 beside them."""


def line_of(parts: Sequence[Part]) -> Node:
    """The tree of one line."""
    if not parts:
        return Row()
    if len(parts) == 1 and parts[0].node is not None:
        return parts[0].node
    if all(part.text in PRIMES for part in parts):
        return row_of([Operator("′")] * sum(PRIMES[part.text] for part in parts))
    parts = _with_wide_accents(parts)
    if len(parts) == 1 and parts[0].node is not None:
        return parts[0].node
    size = size_of(parts)
    baseline = _main_baseline(parts, size)
    ordered = sorted(parts, key=lambda part: (part.box.x0, part.box.x1))
    ordered, accents = _without_accents(ordered)
    ordered = with_names(ordered)
    mains = [part for part in ordered if _is_main(part, baseline, size)]
    if not mains:
        mains = [max(ordered, key=lambda part: part.size)]
    small = [part for part in ordered if not any(part is main for main in mains)]
    satellites = _satellites_of(mains, small, baseline)
    made: list[tuple[float, float, Node]] = []
    for n, main in enumerate(mains):
        node: Node = main.made()
        for accent in accents:
            if _carries(main, accent, mains):
                node = Accent(node, ACCENTS[accent.text], below=accent.text == "⏟")
        made.append(
            (
                main.box.x0,
                max([main.box.x1, *(part.box.x1 for part in satellites[n].behind)]),
                satellites[n].attached(node),
            )
        )
    return row_of(with_pairs(_with_spaces(_with_gaps(made, size))))


def _with_wide_accents(parts: Sequence[Part]) -> Sequence[Part]:
    """The parts with what stands under a wide sign, or over a brace that opens upwards, put together with it."""
    for sign in parts:
        if sign.text not in ACCENTS or sign.text in PRIMES or sign.box.width < WIDE_ACCENT * sign.size:
            continue
        below = sign.text == "⏟"
        covered = [
            part
            for part in parts
            if part is not sign
            and sign.box.x0 - 0.2 * part.size < part.box.center_x < sign.box.x1 + 0.2 * part.size
            and (part.box.center_y < sign.box.center_y) is below
            and (part.box.y1 < sign.box.y1 + 0.3 * part.size if below else part.box.y0 > sign.box.y0 - 0.3 * part.size)
        ]
        near = [
            abs((sign.box.y0 - part.box.y1) if below else (part.box.y0 - sign.box.y1)) < 0.6 * part.size
            for part in covered
        ]
        if not any(near) or (sign.text == "→" and not _is_over_another(sign, parts)):
            continue
        size = size_of(covered)
        node = Accent(line_of(covered), ACCENTS[sign.text], below=below)
        made = Part(box_of([sign, *covered]), _main_baseline(covered, size), size, node=node)
        gone = set(map(id, [sign, *covered]))
        return _with_wide_accents([*(part for part in parts if id(part) not in gone), made])
    return parts


def _main_baseline(parts: Sequence[Part], size: float) -> float:
    """The baseline on which the most letters of full size stand, the leftmost deciding where as many stand on two."""
    on = sorted((part for part in parts if part.size > SMALLER * size), key=lambda part: part.box.x0)
    letters = [part for part in on if part.carries_size] or [part for part in on if not part.centred] or on
    return max(
        letters, key=lambda part: sum(abs(part.baseline - other.baseline) < OFF_BASELINE * size for other in letters)
    ).baseline


def _is_main(part: Part, baseline: float, size: float) -> bool:
    if part.text in PRIMES:
        return False
    if part.centred:
        large = part.text in NARY or part.node is not None or part.size > SMALLER * size
        return large and abs(part.baseline - baseline) < OFF_AXIS * size
    return part.size > SMALLER * size and abs(part.baseline - baseline) < OFF_BASELINE * size


def _without_accents(parts: list[Part]) -> tuple[list[Part], list[Part]]:
    """The parts without the signs over or under letters, and those signs."""
    accents = [
        part for part in parts if part.text in ACCENTS and part.text not in PRIMES and _is_over_another(part, parts)
    ]
    return [part for part in parts if not any(part is accent for accent in accents)], accents


def _is_over_another(accent: Part, parts: Sequence[Part]) -> bool:
    """Whether a sign stands right over some letter, a brace that opens upwards under it."""
    for part in parts:
        if part is accent or accent.box.overlap_x(part.box) < 0.5 * min(accent.box.width, part.box.width):
            continue
        gap = (accent.box.y0 - part.box.y1) if accent.text == "⏟" else (part.box.y0 - accent.box.y1)
        if -0.25 * part.size < gap < 0.4 * part.size and accent.box.height < part.box.height + 0.4 * part.size:
            return True
    return False


def _carries(main: Part, accent: Part, mains: Sequence[Part]) -> bool:
    """Whether an accent stands over this of all parts of the line."""
    best = max(mains, key=lambda part: (accent.box.overlap_x(part.box), -abs(accent.box.center_y - part.box.center_y)))
    return best is main


class _Satellites:
    """What stands around one part on the baseline."""

    def __init__(self) -> None:
        self.under: list[Part] = []
        self.over: list[Part] = []
        self.sub: list[Part] = []
        self.sup: list[Part] = []
        self.before: list[Part] = []

    @property
    def behind(self) -> list[Part]:
        """The scripts."""
        return [*self.sub, *self.sup]

    def attached(self, node: Node) -> Node:
        """The node with all of it."""
        if self.under or self.over:
            node = Limits(node, _maybe(self.under), _maybe(self.over))
        if self.sub or self.sup:
            node = Scripts(node, _maybe(self.sub), _maybe(self.sup))
        if self.before:
            node = row_of([Scripts(Row(), sup=line_of(self.before)), node])
        return node


def _maybe(parts: list[Part]) -> Node | None:
    return line_of(parts) if parts else None


def _satellites_of(mains: Sequence[Part], small: Sequence[Part], baseline: float) -> list[_Satellites]:
    """Where the parts off the baseline belong: over or under a part that takes bounds, else behind the part to their left."""
    found = [_Satellites() for _ in mains]
    for group in _side_by_side(small, mains, baseline):
        box = box_of(group)
        raised = box.center_y < _middle(group, baseline)
        bounded = [n for n, main in enumerate(mains) if _takes_bounds(main) and _is_over_or_under(group, main)]
        if bounded:
            n = max(bounded, key=lambda n: mains[n].box.overlap_x(box))
            (found[n].over if raised else found[n].under).extend(group)
            continue
        before = [n for n, main in enumerate(mains) if main.box.x0 <= box.x0 and main.box.center_x < box.center_x]
        if not before:
            found[0].before.extend(group)
            continue
        (found[before[-1]].sup if raised else found[before[-1]].sub).extend(group)
    return found


def _middle(group: Sequence[Part], baseline: float) -> float:
    """The height that parts raised scripts from lowered ones: that of small letters of the line."""
    return baseline - 0.25 * max(part.size for part in group) / 0.7


def _takes_bounds(main: Part) -> bool:
    if main.text in INTEGRALS:
        return False
    return (
        main.text in NARY
        or main.text in WITH_LIMITS
        or main.text in STACKED
        or main.block
        or main.box.width > main.size
    )


def _is_over_or_under(group: Sequence[Part], main: Part) -> bool:
    box = box_of(group)
    slack = 0.12 * main.size
    apart = box.y1 < main.box.y0 + slack or box.y0 > main.box.y1 - slack
    return apart and main.box.overlap_x(box) > 0.5 * min(box.width, main.box.width)


def _side_by_side(small: Sequence[Part], mains: Sequence[Part], baseline: float) -> list[list[Part]]:
    """Parts off the baseline, raised and lowered ones apart, in groups that nothing on the baseline and no wide gap parts."""
    groups: list[list[Part]] = []
    for raised in (True, False):
        last: list[Part] | None = None
        for part in small:
            if (part.box.center_y < _middle([part], baseline)) is not raised and part.text not in PRIMES:
                continue
            if part.text in PRIMES and not raised:
                continue
            if last is None or part.box.x0 - box_of(last).x1 > 0.5 * part.size or _parts(mains, last, part):
                last = []
                groups.append(last)
            last.append(part)
    return groups


def _parts(mains: Sequence[Part], group: Sequence[Part], part: Part) -> bool:
    """Whether something on the baseline begins between a group and the next part."""
    end = box_of(group).x1
    return any(
        end - 0.2 * main.size < main.box.x0
        and main.box.x1 < part.box.x0 + 0.2 * main.size
        and not _spans(main, group, part)
        for main in mains
    )


def _spans(main: Part, group: Sequence[Part], part: Part) -> bool:
    """Whether a part on the baseline lies wholly above or below what stands at its left and right."""
    return _takes_bounds(main) and _is_over_or_under([*group, part], main)


def _with_spaces(nodes: list[Node]) -> list[Node]:
    """The nodes of a line with words side by side as one, and spaces at both ends of them."""
    if len(nodes) < 2:
        return nodes
    out: list[Node] = []
    for node in nodes:
        last = out[-1] if out else None
        if isinstance(node, Phrase) and isinstance(last, Phrase):
            out[-1] = Phrase(f"{last.text}{node.text} ")
        else:
            out.append(Phrase(f" {node.text} ") if isinstance(node, Phrase) else node)
    return out


def _with_gaps(made: Sequence[tuple[float, float, Node]], size: float) -> list[Node]:
    """The nodes of a line, each with where it begins and ends, and the wide gaps between them."""
    out: list[Node] = []
    end: float | None = None
    for x0, x1, node in made:
        if end is not None and x0 - end > WIDE_GAP * size:
            out.append(Gap(round((x0 - end) / size, 1)))
        out.append(node)
        end = x1
    return out
