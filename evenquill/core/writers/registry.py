"""The formats that documents are written in: what each is called, its file ending, its media type, and what writes it."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from evenquill.core.model import Document
from evenquill.core.writers.docx import write_docx

GetPicture = Callable[[str], bytes]
"""Gives the bytes of a picture by its SHA-256; raises KeyError where there is none."""


class Writer(NamedTuple):
    """A format. ``name`` is what the command line and the API call it, ``title`` what the clerk sees."""

    name: str
    title: str
    ending: str
    media: str
    write: Callable[[Document, GetPicture], bytes]


_EVERY = (
    Writer(
        "docx",
        "DOCX",
        "docx",
        "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
        write_docx,
    ),
)

WRITERS = {writer.name: writer for writer in _EVERY}
