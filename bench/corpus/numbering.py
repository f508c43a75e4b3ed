"""Numbers of headings, given before a document is set, so that all ways of setting and the truth have the same."""

from __future__ import annotations

from dataclasses import replace

from .look import Look, ordinal
from .parts import Heading, Made


def with_numbers(made: Made, look: Look) -> Made:
    """The document with its headings numbered, where its look wants that."""
    if not look.numbered:
        return made
    counts = [0] * 6
    parts = []
    for part in made.parts:
        if isinstance(part, Heading) and part.level > 0 and not (part.number or part.label or part.unnumbered):
            counts[part.level] += 1
            counts[part.level + 1 :] = [0] * (len(counts) - part.level - 1)
            own = [max(n, 1) for n in counts[1 : part.level + 1]]
            sign = look.number_sign
            if sign == "I.":
                number = ordinal("I.", own[0]) if len(own) == 1 else ".".join(map(str, own[1:]))
            elif sign == "§":
                number = "§ " + ".".join(map(str, own))
            else:
                number = ".".join(map(str, own)) + ("." if sign == "1." else "")
            part = replace(part, number=number)
        parts.append(part)
    return replace(made, parts=parts)
