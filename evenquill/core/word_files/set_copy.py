"""The pages of a word-processor file, set as a PDF that is looked at in its place."""

from __future__ import annotations

import io
import os
import tempfile
from pathlib import Path

import msgspec
import pikepdf

from evenquill.core.errors import DamagedSource
from evenquill.core.model import Document
from evenquill.core.outcome.setting import Outcome, SetPages, set_pages
from evenquill.core.pictures import PictureFolder
from evenquill.core.source import WORD_FILES, SourceFacts, examine, media_of
from evenquill.core.word_files.opening import read_word_file
from evenquill.core.writers.problem import NotWritten

PLACES = "places.json"
"""The attachment of a PDF that was set that says where on it each row stands."""


def examine_file(path: Path, *, password: str | None = None, copy: Path, pictures: Path) -> SourceFacts:
    """Facts about the file at ``path``, of whatever kind.

    ``copy`` is where a mended copy of a damaged PDF is written, or the pages of a word-processor file, whose pictures are kept in the
    folder ``pictures``. Raises the errors of ``examine``.
    """
    media = media_of(path)
    if media not in WORD_FILES:
        return examine(path, password=password, repair_into=copy)
    kept = PictureFolder(pictures)
    document = read_word_file(path, kept)
    outcome = places_in(copy) if copy.is_file() else _set(document, kept, copy)
    return SourceFacts(len(outcome.pages), document.title, document.language, read_instead=str(copy), media=media)


def _set(document: Document, pictures: PictureFolder, copy: Path) -> Outcome:
    """Sets a document's pages into a file. What was read of them is of these pages, so that they are set once and for all."""
    try:
        made = set_pages(document, pictures.get)
    except NotWritten:
        raise DamagedSource("The pages of this file cannot be set, so it cannot be shown.") from None
    _write(made, copy)
    return made.outcome


def places_in(copy: Path) -> Outcome:
    """Where rows stand on pages that were set. Raises DamagedSource where that is not said."""
    try:
        with pikepdf.open(copy) as pdf:
            return msgspec.json.decode(pdf.attachments[PLACES].get_file().read_bytes(), type=Outcome)
    except (KeyError, OSError, pikepdf.PdfError, msgspec.DecodeError):
        raise DamagedSource("The pages that were set of this file are gone. Take the file in once more.") from None


def _write(made: SetPages, copy: Path) -> None:
    """Writes pages with the places of their rows; whoever reads the file meanwhile has the old one or the new one."""
    copy.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=copy.parent)
    part = Path(name)
    try:
        with os.fdopen(handle, "wb") as file, pikepdf.open(io.BytesIO(made.pdf)) as pdf:
            pdf.attachments[PLACES] = pikepdf.AttachedFileSpec(pdf, msgspec.json.encode(made.outcome), filename=PLACES)
            pdf.save(file)
        part.replace(copy)
    except BaseException:
        part.unlink(missing_ok=True)
        raise
