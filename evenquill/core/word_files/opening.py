"""A word-processor file -> a document."""

from __future__ import annotations

from pathlib import Path

from evenquill.core.docx_reading import read_docx
from evenquill.core.model import Document
from evenquill.core.odt_reading import read_odt
from evenquill.core.pictures import PictureFolder
from evenquill.core.source import ODT, media_of


def read_word_file(path: Path, pictures: PictureFolder) -> Document:
    """The document that the file at ``path`` holds; its pictures are kept in a folder. Raises SourceError for what is none."""
    read = read_odt if media_of(path) == ODT else read_docx
    return read(path.read_bytes(), pictures)
