"""What documents of each kind consist of. Every function makes one, drawn from wide ranges."""

from __future__ import annotations

import random
from collections.abc import Callable

from .draw import ROMAN, WORDS, Draw
from .office import contract, form, invoice, law, letter, minutes
from .parts import Contents, Heading, Item, Made, Pairs, Paragraph, Part, RunIn, Space, Span, Term
from .prose import Writer
from .tables import account, goods, list_of_remarks, mixed_table, plain_table, text_table, timetable


def report(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title()

    def body() -> list[Part]:
        out = d.texts(1, 4)
        if d.chance(0.3):
            out += [*d.items(), *d.texts(0, 1)]
        if d.chance(0.2):
            out += [plain_table(d), *d.texts(0, 1)]
        if d.chance(0.15):
            out += [d.picture(), d.text()]
        return out

    parts: list[Part] = [Heading(0, title)]
    if d.chance(0.5):
        parts.append(
            d.lines(
                writer.name(),
                rng.choice((writer.date(), writer.place())),
                align=rng.choice(("", "center")),
                larger=True,
            )
        )
    body_parts = d.sections(rng.randint(2, 5), body, deepest=rng.choice((1, 2, 3)))
    if d.chance(0.35):
        entries = tuple((p.level, p.text, str(n // 4 + 1)) for n, p in enumerate(body_parts) if isinstance(p, Heading))
        parts += [Heading(1, writer.label(), unnumbered=True), Contents(entries)]
    if d.chance(0.25):
        parts.append(Space(0))
    if d.chance(0.3):
        body_parts += [Heading(1, writer.label(), unnumbered=True), *d.sources(3, 12)]
    head, foot = d.running(title)
    return Made("report", writer.language, [*parts, *body_parts], head, foot)


def article(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(90)
    first: list[Part] = [
        Heading(0, title),
        d.lines(
            ", ".join(writer.name() for _ in range(rng.randint(1, 4))), writer.label(), align="center", larger=True
        ),
    ]
    if d.chance(0.7):
        if d.chance(0.5):
            first.append(RunIn(writer.label() + ".", d.text(3, 6, "lead")))
        else:
            first += [Heading(1, writer.label(), unnumbered=True), d.text(3, 6, "lead")]

    def body() -> list[Part]:
        out = d.texts(2, 4)
        if d.chance(0.2):
            out.append(d.picture())
        if d.chance(0.2):
            out.append(plain_table(d, narrow=True))
        if d.chance(0.2):
            out += d.items(2, 4)
        return [*out, *d.texts(0, 1)]

    parts = d.sections(rng.randint(3, 5), body)
    if d.chance(0.6):
        parts.append(Heading(1, writer.label(), unnumbered=True))
        parts += (
            d.sources(3, 12)
            if d.chance(0.4)
            else [
                Item(
                    (
                        Span(f"{writer.name()}: {writer.phrase(4, 9)}. "),
                        Span(writer.place(), italic=True),
                        Span(f", {rng.randint(1950, 2025)}."),
                    ),
                    0,
                    n + 1,
                )
                for n in range(rng.randint(3, 9))
            ]
        )
    head, foot = d.running(title)
    return Made("article", writer.language, parts, head, foot, rng.choice((2, 2, 2, 1, 3)), first)


def manual(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title()

    def body() -> list[Part]:
        out: list[Part] = d.texts(1, 3)
        for _ in range(rng.randint(0, 2)):
            match rng.randrange(5):
                case 0 | 1:
                    out += [d.code(), d.text(1, 2)]
                case 2:
                    out += d.items(3, 7)
                case 3:
                    out += [
                        Term(writer.phrase(1, 3), d.spans(writer.paragraph(1, 3))) for _ in range(rng.randint(2, 4))
                    ]
                case _:
                    out.append(Paragraph(d.spans(writer.paragraph(1, 2)), "box"))
        return out

    parts = [Heading(0, title), *d.sections(rng.randint(2, 4), body, deepest=rng.choice((2, 3)))]
    head, foot = d.running(title)
    return Made("manual", writer.language, parts, head, foot)


def newsletter(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.label()
    first: list[Part] = [Heading(0, title)]
    if d.chance(0.7):
        first.append(d.lines(f"{writer.place()} · {writer.date()}", align=rng.choice(("", "center", "right"))))
    parts: list[Part] = []
    for _ in range(rng.randint(3, 6)):
        parts.append(Heading(1, writer.title(50)))
        if d.chance(0.3):
            parts.append(d.text(1, 2, "lead", notes=False))
        parts += d.texts(1, 4)
        match rng.randrange(8):
            case 0:
                parts += [d.picture(), d.text()]
            case 1:
                parts.append(d.text(1, 1, "box", notes=False))
            case 2:
                parts += d.items(2, 4, nested=False)
            case 3:
                parts += [plain_table(d, narrow=True), d.text()]
            case _:
                pass
    head, foot = d.running(title)
    return Made("newsletter", writer.language, parts, head, foot, rng.choice((2, 2, 3, 4)), first)


def book(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    d.notes_every = rng.choice((0, 0.15, 0.3, 0.5))
    title = writer.title(40)
    parts: list[Part] = []
    if d.chance(0.2):
        parts += [Heading(0, title), d.lines(writer.name(), align=rng.choice(("", "center", "right"))), Space(0)]
    for n in range(rng.randint(1, 2)):
        label = rng.choice((f"{WORDS[writer.language][2]} {ROMAN[n + 3]}", ROMAN[n + 2], "", ""))
        parts.append(Heading(1, writer.title(40), label=label))
        for _ in range(rng.randint(4, 9)):
            parts.append(d.text(2, 8))
            if d.chance(0.12):
                parts += [d.verse(), d.text()]
            elif d.chance(0.12):
                parts += [d.quotation(), d.text()]
            elif d.chance(0.1):
                parts.append(Heading(2, writer.title(40)))
                parts.append(d.text())
    if d.chance(0.2):
        parts += [Heading(1, writer.label(), unnumbered=True), *d.index()]
    head, foot = d.running(title)
    return Made("book", writer.language, parts, head, foot)


def catalogue(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(50)
    parts: list[Part] = [Heading(0, title), *d.texts(0, 2)]
    for _ in range(rng.randint(1, 3)):
        parts.append(Heading(1, writer.title(40)))
        if d.chance(0.25):
            parts += [*d.texts(0, 1), d.menu()]
            continue
        parts += [*d.texts(0, 1), goods(d, groups=d.chance(0.5)) if d.chance(0.7) else text_table(d)]
    head, foot = d.running(title)
    return Made("catalogue", writer.language, parts, head, foot)


def accounts(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(50)
    parts: list[Part] = [Heading(0, title), *d.texts(0, 1)]
    for _ in range(rng.randint(1, 3)):
        if d.chance(0.6):
            parts.append(Heading(1, writer.title(40)))
        parts += [timetable(d) if d.chance(0.4) else account(d, rows=rng.randint(4, 22)), *d.texts(0, 2)]
    head, foot = d.running(title)
    return Made("accounts", writer.language, parts, head, foot)


def vitae(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    name, upright, beside = writer.name(), d.chance(0.4), d.chance(0.3)
    parts: list[Part] = [Heading(0, name), d.lines(*d.address()[1:], align=rng.choice(("", "center", "right")))]
    for _ in range(rng.randint(3, 5)):
        parts.append(Heading(1, writer.title(30), beside=beside))
        match 0 if beside else rng.randrange(4):
            case 0:
                years = [f"{rng.randint(1980, 2005)}–{rng.randint(2006, 2026)}" for _ in range(rng.randint(2, 5))]
                if d.chance(0.5):
                    years = [writer.phrase(1, 6) for _ in years]
                parts.append(Pairs(tuple(((year, writer.phrase(1, 25)),) for year in years), upright=upright))
            case 1:
                for _ in range(rng.randint(1, 3)):
                    parts.append(
                        Paragraph(
                            (
                                Span(writer.phrase(2, 4), bold=True),
                                Span(f", {writer.place()}, {rng.randint(1990, 2026)}"),
                            ),
                            "lines",
                        )
                    )
                    parts += d.items(2, 4, ordered=False, nested=False)
            case 2:
                parts.append(d.text(1, 3))
            case _:
                parts += d.items(2, 6, nested=False)
    head, foot = d.running(name) if d.chance(0.6) else (("", "", ""), ("", "", ""))
    return Made("vitae", writer.language, parts, head, foot)


def exam(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(50)
    parts: list[Part] = [
        Heading(0, title),
        Pairs((((writer.label() + ":", ""), (writer.label() + ":", "")),), line=True),
        *d.texts(0, 1),
    ]
    sectioned = d.chance(0.5)
    number = 0
    for _ in range(rng.randint(1, 3)):
        if sectioned:
            parts.append(Heading(1, writer.title(40)))
        for _ in range(rng.randint(2, 6)):
            number += 1
            parts.append(Item(d.spans(writer.paragraph(1, 2)), 0, number))
            if d.chance(0.5):
                parts += [Item((Span(writer.phrase(1, 6)),), 1, k + 1) for k in range(rng.randint(3, 5))]
            elif d.chance(0.15):
                parts.append(plain_table(d))
    head, foot = d.running(title)
    return Made("exam", writer.language, parts, head, foot)


def typescript(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(50)
    parts: list[Part] = []
    if d.chance(0.5):
        parts.append(d.lines(writer.name(), writer.date(), align=rng.choice(("", "right", "center"))))
    parts.append(Heading(0, title))
    for _ in range(rng.randint(3, 8)):
        parts.append(d.text(1, 5))
        if d.chance(0.2):
            parts += d.items(2, 5, nested=False)
        if d.chance(0.15):
            parts.append(Heading(1, writer.title(40)))
            parts.append(d.text())
        if d.chance(0.1):
            parts += [d.quotation(), d.text()]
    parts.append(d.lines(writer.name(), align=rng.choice(("", "right"))))
    head, foot = d.running(title)
    return Made("typescript", writer.language, parts, head, foot)


def play(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(40)
    names = [writer.name().split()[-1] for _ in range(rng.randint(2, 5))]
    names = [name.upper() for name in names] if d.chance(0.5) else names
    side, bold, italic = rng.choice(("center", "", "")), d.chance(0.4), d.chance(0.2)
    verse, own_line, sign = d.chance(0.5), d.chance(0.7), rng.choice((".", ":", ". –"))
    counted, number = d.chance(0.2), 0
    parts: list[Part] = [Heading(0, title)]
    for n in range(rng.randint(1, 3)):
        parts.append(Heading(1, f"{writer.label()} {ROMAN[n]}" if d.chance(0.6) else writer.title(40)))
        if d.chance(0.7):
            parts.append(d.stage(side))
        for _ in range(rng.randint(4, 12)):
            name, number = rng.choice(names), number + 1
            name = f"{number} {name}" if counted else name
            if own_line:
                parts.append(Paragraph((Span(name, bold, italic),), "lines", side))
                parts.append(d.verse(fewest=1) if verse else d.text(1, 3, notes=False))
            else:
                parts.append(Paragraph((Span(name + sign, bold, not bold), Span(" " + writer.paragraph(1, 3)))))
            if d.chance(0.15):
                parts.append(d.stage(side))
    head, foot = d.running(title)
    return Made("play", writer.language, parts, head, foot)


def register(writer: Writer, rng: random.Random) -> Made:
    """Little more than a table, or a block of labels and values."""
    d = Draw(writer, rng)
    parts: list[Part] = [Heading(0, writer.title(40))] if d.chance(0.3) else []
    if d.chance(0.4):  # several tables, with text between them
        for _ in range(rng.randint(2, 4)):
            parts += [*d.texts(0, 2), mixed_table(d)]
        return Made("register", writer.language, [*parts, *d.texts(0, 1)], ("", "", ""), ("", "", ""))
    parts += d.texts(0, 1)
    match rng.randrange(6):
        case 0 | 1:
            parts.append(list_of_remarks(d))
        case 2:
            parts.append(text_table(d))
        case 3:
            parts.append(plain_table(d))
        case 4:
            parts.append(account(d, rows=rng.randint(2, 6)))
        case _:
            pairs = [((writer.label(), writer.phrase(1, 8)),) for _ in range(rng.randint(3, 9))]
            parts.append(Pairs(tuple(pairs)))
    parts += d.texts(0, 1)
    return Made("register", writer.language, parts, ("", "", ""), ("", "", ""))


FAMILIES: dict[str, Callable[[Writer, random.Random], Made]] = {
    make.__name__: make
    for make in (
        letter,
        report,
        article,
        manual,
        form,
        invoice,
        minutes,
        contract,
        newsletter,
        book,
        catalogue,
        accounts,
        vitae,
        exam,
        typescript,
        play,
        law,
    )
}
"""Those that are drawn in turn."""

SMALL: dict[str, Callable[[Writer, random.Random], Made]] = {"register": register}
"""Those that are drawn for numbers from SMALL_FROM on."""

SMALL_FROM = 30_001


def family_of(seed: int) -> str:
    """The family of the document with a number."""
    names = list(SMALL if seed >= SMALL_FROM else FAMILIES)
    return names[seed % len(names)]
