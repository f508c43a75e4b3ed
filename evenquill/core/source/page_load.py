"""What a page of a PDF comes to when it is drawn, counted beforehand: a few hundred bytes may unpack to gigabytes, or draw one another
without an end.

Only the sizes of streams are looked at as long as even the most that they could unpack to is harmless, so that usual pages cost nothing.
"""

from __future__ import annotations

import re
import zlib
from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

import pikepdf

from evenquill.core.errors import TooLarge
from evenquill.core.source.images import MOST_UNPACKED

MOST_CONTENT = 150_000_000
"""Bytes of drawing instructions, with those of all forms as often as they are drawn. Each path takes some ten bytes there and up to 500 in
memory; maps with every house on them have a tenth of this."""

FORM = 200
"""Bytes that the drawing of a form counts for, besides what is in it: in memory it takes as much as that many bytes of paths."""

EXPANSION = 1032
"""The most that deflated data grow by (zlib.net/zlib_tech.html)."""

LEVELS = 30
"""Forms within forms that are counted; what draws itself comes to more than any page by then, or to next to nothing."""

MOST_FILTERS = 8
"""Times that content may be packed over; nobody packs it more than twice."""

_DRAWN = re.compile(rb"/([^\s/\[\]()<>{}%]+)\s+Do\b")
_DEFLATED = ("/FlateDecode", "/Fl")
_SHRINKING = ("/ASCIIHexDecode", "/AHx", "/ASCII85Decode", "/A85")


class PageLoad(NamedTuple):
    """Bytes of drawing instructions, and the size in pixels of a picture that is too large to be unpacked, if there is one."""

    content: int
    huge_picture: tuple[int, int] | None = None


def check_page(source: str, password: str | None, number: int) -> PageLoad:
    """What page ``number`` (from 1) comes to. Raises TooLarge where it is more than can be drawn; what cannot be looked at is left to
    those who read it."""
    try:
        page = _opened(source, password).pages[number - 1].obj
        resources = _inherited(page, "/Resources")
        load = PageLoad(_content_of(page, resources), _huge_picture(resources))
    except (
        pikepdf.PdfError,
        RuntimeError,
        ValueError,
        TypeError,
        KeyError,
        IndexError,
        AttributeError,
        RecursionError,
    ):
        return PageLoad(0)
    if load.content > MOST_CONTENT:
        raise TooLarge(
            "Page {page} unpacks to more than can be drawn, so it was left out. The other pages are not affected; "
            "ask for it to be sent in another way."
        )
    return load


@lru_cache(maxsize=2)
def _opened(source: str, password: str | None) -> pikepdf.Pdf:
    return pikepdf.open(source, password=password or "")


def _inherited(page: pikepdf.Object, key: str) -> pikepdf.Object | None:
    """A page's attribute, or that of what it stands under (ISO 32000-1, 7.7.3.4)."""
    at = page
    for _ in range(LEVELS):
        if key in at:
            return at[key]
        if "/Parent" not in at:
            return None
        at = at["/Parent"]
    return None


def _content_of(page: pikepdf.Object, resources: pikepdf.Object | None) -> int:
    contents = page.get("/Contents")
    streams = list(contents) if isinstance(contents, pikepdf.Array) else [contents]
    own = [stream for stream in streams if isinstance(stream, pikepdf.Stream)]
    if any(len(_filters(stream)) > MOST_FILTERS for stream in own):
        return MOST_CONTENT + 1
    forms = dict(_forms(resources))
    if not forms and sum(_most_bytes(stream) for stream in own) <= MOST_CONTENT:
        return 0
    counter = _Counter()
    return sum(counter.content(stream, forms, LEVELS) for stream in own)


class _Counter:
    """Counts the forms of a page, each once for every level that it stands at."""

    def __init__(self) -> None:
        self._known: dict[tuple[tuple[int, int], int], int] = {}

    def content(self, stream: pikepdf.Stream, forms: dict[bytes, pikepdf.Stream], levels: int) -> int:
        """Bytes of a stream and of all that it draws; more than MOST_CONTENT is not counted further."""
        data = unpacked(stream, MOST_CONTENT)
        total = len(data)
        if not forms or not levels:
            return total
        drawn: dict[bytes, int] = {}
        for match in _DRAWN.finditer(data):
            drawn[match[1]] = drawn.get(match[1], 0) + 1
        for name, times in drawn.items():
            if name in forms and total <= MOST_CONTENT:
                total += times * (FORM + self._form(forms[name], levels - 1))
        return total

    def _form(self, form: pikepdf.Stream, levels: int) -> int:
        key = (form.objgen, levels)
        if key not in self._known:
            self._known[key] = self.content(form, dict(_forms(form.get("/Resources"))), levels)
        return self._known[key]


def _forms(resources: pikepdf.Object | None) -> Iterator[tuple[bytes, pikepdf.Stream]]:
    """The forms among resources, by the names that content calls them by."""
    for name, one in _x_objects(resources):
        if one.get("/Subtype") == "/Form":
            yield name, one


def _huge_picture(resources: pikepdf.Object | None) -> tuple[int, int] | None:
    for _, one in _x_objects(resources):
        if one.get("/Subtype") == "/Image":
            width, height = int(one.get("/Width", 0)), int(one.get("/Height", 0))
            # Colours are three or four, greys one; a bit for a bit.
            depth = 1 if one.get("/ColorSpace") in ("/DeviceGray", "/G") or "/ImageMask" in one else 3
            if width * height * depth * int(one.get("/BitsPerComponent", 1)) // 8 > MOST_UNPACKED:
                return width, height
    return None


def _x_objects(resources: pikepdf.Object | None) -> Iterator[tuple[bytes, pikepdf.Stream]]:
    found = resources.get("/XObject") if isinstance(resources, pikepdf.Dictionary) else None
    if isinstance(found, pikepdf.Dictionary):
        for name in found.keys():  # noqa: SIM118 - going through it itself would copy every object
            one = found[name]
            if isinstance(one, pikepdf.Stream):
                yield name[1:].encode(), one


def _filters(stream: pikepdf.Stream) -> list[str]:
    named = stream.get("/Filter", stream.get("/F"))
    if isinstance(named, pikepdf.Array):
        return [str(one) for one in named]
    return [str(named)] if isinstance(named, pikepdf.Name) else []


def _most_bytes(stream: pikepdf.Stream) -> int:
    """The most that a stream can unpack to, from its length."""
    most = int(stream.get("/Length", 0))
    for name in _filters(stream):
        if name not in _SHRINKING:
            most *= EXPANSION
    return most


def unpacked(stream: pikepdf.Stream, most: int) -> bytes:
    """The bytes of a stream, no more than ``most`` + 1 of them; of one that is packed in an unusual way the packed ones, if they could come
    to more."""
    if _most_bytes(stream) <= most:
        return bytes(stream.read_bytes())
    data = bytes(stream.read_raw_bytes())
    for name in _filters(stream):
        if name not in _DEFLATED:
            return data
        data = zlib.decompressobj().decompress(data, most + 1)
    return data
