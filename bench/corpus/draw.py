"""Parts of documents drawn at random: paragraphs, lists, tables, what runs at head and foot."""

from __future__ import annotations

import random
from collections.abc import Callable

from .parts import Code, Heading, Item, Pairs, Paragraph, Part, Picture, Space, Span
from .prose import Writer

WORDS = {
    "en": ("Page", "of", "Chapter", "Article", "Figure", "Table"),
    "de": ("Seite", "von", "Kapitel", "Artikel", "Abbildung", "Tabelle"),
    "fr": ("Page", "sur", "Chapitre", "Article", "Figure", "Tableau"),
    "es": ("Página", "de", "Capítulo", "Artículo", "Figura", "Tabla"),
    "it": ("Pagina", "di", "Capitolo", "Articolo", "Figura", "Tabella"),
    "pt": ("Página", "de", "Capítulo", "Artigo", "Figura", "Tabela"),
    "nl": ("Pagina", "van", "Hoofdstuk", "Artikel", "Figuur", "Tabel"),
    "sv": ("Sida", "av", "Kapitel", "Artikel", "Figur", "Tabell"),
    "da": ("Side", "af", "Kapitel", "Artikel", "Figur", "Tabel"),
    "cs": ("Strana", "z", "Kapitola", "Článek", "Obrázek", "Tabulka"),
    "ca": ("Pàgina", "de", "Capítol", "Article", "Figura", "Taula"),
    "ro": ("Pagina", "din", "Capitolul", "Articolul", "Figura", "Tabelul"),
    "ru": ("Страница", "из", "Глава", "Статья", "Рисунок", "Таблица"),
}
"""Page, of, chapter, article, figure, table."""

ROMAN = ("I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX", "X", "XI", "XII")


class Draw:
    """Parts drawn at random for one document."""

    def __init__(self, writer: Writer, rng: random.Random) -> None:
        self.writer, self.rng = writer, rng
        self.notes_every = rng.choice((0, 0, 0, 0.15, 0.4))
        self.emphasis = rng.choice((0, 0.1, 0.3))
        self.figures = self.tables = 0

    def chance(self, share: float) -> bool:
        return self.rng.random() < share

    def spans(self, text: str, notes: bool = False) -> tuple[Span, ...]:
        """The text with a phrase in bold or italics here and there, and a note called now and then."""
        note = self.writer.paragraph(1, 2) if notes and self.chance(self.notes_every) else ""
        words = text.split(" ")
        if len(words) > 8 and self.chance(self.emphasis):
            start = self.rng.randrange(1, len(words) - 5)
            end = start + self.rng.randint(1, 3)
            bold = self.chance(0.4)
            middle = Span(" ".join(words[start:end]), bold, not bold)
            return (Span(" ".join(words[:start]) + " "), middle, Span(" " + " ".join(words[end:]), note=note))
        return (Span(text, note=note),)

    def text(self, least: int = 1, most: int = 6, kind: str = "text", notes: bool = True) -> Paragraph:
        return Paragraph(self.spans(self.writer.paragraph(least, most), notes and kind == "text"), kind)

    def texts(self, least: int, most: int) -> list[Part]:
        return [self.text() for _ in range(self.rng.randint(least, most))]

    def items(self, least: int = 2, most: int = 7, ordered: bool | None = None, nested: bool = True) -> list[Part]:
        if ordered is None:
            ordered = self.chance(0.45)
        longest = self.rng.choice((40, 120, 300))
        out: list[Part] = []
        if self.chance(0.3):
            out.append(Paragraph((Span(self.writer.phrase(4, 16) + ":"),)))
        nest = nested and self.chance(0.3)
        inner_ordered = self.chance(0.5)
        for n in range(self.rng.randint(least, most)):
            out.append(Item(self.spans(self.writer.item(longest)), 0, n + 1 if ordered else 0))
            if nest and self.chance(0.5):
                out += [
                    Item(self.spans(self.writer.item(longest)), 1, k + 1 if inner_ordered else 0)
                    for k in range(self.rng.randint(2, 3))
                ]
        return out

    def picture(self) -> Picture:
        self.figures += 1
        word = WORDS[self.writer.language][4]
        caption = f"{word} {self.figures}{self.rng.choice(('. ', ': ', ' – '))}{self.writer.phrase(3, 12)}"
        return Picture(self.rng.randint(150, 360), self.rng.randint(80, 200), caption if self.chance(0.8) else "")

    def signature(self) -> list[Part]:
        """Room for a name to be written in, or the picture of it."""
        if self.chance(0.3):
            return [Picture(self.rng.randint(60, 160), self.rng.randint(20, 50))]
        return [Space(self.rng.uniform(1, 5))] if self.chance(0.5) else []

    def table_caption(self) -> str:
        if self.chance(0.5):
            return ""
        self.tables += 1
        return f"{WORDS[self.writer.language][5]} {self.tables}{self.rng.choice(('. ', ': ', ' – '))}{self.writer.phrase(3, 10)}"

    def quotation(self) -> Paragraph:
        return self.text(1, 4, "quotation")

    def verse(self, fewest: int = 3) -> Paragraph:
        lines = [
            " ".join(self.writer.word() for _ in range(self.rng.randint(3, 7))).capitalize()
            for _ in range(self.rng.randint(fewest, 8))
        ]
        lines = [line + self.rng.choice((",", "", ";", ".", "")) for line in lines]
        return Paragraph((Span("\n".join(lines)),), "verse")

    def code(self) -> Code:
        words = [self.writer.word() for _ in range(12)]
        lines = []
        for _ in range(self.rng.randint(2, 12)):
            depth = self.rng.choice((0, 0, 0, 2, 4, 8))
            lines.append(
                " " * depth
                + self.rng.choice(
                    (
                        "{0} = {1}({2})",
                        "if {0} == {1}:",
                        "for {0} in {1}:",
                        "# {0} {1} {2}",
                        "$ {0} --{1} /{2}",
                        "return {0}",
                        "{0}.{1}({2}, 12);",
                        '<{0} {1}="{2}">',
                    )
                ).format(*self.rng.sample(words, 3))
            )
        return Code(tuple(lines))

    def lines(self, *lines: str, align: str = "", larger: bool = False) -> Paragraph:
        """Lines that stay lines; ``larger`` ones, as around a title, may be set larger than the text, and bold."""
        size = self.rng.choice((1.0, 1.0, 1.0, 1.1, 1.2, 1.35)) if larger else 1.0
        bold = larger and self.chance(0.1)
        return Paragraph((Span("\n".join(line for line in lines if line), bold),), "lines", align, size)

    def short_lines(self, least: int, most: int) -> Paragraph:
        """Lines of all sorts as stand at the head of a page: names, places, dates, labels with and without a value."""
        w = self.writer
        kinds = (
            w.name, w.place, w.date, w.label, lambda: w.phrase(1, 4), lambda: f"{w.label()}: {self.rng.randint(10000, 999999)}",
            lambda: f"{w.place()} {self.rng.randint(1, 200)}", lambda: f"{w.word()}@{w.word()}.example",
        )  # fmt: skip
        count = self.rng.randint(least, most)
        text = "\n".join(self.rng.choice(kinds)() for _ in range(count))
        return Paragraph((Span(text, self.chance(0.15), self.chance(0.1)),), "lines")

    def stage(self, side: str) -> Paragraph:
        """What is seen on a stage."""
        return Paragraph(
            (Span(self.rng.choice(("({})", "{}", "[{}]")).format(self.writer.paragraph(1, 1)), italic=True),),
            "lines",
            side,
        )

    def sources(self, least: int, most: int) -> list[Part]:
        """What was read for a text, one paragraph each."""
        w = self.writer
        out: list[Part] = []
        for _ in range(self.rng.randint(least, most)):
            year = self.rng.choice((f" ({self.rng.randint(1950, 2025)})", f", {self.rng.randint(1950, 2025)}"))
            names = "; ".join(w.name() for _ in range(self.rng.randint(1, 3)))
            out.append(
                Paragraph(
                    (
                        Span(f"{names}{year}. {w.phrase(4, 12)}. "),
                        Span(w.phrase(2, 5), italic=True),
                        Span(f", {w.place()}, {self.rng.randint(1, 400)}–{self.rng.randint(401, 900)}."),
                    ),
                    "hanging",
                )
            )
        return out

    def index(self) -> list[Part]:
        """Words in order of the alphabet, with the pages where they stand."""
        words = sorted({self.writer.word() for _ in range(self.rng.randint(15, 60))}, key=str.casefold)
        out: list[Part] = []
        for word in words:
            pages = ", ".join(
                str(page) for page in sorted({self.rng.randint(1, 300) for _ in range(self.rng.randint(1, 9))})
            )
            out.append(Paragraph((Span(f"{word}, {pages}"),), "hanging"))
        return out

    def menu(self) -> Pairs:
        """Things with prices, dots between."""
        style = self.rng.choice(("comma", "point", "plain"))
        rows = tuple(((self.writer.phrase(1, 6), self.writer.amount(style)),) for _ in range(self.rng.randint(3, 12)))
        return Pairs(rows, leader=True)

    def address(self) -> tuple[str, ...]:
        w = self.writer
        return (
            w.name(),
            self.rng.choice((w.label(), "")),
            f"{w.place()} {self.rng.randint(1, 200)}",
            f"{self.rng.randint(10000, 99999)} {w.place()}",
        )

    def sections(self, count: int, body: Callable[[], list[Part]], depth: int = 1, deepest: int = 2) -> list[Part]:
        """Headings of several levels, each with what ``body`` makes."""
        out: list[Part] = []
        for _ in range(count):
            out.append(Heading(depth, self.writer.title()))
            out += body()
            if depth < deepest and self.chance(0.45):
                out += self.sections(self.rng.randint(1, 3), body, depth + 1, deepest)
        return out

    def running(self, title: str) -> tuple[tuple[str, str, str], tuple[str, str, str]]:
        """What runs at head and foot: nothing, numbers in many ways, titles, firms; ``{s}`` is the title of the section."""
        page, of, *_ = WORDS[self.writer.language]
        number = self.rng.choice(
            ("{n}", "{n}", "– {n} –", "- {n} -", f"{page} {{n}}", f"{page} {{n}} {of} {{N}}", "{n}/{N}", "[{n}]")
        )
        name = self.rng.choice(("{s}", title[:60], self.writer.label(), title.upper()[:50]))
        extra = self.rng.choice(
            (self.writer.date(), self.writer.place(), self.writer.label(), "© " + self.writer.place())
        )
        none = ("", "", "")
        details = tuple(
            "\n".join(
                self.rng.choice(
                    (self.writer.label(), self.writer.place(), str(self.rng.randint(10**5, 10**9)), self.writer.name())
                )
                for _ in range(self.rng.randint(2, 4))
            )
            for _ in range(3)
        )
        return self.rng.choice(
            (
                (none, none),
                (none, ("", number, "")),
                (none, ("", number, "")),
                ((name, "", number), none),
                (("", name, ""), ("", number, "")),
                ((name, "", extra), (extra, "", number)),
                ((name, "", ""), ("", "", number)),
                (none, (name, "", number)),
                ((number, "", name), none),
                (("", "", extra), ("", f"{name} · {number}", "")),
                ((f"{name}\n{extra}", "", ""), ("", number, "")),
                (("", "", f"{extra}\n{self.writer.date()}\n{number}"), none),
                (("", f"{extra}\n{name}", ""), ("", number, "")),
                ((name, "", ""), details),
            )
        )
