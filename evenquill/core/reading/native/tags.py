"""The tag tree of a page, where its file has one: which element each piece of marked content belongs to.

ISO 32000-1, 14.7 and 14.8: elements such as H1, P or Figure hold marked contents by number; the letters and pictures of a page carry these
numbers.
"""

from __future__ import annotations

import ctypes
from collections.abc import Callable, Iterator
from typing import NamedTuple

import pypdfium2.raw as pdfium_c

from evenquill.core.evidence import PlacedPicture, Tag
from evenquill.core.model import Box, union
from evenquill.core.reading.native.frame import Frame

BLOCKS = frozenset(
    {
        *("H", "H1", "H2", "H3", "H4", "H5", "H6", "Title", "P", "LI", "Lbl", "LBody", "Note", "FENote", "Caption", "Figure"),
        *("Formula", "TD", "TH", "TOCI", "BlockQuote", "Code", "Aside", "Artifact"),
    }
)  # fmt: skip
"""Elements that are a paragraph, a heading, an item or a picture; others are parts of these or hold them."""

DEEPEST = 60
"""Elements within one another; a tree that is deeper goes in circles."""

COVERED = 0.5
"""Share of a picture's area that lies within a figure's for its description to be the picture's."""


class TagTree(NamedTuple):
    """The tags of a page in their order, and by number of marked content the place of the tag that it belongs to."""

    tags: tuple[Tag, ...]
    of_content: dict[int, int]


def tag_tree_of(page: pdfium_c.FPDF_PAGE) -> TagTree:
    """The page's tags; none where its file has no tag tree."""
    tree = pdfium_c.FPDF_StructTree_GetForPage(page)
    tags: list[Tag] = []
    of_content: dict[int, int] = {}
    if not tree:
        return TagTree((), {})
    try:
        for n in range(pdfium_c.FPDF_StructTree_CountChildren(tree)):
            element = pdfium_c.FPDF_StructTree_GetChildAtIndex(tree, n)
            if element:
                _walk(element, _Around(), tags, of_content)
    finally:
        pdfium_c.FPDF_StructTree_Close(tree)
    return TagTree(tuple(tags), of_content)


class _Around(NamedTuple):
    """What an element is in: the place of the tag around it, -1 for none, how many lists, how many elements, and which language."""

    block: int = -1
    lists: int = 0
    depth: int = 0
    language: str = ""


def _walk(element: pdfium_c.FPDF_STRUCTELEMENT, around: _Around, tags: list[Tag], of_content: dict[int, int]) -> None:
    """Takes an element with all within it."""
    kind = _text(pdfium_c.FPDF_StructElement_GetType, element)
    block, lists = around.block, around.lists + (kind == "L")
    language = _text(pdfium_c.FPDF_StructElement_GetLang, element).split("-")[0].lower() or around.language
    if kind in BLOCKS:
        alt = _text(pdfium_c.FPDF_StructElement_GetAltText, element) if kind == "Figure" else ""
        tags.append(Tag(kind, alt, lists - 1, language))
        block = len(tags) - 1
    within = _Around(block, lists, around.depth + 1, language)
    for n in range(pdfium_c.FPDF_StructElement_CountChildren(element)):
        content = int(pdfium_c.FPDF_StructElement_GetChildMarkedContentID(element, n))
        if content >= 0 and block >= 0:
            of_content[content] = block
        child = pdfium_c.FPDF_StructElement_GetChildAtIndex(element, n)
        if child and around.depth < DEEPEST:
            _walk(child, within, tags, of_content)


def _text(asked: Callable[..., int], element: pdfium_c.FPDF_STRUCTELEMENT) -> str:
    length = int(asked(element, None, 0))
    if length < 2:
        return ""
    buffer = ctypes.create_string_buffer(length)
    asked(element, buffer, length)
    return buffer.raw.decode("utf-16-le", "replace").rstrip("\0")


def with_descriptions(
    page: pdfium_c.FPDF_PAGE, frame: Frame, tree: TagTree, pictures: list[PlacedPicture]
) -> list[PlacedPicture]:
    """The pictures with the alternative texts of the figures that they are."""
    if not pictures or not any(tag.alt for tag in tree.tags):
        return pictures
    figures = [(box, tree.tags[n].alt) for n, box in _figure_boxes(page, frame, tree) if tree.tags[n].alt]
    return [picture._replace(alt=_description(picture.box, figures)) for picture in pictures] if figures else pictures


def _description(box: Box, figures: list[tuple[Box, str]]) -> str:
    area = max(box.width * box.height, 1.0)
    shared = [
        (max(figure.overlap_x(box), 0.0) * max(figure.overlap_y(box), 0.0) / area, alt) for figure, alt in figures
    ]
    best = max(shared)
    return best[1] if best[0] > COVERED else ""


def _figure_boxes(page: pdfium_c.FPDF_PAGE, frame: Frame, tree: TagTree) -> Iterator[tuple[int, Box]]:
    """For each figure the area of all that is drawn for it."""
    bounds = [ctypes.c_float() for _ in range(4)]
    found: dict[int, list[Box]] = {}
    for n in range(pdfium_c.FPDFPage_CountObjects(page)):
        handle = pdfium_c.FPDFPage_GetObject(page, n)
        tag = tree.of_content.get(int(pdfium_c.FPDFPageObj_GetMarkedContentID(handle)), -1)
        if tag >= 0 and tree.tags[tag].kind == "Figure":
            pdfium_c.FPDFPageObj_GetBounds(handle, *(ctypes.byref(value) for value in bounds))
            found.setdefault(tag, []).append(frame.box(*(value.value for value in bounds)))
    return ((tag, union(boxes)) for tag, boxes in found.items())
