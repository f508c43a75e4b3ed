"""What a paragraph consists of, as typst's markup."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence

from evenquill.core.equations.speech import said
from evenquill.core.equations.typst import typst
from evenquill.core.font_names import family_called
from evenquill.core.model import (
    Align,
    BlockLink,
    Break,
    Equation,
    Family,
    Field,
    Inline,
    InlinePicture,
    Link,
    Marks,
    NoteRef,
    NumberFormat,
    PageLink,
    ResolvedStyle,
    Tab,
    TabStop,
    UrlLink,
)
from evenquill.core.model.inline import lettering_of
from evenquill.core.resolve import Resolved
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.typefaces import faces_for
from evenquill.core.writers.pdf.markup import applied, array, call, colour, points, shown, string
from evenquill.core.writers.pdf.pictures import Pictures

NUMBERS = {
    NumberFormat.DECIMAL: "1", NumberFormat.LOWER_LETTER: "a", NumberFormat.UPPER_LETTER: "A", NumberFormat.LOWER_ROMAN: "i",
    NumberFormat.UPPER_ROMAN: "I", NumberFormat.BULLET: "1",
}  # fmt: skip

TABBED = """#let tabbed(start-at, parts, stops) = context {
  let at = start-at
  let row = ()
  for (n, part) in parts.enumerate() {
    let wide = measure(part).width
    if n > 0 {
      let stop = stops.at(n - 1, default: none)
      let (place, side, leads) = if stop == none { (at + 1.5em.to-absolute(), left, false) } else { stop }
      let start = if side == right { place - wide } else if side == center { place - wide / 2 } else { place }
      let gap = calc.max(start - at - 0.1pt, 0.3em.to-absolute())
      row.push(if leads { box(width: gap, repeat[#h(2pt).]) } else { h(gap) })
      at += gap
    }
    row.push(part)
    at += wide
  }
  row.join()
}
"""
"""Sets the parts of a line at tab stops: each is a place, the side of the part that stands there, and whether dots lead to it."""


class Content:
    """Makes markup of content: notes where they are first called, pictures by their files."""

    def __init__(self, pictures: Pictures, resolved: Resolved) -> None:
        self._pictures = pictures
        self._resolved = resolved
        self._pages = resolved.block_of_page
        self._called: set[str] = set()

    def of(self, content: Sequence[Inline], style: ResolvedStyle, stops: Sequence[TabStop] = ()) -> str:
        """Content of a style, in which bold and slanted mean what differs from that; each line with tabs is set at its stops."""
        lines = [
            list(own)
            for is_break, own in itertools.groupby(content, lambda item: isinstance(item, Break))
            if not is_break
        ]
        breaks = [
            len(list(own))
            for is_break, own in itertools.groupby(content, lambda item: isinstance(item, Break))
            if is_break
        ]
        made = [self._line(line, style, stops) for line in lines]
        out = "#linebreak()" * breaks.pop(0) if content and isinstance(content[0], Break) else ""
        for line, count in itertools.zip_longest(made, breaks, fillvalue=0):
            out += (line if isinstance(line, str) else "") + "#linebreak()" * int(count)
        return out

    def _line(self, items: Sequence[Inline], style: ResolvedStyle, stops: Sequence[TabStop]) -> str:
        if not any(isinstance(item, Tab) for item in items):
            return self._run(items, style)
        parts: list[list[Inline]] = [[]]
        for item in items:
            if isinstance(item, Tab):
                parts.append([])
            else:
                parts[-1].append(item)
        own = [f"({points(stop.at)}, {SIDES[stop.align]}, {str(stop.leader).lower()})" for stop in stops]
        start = points(max(style.left + style.first, 0.0))
        return f"#tabbed({start}, {array([f'[{self._run(part, style)}]' for part in parts])}, {array(own)})"

    def _run(self, items: Iterable[Inline], style: ResolvedStyle) -> str:
        return "".join(
            self._linked(link, "".join(self._item(item, style) for item in own))
            for link, own in itertools.groupby(items, key=lambda item: item.link)
        )

    def _linked(self, link: Link | None, inner: str) -> str:
        match link:
            case UrlLink(url):
                return f"#link({string(url)})[{inner}]"
            case BlockLink(block):
                return f"#link(label({string(block)}))[{inner}]"
            case PageLink(page) if page in self._pages:
                return f"#link(label({string(self._pages[page])}))[{inner}]"
            case _:
                return inner

    def _item(self, item: Inline, style: ResolvedStyle) -> str:
        if isinstance(item, NoteRef):
            return self._note(item)
        if isinstance(item, Equation):
            return self._equation(item)
        if isinstance(item, InlinePicture):
            return f"#box({self._pictures.image(item.picture, item.width, item.alt)})"
        if isinstance(item, Field):
            return "#context counter(page).display()"
        return self._dressed(item, style)

    def _equation(self, item: Equation) -> str:
        alt = string(said(item.tree, self._resolved.document.language))
        number = f"(..n) => [{shown(item.number)}]" if item.number and item.display else None
        made = f"math.equation(block: {str(item.display).lower()}, alt: {alt}"
        made += f", numbering: {number}" if number else ""
        tail = shown(f" {item.number}") if item.number and not item.display else ""
        return f"#{made}, $ {typst(item.tree)} $.body){tail}"

    def faces(self, font: str, family: Family) -> str:
        """The typefaces in which text is set that has one of a name."""
        return array([string(face) for face in faces_for(font, family, self._resolved.document.stand_ins)])

    def _dressed(self, item: Inline, style: ResolvedStyle) -> str:
        lettering = lettering_of(item)
        bold, italic = Marks.BOLD in item.marks, Marks.ITALIC in item.marks
        look = {
            "weight": ('"regular"' if style.bold else '"bold"') if bold else None,
            "style": ('"normal"' if style.italic else '"italic"') if italic else None,
            "fill": colour(item.color) if item.color else None,
            "size": points(lettering.size) if lettering.size else None,
            "font": self.faces(lettering.font, family_called(lettering.font)) if lettering.font else None,
        }
        made = shown(item.text)
        if any(look.values()):
            made = call("text", made, **look)
        for mark, function in WRAPPED:
            if mark in item.marks:
                made = call(function, made)
        return call("highlight", made, fill=colour(lettering.ground)) if lettering.ground else made

    def _note(self, item: NoteRef) -> str:
        note = self._resolved.notes.get(item.note)
        if note is None:
            return call("super", shown(item.mark)) if item.mark else ""
        if note.kind is NoteKind.ENDNOTE:
            return f"#link(label({string(endnote_label(note))}))[{call('super', shown(str(note.number)))}]"
        if item.note in self._called:
            return f"#footnote(label({string(item.note)}))"
        self._called.add(item.note)
        style = self._resolved.style(note.block)
        return f"#{applied('footnote', self.of(note.block.content, style))}#label({string(item.note)})"


SIDES = {
    Align.LEFT: "left",
    Align.RIGHT: "right",
    Align.CENTER: "center",
    Align.JUSTIFY: "left",
    Align.DECIMAL: "right",
}

WRAPPED = (
    (Marks.SUPER, "super"), (Marks.SUB, "sub"), (Marks.SMALL_CAPITALS, "smallcaps"), (Marks.UNDERLINE, "underline"),
    (Marks.STRIKE, "strike"),
)  # fmt: skip


def endnote_label(note: Note) -> str:
    """The name of the place of a note at the end."""
    return f"endnote {note.number}"
