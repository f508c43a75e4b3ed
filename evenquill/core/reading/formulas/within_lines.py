"""Formulas within a line of text: from the signs that only mathematics has over what can only belong to them."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.signs import ACCENTS, CLOSING, FUNCTIONS, NARY, OPENING, OPERATIONS, RELATIONS
from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.formulas.factors import may_be_factors
from evenquill.core.reading.formulas.parts import AXIS, SMALLER
from evenquill.core.reading.formulas.segments import WORD_GAP, Segment, Sign, is_slanted

CONNECTORS = RELATIONS | OPERATIONS | frozenset("-–")
"""Signs that join what stands at both sides of them."""

SPACE = 0.55
"""Ems between a sign and what it joins, at most: relations have 0.28 beside them, more in justified text."""

TOUCHING = 0.22
"""Ems between a letter and the figure or the fence that goes with it."""

DOTS = ".·"
"""Stops that three in a row of leave something out."""

SEPARATORS = ",.!|"
"""Signs that belong to a formula where it goes on right at both sides of them."""

FRACTION = "\u2044"
"""Stands for the text of a fraction."""

COLON = 0.12
"""Ems before a colon up to which it belongs to what stands before it, as in text; colons of formulas stand apart at both sides."""

LONGEST_PAIR = 24
"""Tokens between two fences."""


class _Token:
    """Signs of a line that stay together: a number, a word, one symbol."""

    def __init__(self, signs: list[int], text: str, kind: str, x0: float, x1: float, size: float) -> None:
        self.signs, self.text, self.kind = signs, text, kind
        self.x0, self.x1, self.size = x0, x1, size
        self.taken = kind == "math"
        self.small: list[int] = []


def is_telling(sign: Sign) -> bool:
    """Whether a sign is one that makes a formula by itself: a letter for a quantity, a large operator, a root."""
    return sign.mathematical and (sign.part.text.isalpha() or sign.part.text in NARY or sign.part.text in "√∂∇∞")


def formulas_in_line(
    line: Segment, small: Sequence[int], signs: Sequence[Sign], bars: Sequence[Box] = ()
) -> list[list[int]]:
    """The signs of each formula in a line, from the left; ``small`` are those that stand above or below its baseline, ``bars`` the bars
    among them."""
    accents = [n for n in line.signs if signs[n].part.text in ACCENTS and _is_over_another(n, line, signs)]
    line = line._replace(signs=[n for n in line.signs if n not in accents])
    tokens, left = _with_large(_tokens(line, signs), [*small, *accents], line, signs)
    tokens, left = _with_fractions(tokens, left, bars, signs)
    _place_small(tokens, left, signs)
    _grow(tokens)
    out: list[list[int]] = []
    run: list[_Token] = []
    for token in [*tokens, None]:
        if token is not None and token.taken and not (run and _is_parted(run[-1], token)):
            run.append(token)
            continue
        made = _formula(run, signs)
        if made:
            out.append(made)
        run = [token] if token is not None and token.taken else []
    return out


def _is_over_another(accent: int, line: Segment, signs: Sequence[Sign]) -> bool:
    """Whether a sign of a line lies over another one of it, as accents do that are set by themselves."""
    box = signs[accent].part.box
    return any(n != accent and signs[n].part.box.overlap_x(box) > 0.5 * box.width for n in line.signs)


def _is_parted(before: _Token, token: _Token) -> bool:
    """Whether two formulas stand beside each other without a sign that joins them."""
    gap = token.x0 - before.x1
    return gap > SPACE * token.size and before.text not in CONNECTORS and token.text not in CONNECTORS


def _formula(run: list[_Token], signs: Sequence[Sign]) -> list[int]:
    """The signs of a run of tokens as a formula, without stops at its ends; none where nothing in it makes a formula."""
    while run and run[-1].text in ",.;:" and not run[-1].small:
        run = run[:-1]
    while run and run[0].text in ",.;:":
        run = run[1:]
    found = [n for token in run for n in (*token.signs, *token.small)]
    raised = any(
        signs[n].mathematical and signs[n].part.size < SMALLER * token.size for token in run for n in token.small
    )
    fraction = any(token.text == FRACTION for token in run)
    return found if raised or fraction or any(is_telling(signs[n]) for n in found) else []


def _tokens(line: Segment, signs: Sequence[Sign]) -> list[_Token]:
    out: list[_Token] = []
    for n in line.signs:
        sign = signs[n]
        part = sign.part
        kind = _kind(sign)
        last = out[-1] if out else None
        gap = sign.x0 - last.x1 if last is not None else 0.0
        if last is not None and gap < WORD_GAP * part.size and _joins(last, kind, part.text, n, line, signs):
            last.signs.append(n)
            last.text += part.text
            last.x1 = max(last.x1, sign.x1)
        else:
            out.append(_Token([n], part.text, kind, sign.x0, sign.x1, part.size))
    out = _with_dots(out)
    for token in out:
        slanted = is_slanted(signs[token.signs[0]])
        if token.kind == "letter" and not (may_be_factors(token.text) if slanted else len(token.signs) == 1):
            token.kind = "word"
        if token.kind == "word" and token.text in FUNCTIONS:
            token.kind = "function"
    return out


def _with_dots(tokens: list[_Token]) -> list[_Token]:
    """The tokens with three stops in a row as one, which stands for what is left out."""
    out: list[_Token] = []
    for token in tokens:
        row = [*out[-2:], token]
        stops = len(row) == 3 and all(one.text in DOTS and len(one.signs) == 1 for one in row)
        if stops and row[2].x0 - row[0].x0 < 1.3 * token.size:
            out[-2:] = [_Token([n for one in row for n in one.signs], "…", "dots", row[0].x0, token.x1, token.size)]
        else:
            out.append(token)
    return out


def _kind(sign: Sign) -> str:
    text = sign.part.text
    if sign.code:
        return "word"
    if sign.mathematical:
        return "math"
    if text.isdigit():
        return "number"
    if text.isalpha():
        return "letter" if is_slanted(sign) or sign.part.form in (Letterform.BOLD, Letterform.BOLD_ITALIC) else "word"
    if text in OPENING or text in CLOSING:
        return "fence"
    return "sign"


def _joins(last: _Token, kind: str, text: str, place: int, line: Segment, signs: Sequence[Sign]) -> bool:
    """Whether a sign carries on a token: letters of a word, figures of a number with points between them."""
    if kind == last.kind and kind in ("word", "number", "letter"):
        return True
    if last.kind == "number" and text in ".," and kind == "sign":
        after = line.signs[line.signs.index(place) + 1 :][:1]
        return bool(after) and signs[after[0]].part.text.isdigit() and signs[after[0]].x0 - last.x1 < 0.6 * last.size
    return (
        last.kind == "word" and not text.isalnum() and text not in CONNECTORS and text not in OPENING and text in "’'-"
    )


def _with_large(
    tokens: list[_Token], small: Sequence[int], line: Segment, signs: Sequence[Sign]
) -> tuple[list[_Token], list[int]]:
    """The tokens with the fences, roots and large operators that stand in the line though not on its baseline, and what is left."""
    axis = line.baseline - AXIS * line.size
    out, left = list(tokens), []
    for n in small:
        part = signs[n].part
        large = part.centred or part.text in "√⎷"
        if large and signs[n].mathematical and part.box.y0 < axis < part.box.y1:
            out.append(_Token([n], part.text, "math", signs[n].x0, signs[n].x1, line.size))
        else:
            left.append(n)
    return sorted(out, key=lambda token: token.x0), left


def _with_fractions(
    tokens: list[_Token], small: Sequence[int], bars: Sequence[Box], signs: Sequence[Sign]
) -> tuple[list[_Token], list[int]]:
    """The tokens with what stands above and below a bar as one each, and what is left."""
    out, left = list(tokens), list(small)
    for bar in sorted(bars, key=lambda bar: -bar.width):
        own = [n for n in left if bar.x0 - 1 < signs[n].part.box.center_x < bar.x1 + 1]
        sides = {signs[n].part.box.center_y < bar.center_y for n in own}
        if len(sides) == 2:
            size = max(signs[n].part.size for n in own)
            out.append(_Token(own, FRACTION, "math", bar.x0, bar.x1, size))
            left = [n for n in left if n not in own]
    return sorted(out, key=lambda token: token.x0), left


def _place_small(tokens: list[_Token], small: Sequence[int], signs: Sequence[Sign]) -> None:
    """Gives what stands off the baseline to the token at its left, or to the one that it stands over."""
    for n in sorted(small, key=lambda n: signs[n].part.box.x0):
        sign = signs[n]
        box = sign.part.box
        over = [token for token in tokens if min(token.x1, box.x1) - max(token.x0, box.x0) > 0.5 * box.width]
        before = [k for k, token in enumerate(tokens) if token.x0 < box.center_x]
        owner = over[0] if over else tokens[before[-1] if before else 0]
        if not over and before and box.x0 - owner.x1 > SPACE * owner.size:
            continue
        owner.small.append(n)
        owner.x1 = max(owner.x1, sign.x1)
        if sign.mathematical and owner.kind != "word":
            owner.taken = True


def _grow(tokens: list[_Token]) -> None:
    """Takes tokens that can only belong to the formulas beside them, until nothing changes."""
    changed = True
    while changed:
        changed = False
        for n, token in enumerate(tokens):
            if token.taken:
                changed |= _take_fences(tokens, n)
                continue
            before = tokens[n - 1] if n else None
            after = tokens[n + 1] if n + 1 < len(tokens) else None
            if _belongs(token, before, after):
                token.taken = True
                changed = True


def _belongs(token: _Token, before: _Token | None, after: _Token | None) -> bool:
    left = before is not None and before.taken
    right = after is not None and after.taken
    left_gap = token.x0 - before.x1 if before is not None else 99.0
    right_gap = after.x0 - token.x1 if after is not None else 99.0
    if token.text == ":" and left_gap < COLON * token.size < right_gap:
        return False  # the colon of a label
    if token.text in CONNECTORS:
        operands = (before, after)
        if not (left or right) or any(side is None for side in operands):
            return False
        space = SPACE * token.size
        return (
            left_gap < space and right_gap < space and all(side is not None and _is_operand(side) for side in operands)
        )
    if token.kind in ("number", "letter"):
        near_sign = (left and before is not None and before.text in CONNECTORS and left_gap < SPACE * token.size) or (
            right and after is not None and after.text in CONNECTORS and right_gap < SPACE * token.size
        )
        return near_sign or (right and right_gap < TOUCHING * token.size) or (left and left_gap < TOUCHING * token.size)
    if token.kind == "function":
        return (right and right_gap < SPACE * token.size) or (left and left_gap < SPACE * token.size)
    if token.kind == "dots" or (
        token.text == "," and any(side is not None and side.kind == "dots" for side in (before, after))
    ):
        space = SPACE * token.size
        return (left and left_gap < space) or (right and right_gap < space)
    if token.text in SEPARATORS and before is not None and after is not None and before.taken and after.taken:
        near = left_gap < TOUCHING * token.size and right_gap < TOUCHING * token.size
        return near and (token.text != "." or (before.text[-1:].isdigit() and after.text[:1].isdigit()))
    return False


def _is_operand(token: _Token) -> bool:
    return (
        token.taken
        or token.kind in ("number", "function", "letter")
        or token.text in OPENING
        or token.text in CLOSING
        or token.text in "-–−"
    )


def _take_fences(tokens: list[_Token], n: int) -> bool:
    """Takes a pair of fences that touches a taken token, with what is between them if no word is. Where all that is between them is taken
    anyway, they may stand apart as words do."""
    changed = False
    after = tokens[n + 1] if n + 1 < len(tokens) else None
    if after is not None and after.text in OPENING and not after.taken and after.x0 - tokens[n].x1 < SPACE * after.size:
        closing = next((k for k in range(n + 2, len(tokens)) if not tokens[k].taken), len(tokens))
        if n + 2 < closing < len(tokens) and tokens[closing].text in CLOSING:
            changed |= _take_pair(tokens, n + 1)
    if (
        after is not None
        and not after.taken
        and after.text in OPENING
        and after.x0 - tokens[n].x1 < TOUCHING * after.size
    ):
        changed |= _take_pair(tokens, n + 1)
    if tokens[n].text in CONNECTORS:
        if after is not None and not after.taken and after.text in OPENING:
            changed |= _take_pair(tokens, n + 1)
        if n and not tokens[n - 1].taken and tokens[n - 1].text in CLOSING:
            opening = _opening_of(tokens, n - 1)
            changed |= opening is not None and _take_pair(tokens, opening)
    return changed


def _opening_of(tokens: Sequence[_Token], closing: int) -> int | None:
    depth = 0
    for n in range(closing, max(closing - LONGEST_PAIR, -1), -1):
        if tokens[n].text in CLOSING:
            depth += 1
        elif tokens[n].text in OPENING:
            depth -= 1
            if not depth:
                return n
    return None


def _take_pair(tokens: list[_Token], start: int) -> bool:
    """Takes the tokens from an opening fence to the one that closes it; says whether it did."""
    depth = 0
    for end in range(start, min(start + LONGEST_PAIR, len(tokens))):
        token = tokens[end]
        if token.kind == "word" and not token.taken and len(token.text) > 1:
            return False
        if token.text in OPENING:
            depth += 1
        elif token.text in CLOSING:
            depth -= 1
            if not depth:
                for inner in tokens[start : end + 1]:
                    inner.taken = True
                return True
    return False
