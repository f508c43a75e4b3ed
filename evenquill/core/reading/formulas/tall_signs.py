"""Tall signs that typefaces put together from pieces: fences, roots and braces above or below something."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

from evenquill.core.equations.signs import CLOSING, OPENING
from evenquill.core.reading.formulas.parts import LEVEL, Part, box_of, is_fence, on_axis
from evenquill.core.reading.formulas.wide_signs import with_wide_signs

PIECES = {
    **dict.fromkeys("⎛⎜⎝", "("), **dict.fromkeys("⎞⎟⎠", ")"), **dict.fromkeys("⎡⎢⎣", "["), **dict.fromkeys("⎤⎥⎦", "]"),
    **dict.fromkeys("⎧⎨⎩", "{"), **dict.fromkeys("⎫⎬⎭", "}"), "⎷": "√", "√": "√", "∥": "∥", "|": "|", "‖": "‖",
}  # fmt: skip
"""The sign that each piece is of (Unicode's block of technical signs has them)."""

EXTENDERS = {"⎪": "{}", "⏐": "|", "\ue000": "√", "\ue001": "√"}
"""Pieces that stretch several signs; the last two are the riser and the upper end of a root, which Unicode has no characters for."""

STROKE = "\u0338"
"""The stroke through a relation that negates it, as a character of its own."""

ABUT = 0.25
"""Ems between pieces of one sign."""


def with_tall_signs(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with the pieces of tall signs made one, and with baselines that follow from the axis for what is centred on it."""
    out: list[Part] = []
    whole = with_wide_signs(_without_strokes(symbols))
    waiting = sorted(_with_missing_pieces(whole), key=lambda part: part.box.y0)
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


def _without_strokes(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with the strokes that negate a relation made one sign with it."""
    strokes = [part for part in symbols if part.text == STROKE]
    out = [part for part in symbols if part.text != STROKE]
    for stroke in strokes:
        over = [n for n, part in enumerate(out) if stroke.box.overlap_x(part.box) > 0.5 * stroke.box.width]
        if over:
            n = min(over, key=lambda n: abs(out[n].box.center_x - stroke.box.center_x))
            out[n] = out[n]._replace(text=unicodedata.normalize("NFC", out[n].text + STROKE))
    return out


def _with_missing_pieces(symbols: Sequence[Part]) -> list[Part]:
    """The symbols, fences of which only the lowest piece has a character as high as what they enclose.

    Such a piece stands on no line's baseline, as whole fences do.
    """
    out = list(symbols)
    baselines = [part.baseline for part in symbols if not is_fence(part.text)]
    low = [n for n, part in enumerate(out) if part.text in OPENING or part.text in CLOSING]
    low = [n for n in low if all(abs(out[n].baseline - b) > LEVEL * out[n].size for b in baselines)]
    for n in low:
        part = out[n]
        left, right = _enclosed_between(
            n, [k for k in low if abs(out[k].baseline - part.baseline) < LEVEL * part.size], out
        )
        top = min((other.box.y0 for other in out if left <= other.box.center_x <= right), default=part.box.y0)
        if top < part.box.y0 - 0.5 * part.size:
            out[n] = part._replace(box=part.box._replace(y0=top))
    return out


def _enclosed_between(n: int, level: Sequence[int], parts: Sequence[Part]) -> tuple[float, float]:
    """Where what a fence encloses begins and ends: at its partner on the same level, else where the formula does."""
    part = parts[n]
    if part.text in CLOSING:
        partners = [parts[k].box.x1 for k in level if parts[k].box.x1 <= part.box.x0 and parts[k].text in OPENING]
        return max(partners, default=min(other.box.x0 for other in parts)), part.box.x0
    partners = [parts[k].box.x0 for k in level if parts[k].box.x0 >= part.box.x1 and parts[k].text in CLOSING]
    return part.box.x1, min(partners, default=max(other.box.x1 for other in parts))


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
