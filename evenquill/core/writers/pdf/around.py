"""Text around a picture: as much of what follows as has room is set beside it, and the rest below."""

from __future__ import annotations

from evenquill.core.writers.pdf.markup import array, points

AROUND = """#let around(side, width, gap, figure, parts) = layout(size => {
  let narrow = size.width - width - gap
  let high = measure(block(width: width, figure)).height
  let tall(it) = measure(block(width: narrow, it)).height
  let (beside, below, used) = ((), (), 0pt)
  for part in parts {
    let whole = (part.begun)(part.words.join())
    if below.len() > 0 or used >= high { below.push((part.wide)(part.words.join())); continue }
    let above = if beside.len() > 0 { part.above } else { 0pt }
    if used + above + tall(whole) <= high {
      beside.push(whole)
      used += above + tall(whole)
      continue
    }
    let (fit, least) = (0, part.words.len())
    while fit < least - 1 {
      let half = calc.quo(fit + least, 2)
      if used + above + tall((part.begun)(part.words.slice(0, half).join())) <= high { fit = half } else { least = half }
    }
    if fit == 0 { below.push((part.wide)(part.words.join())); continue }
    let first = part.words.slice(0, fit).join()
    beside.push((part.begun)(if part.justified { first + linebreak(justify: true) } else { first }))
    below.push((part.rest)(part.words.slice(fit).join()))
  }
  let text = beside.join()
  let (columns, cells) = if side == left { ((width, narrow), (figure, text)) } else { ((narrow, width), (text, figure)) }
  grid(columns: columns, column-gutter: gap, ..cells)
  below.join()
})
"""
"""Each part of the text is a dictionary: its words; functions that set them where it has ``begun`` beside the picture, the ``rest`` of it
below, and all of it below (``wide``); the space above it; and whether its lines are justified."""

LEAST_BESIDE = 72.0
"""Points that are left beside a picture, at least, if text is to stand there."""

SMALLEST_LINE, SMALLEST_LETTER = 8.0, 3.0
"""Points from line to line and from letter to letter in the smallest print."""


def part_of(words: list[str], begun: str, rest: str, wide: str, above: float, *, justified: bool) -> str:
    """A part of the text, from its words and from what sets ``it``."""
    return (
        f"(words: {array([f'[{word}]' for word in words])}, begun: it => [{begun}], rest: it => [{rest}], wide: it => [{wide}], "
        f"above: {points(above)}, justified: {str(justified).lower()})"
    )


def letters_beside(width: float, height: float) -> int:
    """How many letters there can be beside a picture, at most, where so much is free."""
    return int((height / SMALLEST_LINE + 1) * width / SMALLEST_LETTER)
