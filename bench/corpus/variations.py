"""What documents of any family have now and then besides their own parts: sides beside each other, covers, columns, and parts that are
seldom found in them."""

from __future__ import annotations

import random
from dataclasses import replace

from .draw import Draw
from .parts import Contents, Heading, Made, Pairs, Paragraph, Part, Sides, Space, Span, Term
from .prose import Writer
from .tables import plain_table


def with_extras(made: Made, writer: Writer, rng: random.Random) -> Made:
    """The document with a few parts that are seldom found in its family: any document may hold any of them."""
    if rng.random() > EXTRAS:
        return made
    d = Draw(writer, rng)
    d.figures = d.tables = 20
    places = [n for n, part in enumerate(made.parts) if isinstance(part, Paragraph) and part.kind == "text"]
    kinds = rng.sample(range(11), rng.randint(1, 3))
    for place in sorted(rng.sample(places, min(len(places), rng.randint(1, 5))), reverse=True):
        made.parts[place + 1 : place + 1] = _extra(d, rng.choice(kinds))
    return made


def with_lines_around_title(made: Made, writer: Writer, rng: random.Random) -> Made:
    """The document with who writes above the title, and what it is about below it, now and then."""
    d = Draw(writer, rng)
    parts = made.title or made.parts
    place = next((n for n, part in enumerate(parts) if isinstance(part, Heading) and part.level == 0), None)
    if place is None:
        return made
    if d.chance(0.3):
        text = d.writer.phrase(4, 16)
        side = d.rng.choice(("", "center", "center", "right"))
        parts.insert(place + 1, Paragraph((Span(text, d.chance(0.15), d.chance(0.3)),), "lines", side))
    if place == 0 and d.chance(0.25):
        lines = [d.writer.label() if n or d.chance(0.5) else d.writer.name() for n in range(d.rng.randint(1, 3))]
        side = d.rng.choice(("", "center", "center", "right"))
        parts.insert(0, Paragraph((Span("\n".join(lines), d.chance(0.3), d.chance(0.1)),), "lines", side))
    return made


SIDES = {
    "vitae": 0.45, "letter": 0.35, "invoice": 0.35, "exam": 0.15, "form": 0.15, "minutes": 0.12, "newsletter": 0.12, "contract": 0.12,
    "report": 0.06,
}  # fmt: skip
"""Shares of documents of a family that have blocks beside each other: their title and who it is from, or who is to sign them."""


def with_sides(made: Made, writer: Writer, seed: int) -> Made:
    """The document with two blocks beside each other at its head or end, now and then."""
    rng = random.Random(f"{seed} sides")
    if made.title or made.columns > 1 or rng.random() > SIDES.get(made.family, 0.0):
        return made
    d = Draw(writer, rng)
    first = made.parts[0]
    if made.family in ("contract", "minutes") and d.chance(0.5):
        made.parts.append(Sides((d.short_lines(2, 4),), (d.short_lines(2, 4),), rng.choice((0.5, 0.5, 0.6))))
        return made
    share, side, size = rng.uniform(0.45, 0.7), rng.choice(("", "", "right", "right")), rng.choice((0.8, 0.9, 1.0, 1.0))
    reached = replace(d.short_lines(2, 6), align=side, size=size)
    if isinstance(first, Heading) and first.level == 0 and not first.beside:
        below = (d.short_lines(1, 2),) if d.chance(0.6) else ()
        title = replace(first, text=" ".join(first.text.split()[:4]))
        made.parts[0] = Sides((title, *below), (reached,), share)
    else:
        made.parts.insert(0, Sides((d.short_lines(2, 6),), (reached,), share))
    return made


IN_COLUMNS = {"law": 3, "book": 2, "manual": 2, "exam": 2, "contract": 2, "play": 3, "vitae": 2, "minutes": 2}
"""Families that are set in columns now and then, though they mostly are not, and the most columns that they have."""


def with_columns(made: Made, seed: int) -> Made:
    """The document in columns, now and then, its title across them or within."""
    rng = random.Random(f"{seed} columns")
    if made.columns > 1 or made.family not in IN_COLUMNS or rng.random() > 0.2:
        return made
    made.columns = rng.randint(2, IN_COLUMNS[made.family])
    if isinstance(made.parts[0], Heading) and rng.random() < 0.7:
        made.title, made.parts = [*made.title, made.parts[0]], made.parts[1:]
    return made


def with_cover(made: Made, writer: Writer, rng: random.Random) -> Made:
    """The document with a page of its own for its title, now and then; and with what it is marked as, printed across the pages."""
    d = Draw(writer, rng)
    if d.chance(0.04):
        made.watermark = writer.word().upper() if d.chance(0.5) else writer.label()
    title = made.parts[0]
    if made.title or not isinstance(title, Heading) or title.level or not d.chance(0.12):
        return made
    side = rng.choice(("", "center", "center", "right"))
    above = (
        [
            d.lines(*(writer.label() for _ in range(rng.randint(1, 3))), align=side, larger=True),
            Space(rng.uniform(3, 14)),
        ]
        if d.chance(0.6)
        else []
    )
    below: list[Part] = [d.lines(writer.phrase(3, 12), align=side, larger=True)] if d.chance(0.6) else []
    for _ in range(rng.randint(1, 3)):
        lines = [
            rng.choice((writer.name(), writer.date(), writer.place(), writer.label(), writer.phrase(3, 8)))
            for _ in range(rng.randint(1, 3))
        ]
        below += [Space(rng.uniform(1, 10)), d.lines(*lines, align=side, larger=True)]
    made.parts[:1] = [*above, title, *below, Space(0)]
    return made


EXTRAS = 0.5
"""Share of documents that get some."""


def _extra(d: Draw, kind: int) -> list[Part]:
    match kind:
        case 0:
            return [d.code()]
        case 1:
            return [d.verse()]
        case 2:
            return [d.quotation()]
        case 3:
            return [Term(d.writer.phrase(1, 3), d.spans(d.writer.paragraph(1, 3))) for _ in range(d.rng.randint(2, 4))]
        case 4:
            return d.items()
        case 5:
            return [plain_table(d)]
        case 6:
            return [d.lines(*d.address(), align=d.rng.choice(("", "", "right", "center")))]
        case 8:
            return [d.menu()]
        case 9:
            return d.sources(2, 5)
        case 7:
            return [
                Heading(1, d.writer.title()),
                Contents(
                    tuple(
                        (d.rng.choice((1, 1, 2)), d.writer.title(), str(3 * n + d.rng.randint(1, 3)))
                        for n in range(d.rng.randint(4, 12))
                    )
                ),
            ]
        case _:
            return [
                Pairs(
                    tuple(
                        ((d.writer.label() + d.rng.choice((":", "")), d.writer.phrase(1, 5)),)
                        for _ in range(d.rng.randint(2, 6))
                    )
                )
            ]
