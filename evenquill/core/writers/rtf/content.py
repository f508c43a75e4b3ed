"""What a paragraph consists of, in RTF."""

from __future__ import annotations

import io
import itertools
from collections.abc import Iterable

from PIL import Image

from evenquill.core.equations.picture import PIXELS_PER_INCH, png
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.font_names import family_called
from evenquill.core.model import (
    BlockLink,
    Break,
    Equation,
    Field,
    Inline,
    InlinePicture,
    Link,
    Marks,
    NoteRef,
    PageLink,
    ResolvedStyle,
    Tab,
    UrlLink,
)
from evenquill.core.model.equation import text_of
from evenquill.core.model.inline import lettering_of
from evenquill.core.resolve import Resolved
from evenquill.core.resolve.notes import NoteKind
from evenquill.core.writers.picture import GetPicture
from evenquill.core.writers.rtf.codes import field, group, shown, twips
from evenquill.core.writers.rtf.tables_of_file import FileTables

BLIPS = {"image/png": "\\pngblip", "image/jpeg": "\\jpegblip"}
"""Pictures that are written as they are; others are made PNG."""


class Content:
    """Makes content; notes are written where they are first called."""

    def __init__(self, tables: FileTables, resolved: Resolved, picture: GetPicture) -> None:
        self._tables = tables
        self._resolved = resolved
        self._picture = picture
        self._pages = resolved.block_of_page
        self._called: set[str] = set()

    def of(self, content: Iterable[Inline], style: ResolvedStyle) -> str:
        """Content of a style, in which bold and slanted mean what differs from that."""
        out = ""
        for link, items in itertools.groupby(content, key=lambda item: item.link):
            inner = "".join(self._item(item, style) for item in items)
            instruction = self._instruction(link)
            out += field(instruction, inner) if instruction else inner
        return out

    def picture(self, name: str, media: str, width: float, height: float) -> str:
        """A picture; sizes in points. Raises KeyError where there is none of that name."""
        return _drawn(self._picture(name), media, width, height)

    def _instruction(self, link: Link | None) -> str:
        match link:
            case UrlLink(url):
                return f'HYPERLINK "{shown(url.replace(chr(34), "%22"))}"'
            case PageLink(page) if page in self._pages:
                return f'HYPERLINK \\\\l "{bookmark(self._pages[page])}"'
            case BlockLink(block):
                return f'HYPERLINK \\\\l "{bookmark(block)}"'
            case _:
                return ""

    def _item(self, item: Inline, style: ResolvedStyle) -> str:
        if isinstance(item, NoteRef):
            return self._note(item)
        if isinstance(item, Equation):
            return _equation(item) + (shown(f" {item.number}") if item.number else "")
        if isinstance(item, InlinePicture):
            return self.picture(item.picture, item.media, item.width, item.height)
        if isinstance(item, Field):
            return field("PAGE", "1")
        if isinstance(item, Break):
            return "\\line "
        if isinstance(item, Tab):
            return "\\tab "
        return self._dressed(item, style)

    def _dressed(self, item: Inline, style: ResolvedStyle) -> str:
        lettering = lettering_of(item)
        codes = ""
        if Marks.BOLD in item.marks:
            codes += "\\b0" if style.bold else "\\b"
        if Marks.ITALIC in item.marks:
            codes += "\\i0" if style.italic else "\\i"
        for mark, code in (
            (Marks.UNDERLINE, "\\ul"), (Marks.STRIKE, "\\strike"), (Marks.SMALL_CAPITALS, "\\scaps"), (Marks.SUPER, "\\super"),
            (Marks.SUB, "\\sub"),
        ):  # fmt: skip
            codes += code if mark in item.marks else ""
        if item.color and item.link is None:
            codes += f"\\cf{self._tables.color(item.color)}"
        if lettering.size:
            codes += f"\\fs{round(lettering.size * 2)}"
        if lettering.font:
            codes += f"\\f{self._tables.font(lettering.font, family_called(lettering.font))}"
        if lettering.ground:
            codes += f"\\chcbpat{self._tables.color(lettering.ground)}"
        return group(f"{codes} {shown(item.text)}") if codes else shown(item.text)

    def _note(self, item: NoteRef) -> str:
        note = self._resolved.notes.get(item.note)
        if note is None or item.note in self._called:
            mark = item.mark or (str(note.number) if note is not None else "")
            return group(f"\\super {shown(mark)}") if mark else ""
        self._called.add(item.note)
        style = self._resolved.style(note.block)
        sort = "\\ftnalt" if note.kind is NoteKind.ENDNOTE else ""
        inner = f"\\pard\\plain{self._tables.look(style)} {{\\super\\chftn}} {self.of(note.block.content, style)}"
        return f"{{\\super\\chftn{{\\footnote{sort} {inner}}}}}"


def bookmark(block: str) -> str:
    """The name of the place of a block that links lead to."""
    return f"block_{block}"


def _equation(item: Equation) -> str:
    """An equation as a picture: RTF has none that every reader knows. One that cannot be drawn is its characters."""
    try:
        data = png(item.tree, display=item.display)
    except EquationProblem:
        return shown(text_of(item.tree))
    with Image.open(io.BytesIO(data)) as image:
        width, height = (side * 72 / PIXELS_PER_INCH for side in image.size)
    return _drawn(data, "image/png", width, height)


def _drawn(data: bytes, media: str, width: float, height: float) -> str:
    with Image.open(io.BytesIO(data)) as image:
        pixels = image.size
        if media not in BLIPS:
            out = io.BytesIO()
            image.convert("RGBA").save(out, "PNG")
            data, media = out.getvalue(), "image/png"
    sizes = f"\\picw{pixels[0]}\\pich{pixels[1]}\\picwgoal{twips(width)}\\pichgoal{twips(height)}"
    return f"{{\\pict{BLIPS[media]}{sizes}\n{data.hex()}}}"
