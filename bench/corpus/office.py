"""Letters, forms and other papers of an office. Every function makes one, drawn from wide ranges."""

from __future__ import annotations

import random

from .draw import ROMAN, WORDS, Draw
from .greetings import CLOSINGS, OPENINGS
from .parts import Heading, Item, Made, Pairs, Paragraph, Part, RunIn, Space, Span
from .prose import Writer
from .tables import account, goods, plain_table, text_table


def letter(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    right = d.chance(0.5)
    parts: list[Part] = []
    if d.chance(0.6):
        parts.append(d.lines(*d.address(), align="right" if right else rng.choice(("", "center"))))
    if d.chance(0.8):
        parts.append(d.lines(*d.address()))
    if d.chance(0.2):
        parts.append(Space(rng.uniform(1, 6)))
    parts.append(Paragraph((Span(f"{writer.place()}, {writer.date()}"),), "lines", rng.choice(("right", "right", ""))))
    if d.chance(0.15):
        parts.append(
            Pairs(
                (
                    tuple(
                        (writer.label(), rng.choice((writer.date(), str(rng.randint(100, 9999)))))
                        for _ in range(rng.choice((2, 3)))
                    ),
                )
            )
        )
    if d.chance(0.4):
        parts.append(
            Pairs(
                tuple(
                    ((writer.label() + ":", rng.choice((writer.date(), writer.name(), str(rng.randint(100, 99999))))),)
                    for _ in range(rng.randint(2, 4))
                )
            )
        )
    if d.chance(0.7):
        parts.append(Paragraph((Span(writer.phrase(3, 8), bold=True),), "lines"))
    if d.chance(0.85):
        parts.append(d.lines(rng.choice(OPENINGS[writer.language]).format(writer.name().split()[-1])))
    for _ in range(rng.randint(2, 6)):
        parts.append(d.text())
        if d.chance(0.2):
            parts += d.items(2, 5, nested=False)
        elif d.chance(0.1):
            parts.append(plain_table(d))
    side = rng.choice(("", "", "", "right", "center"))
    parts += [
        d.lines(rng.choice(CLOSINGS[writer.language]), align=side),
        *d.signature(),
        d.lines(writer.name(), rng.choice((writer.label(), "")), align=side),
    ]
    for _ in range(rng.choice((0, 0, 1, 2, 3))):
        parts.append(
            Paragraph((Span(rng.choice((writer.phrase(2, 5), f"{writer.label()}: {writer.phrase(1, 8)}"))),), "lines")
        )
    head, foot = d.running(writer.label()) if d.chance(0.6) else (("", "", ""), ("", "", ""))
    return Made("letter", writer.language, parts, head, foot)


def form(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    parts: list[Part] = [Heading(0, writer.title(50))]
    if d.chance(0.7):
        parts.append(d.text(1, 2, notes=False))
    for _ in range(rng.randint(2, 4)):
        parts.append(Heading(1, writer.title(40)))
        beside, line = rng.choice((1, 1, 2)), d.chance(0.5)
        rows = tuple(
            tuple(
                (
                    writer.label() + rng.choice((":", "")),
                    "" if line and d.chance(0.6) else rng.choice((writer.name(), writer.date(), writer.phrase(1, 3))),
                )
                for _ in range(beside)
            )
            for _ in range(rng.randint(2, 6))
        )
        parts.append(Pairs(rows, line, d.chance(0.3)))
        if d.chance(0.3):
            parts += [Item((Span(writer.item(60)),)) for _ in range(rng.randint(2, 4))]
        if d.chance(0.3):
            parts.append(d.text(1, 2, notes=False))
        if d.chance(0.2):
            parts.append(plain_table(d))
    head, foot = d.running(writer.label())
    return Made("form", writer.language, parts, head, foot)


def invoice(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    parts: list[Part] = [d.lines(*d.address(), align=rng.choice(("", "right")))]
    if d.chance(0.7):
        parts.append(d.lines(*d.address()))
    parts.append(Heading(0, f"{writer.label()} {rng.randint(100, 99999)}"))
    beside = rng.choice((1, 2, 2))
    parts.append(
        Pairs(
            tuple(
                tuple(
                    (
                        writer.label() + rng.choice((":", "", "")),
                        rng.choice((writer.date(), writer.name(), str(rng.randint(1000, 99999)), writer.phrase(1, 2))),
                    )
                    for _ in range(beside)
                )
                for _ in range(rng.randint(2, 5))
            )
        )
    )
    if d.chance(0.4):
        parts.append(Heading(1, writer.title(30)))
    parts.append(goods(d))
    if d.chance(0.5):
        parts.append(account(d, rows=rng.randint(2, 4), header=False))
    parts += d.texts(1, 2)
    if d.chance(0.5):
        parts.append(Pairs((tuple((writer.label(), "") for _ in range(rng.choice((2, 3)))),), line=True))
    head, foot = d.running(writer.label()) if d.chance(0.7) else (("", "", ""), ("", "", ""))
    return Made("invoice", writer.language, parts, head, foot)


def minutes(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    title = writer.title(60)
    parts: list[Part] = [Heading(0, title)]
    values = (writer.date(), writer.place(), ", ".join(writer.name() for _ in range(rng.randint(2, 8))), writer.name())
    parts.append(Pairs(tuple(((writer.label() + ":", value),) for value in values)))
    ways = rng.randrange(3)
    for n in range(rng.randint(3, 7)):
        if ways == 0:
            parts.append(Heading(1, writer.title(50)))
            parts += d.texts(1, 2)
        elif ways == 1:
            parts.append(Item(d.spans(writer.paragraph(1, 3)), 0, n + 1))
        else:
            parts += [RunIn(writer.title(30) + ".", d.text(1, 4))]
        if d.chance(0.25):
            parts += d.items(2, 4, ordered=False, nested=False)
    if d.chance(0.4):
        parts.append(text_table(d))
    parts.append(d.lines(writer.name(), writer.label(), align=rng.choice(("", "right"))))
    head, foot = d.running(title)
    if d.chance(0.3):
        times = [
            f"{hour}{rng.choice((':', '.'))}{rng.choice(('00', '15', '30'))}" for hour in range(9, rng.randint(11, 17))
        ]
        parts.append(Pairs(tuple(((time, writer.phrase(3, 20)),) for time in times)))
    return Made("minutes", writer.language, parts, head, foot)


def contract(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    article_word, chapter_word = WORDS[writer.language][3], WORDS[writer.language][2]
    title = writer.title(60)
    parts: list[Part] = [Heading(0, title)]
    if d.chance(0.6):
        parts.append(d.lines(writer.name(), writer.place(), writer.phrase(1, 2), align="center"))
    parts += d.texts(1, 2)
    sign = rng.choice((article_word + " {}", "§ {}", "{}.", article_word + " {}.", "Art. {}"))
    own_line, chapters = d.chance(0.5), d.chance(0.4)
    style = rng.randrange(4)
    for n in range(rng.randint(3, 8)):
        if chapters and n % 3 == 0:
            label = f"{chapter_word} {ROMAN[n // 3]}"
            parts.append(Heading(1, writer.title(50), label=label.upper() if d.chance(0.5) else label))
        number = sign.format(n + 1)
        if own_line and not sign.startswith("{"):
            parts.append(Heading(2 if chapters else 1, writer.title(40), label=number))
        else:
            parts.append(Heading(2 if chapters else 1, writer.title(40), number=number))
        for k in range(rng.randint(1, 4)):
            text = writer.paragraph(1, 3)
            match style:
                case 0:
                    parts.append(Item(d.spans(text), 0, k + 1))
                case 1 | 2:
                    parts.append(Paragraph(d.spans(f"({k + 1}) {text}")))
                case _:
                    parts.append(Paragraph(d.spans(text)))
            if d.chance(0.2) and style:
                parts += d.items(2, 4, ordered=True, nested=False)
    parts.append(Pairs((tuple((writer.label(), "") for _ in range(2)),), line=True))
    head, foot = d.running(title)
    return Made("contract", writer.language, parts, head, foot)


def law(writer: Writer, rng: random.Random) -> Made:
    d = Draw(writer, rng)
    chapter, article_word = WORDS[writer.language][2], WORDS[writer.language][3]
    title = writer.title(60)
    parts: list[Part] = [Heading(0, title), *([d.text(1, 2, notes=False)] if d.chance(0.6) else [])]
    sign = rng.choice((f"{article_word} {{}}. ", "Art. {}º ", "Art. {} ", "§ {} ", "{}. "))
    inner = rng.choice(("§ {}º ", "({}) ", "{}. ", "{}) "))
    bold, label_own = d.chance(0.4), d.chance(0.6)
    number = 0
    for n in range(rng.randint(1, 4)):
        label = f"{chapter} {ROMAN[n]}"
        label = label.upper() if d.chance(0.5) else label
        parts.append(
            Heading(1, writer.title(50), label=label) if label_own else Heading(1, writer.title(50), number=label)
        )
        for _ in range(rng.randint(2, 5)):
            number += 1
            parts.append(Paragraph((Span(sign.format(number), bold), Span(writer.paragraph(1, 3)))))
            if d.chance(0.4):
                parts += [
                    Paragraph((Span(inner.format(k + 1) + writer.paragraph(1, 2)),)) for k in range(rng.randint(1, 3))
                ]
            if d.chance(0.3):
                dash = rng.choice((" — ", " – ", ". "))
                parts += [Paragraph((Span(f"{ROMAN[k]}{dash}{writer.sentence()}"),)) for k in range(rng.randint(2, 4))]
            elif d.chance(0.25):
                parts += d.items(2, 4, ordered=True, nested=False)
    head, foot = d.running(title)
    return Made("law", writer.language, parts, head, foot)
