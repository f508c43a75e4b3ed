"""Tall signs that typefaces put together from pieces: fences, roots and braces above or below something."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.reading.formulas.parts import Part, box_of, on_axis

PIECES = {
    **dict.fromkeys("⎛⎜⎝", "("), **dict.fromkeys("⎞⎟⎠", ")"), **dict.fromkeys("⎡⎢⎣", "["), **dict.fromkeys("⎤⎥⎦", "]"),
    **dict.fromkeys("⎧⎨⎩", "{"), **dict.fromkeys("⎫⎬⎭", "}"), "⎷": "√", "√": "√", "⏐": "|", "∥": "∥", "|": "|", "‖": "‖",
}  # fmt: skip
"""The sign that each piece is of (Unicode's block of technical signs has them)."""

EXTENDERS = {"⎪": "{}", "⏐": "|", "\ue000": "√", "\ue001": "√"}
"""Pieces that stretch several signs; the last two are the riser and the upper end of a root, which Unicode has no characters for."""

ABUT = 0.25
"""Ems between pieces of one sign."""

TALL = 1.05
"""Height in ems from which bars are pieces of a tall one, or tall ones themselves."""


def with_tall_signs(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with the pieces of tall signs made one, and with baselines that follow from the axis for what is centred on it."""
    out: list[Part] = []
    waiting = sorted(symbols, key=lambda part: part.box.y0)
    used: set[int] = set()
    for n, part in enumerate(waiting):
        if n in used:
            continue
        kind = _kind(part)
        if kind is None:
            out.append(_centred(part))
            continue
        chain, sign = [part], kind
        for other in range(n + 1, len(waiting)):
            next_kind = _kind(waiting[other])
            if other in used or next_kind is None or not _continues(chain[-1], waiting[other]):
                continue
            merged = _together(sign, next_kind)
            if merged:
                chain.append(waiting[other])
                used.add(other)
                sign = merged
        text = sign if len(sign) == 1 else sign[0]
        out.append(_centred(part._replace(text=text, box=box_of(chain), words=False)))
    return out


def _kind(part: Part) -> str | None:
    """The signs that a piece may be of."""
    return EXTENDERS.get(part.text) or PIECES.get(part.text)


def _together(one: str, other: str) -> str:
    """The signs that two pieces may be of together."""
    return "".join(sign for sign in one if sign in other)


def _continues(above: Part, below: Part) -> bool:
    close = below.box.y0 - above.box.y1 < ABUT * above.size and below.box.y1 > above.box.y1
    return (
        close
        and above.box.overlap_x(below.box) > -0.2 * above.size
        and abs(above.box.x0 - below.box.x0) < 0.9 * above.size
    )


def _centred(part: Part) -> Part:
    """A part with the baseline that follows from the axis, for signs that are centred on it and may hang from anywhere."""
    if part.centred or part.text == "√":
        return part._replace(baseline=on_axis(part.box, part.size))
    return part
