"""Everything that is kept, in open formats: for each document a folder with its files as they came, the document as DOCX and as JSON, what
was done to it, and the certificates and files that were delivered; and the office's word list."""

from __future__ import annotations

import re
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import msgspec

from evenquill.core.model import Document
from evenquill.core.pictures import pictures_named
from evenquill.core.queries.office import written_list
from evenquill.core.writers.registry import WRITERS
from evenquill.store import deliveries, documents, history, office, parts, proofs
from evenquill.store.database import connect, reading
from evenquill.store.documents import DocumentRow
from evenquill.store.files import Files
from evenquill.store.proofs import NoProof

LONGEST_NAME = 80


def export(data: Path, target: Path) -> Iterator[str]:
    """Writes everything of a data folder into another, and gives the names of the documents as they are done; the server may run
    meanwhile. Raises OSError, sqlite3.Error."""
    target.mkdir(parents=True, exist_ok=True)
    files = Files(data)
    with closing(connect(data)) as store:
        words = written_list(office.every(store))
        (target / "words.txt").write_text(words, encoding="utf-8")
        for row in documents.every(store):
            _export_document(store, files, row, target / _folder_name(row))
            yield row.name


def _export_document(store: sqlite3.Connection, files: Files, row: DocumentRow, folder: Path) -> None:
    folder.mkdir(exist_ok=True)
    (folder / "about.json").write_bytes(msgspec.json.format(msgspec.json.encode(row)))
    for number, part in enumerate(parts.every(store, row.id), 1):
        shutil.copyfile(files.source(part.source), folder / f"source {number}, {_safe(part.name)}")
    for made in deliveries.every(store, row.id):
        path = files.delivery(made.id, made.format)
        if path.is_file():
            shutil.copyfile(path, folder / f"delivered {made.made_at[:10]} {made.id[:6]}, {_safe(made.file_name)}")
    with reading(store):
        proof = _proof(store, row.id)
        done = history.listed(store, row.id)
    (folder / "history.json").write_bytes(msgspec.json.format(msgspec.json.encode(done)))
    if proof is None:
        return
    encoded = msgspec.json.encode(proof)
    (folder / "document.json").write_bytes(msgspec.json.format(encoded))
    for writer in WRITERS.values():
        (folder / f"document.{writer.ending}").write_bytes(writer.write(proof, files.pictures.get, ()))
    for picture in sorted(set(pictures_named(encoded))):
        if files.pictures.has(picture):
            data = files.pictures.get(picture)
            (folder / "pictures").mkdir(exist_ok=True)
            ending = "png" if data.startswith(b"\x89PNG") else "svg" if data.startswith(b"<svg") else "jpg"
            (folder / "pictures" / f"{picture}.{ending}").write_bytes(data)


def _proof(store: sqlite3.Connection, document: str) -> Document | None:
    try:
        return proofs.read(store, document)
    except NoProof:
        return None


def _folder_name(row: DocumentRow) -> str:
    return f"{_safe(row.name)[:LONGEST_NAME]} {row.id[:8]}"


def _safe(name: str) -> str:
    """A name that is one in every file system."""
    return re.sub(r'[\x00-\x1f/\\:*?"<>|]', "_", name).strip(". ")[-LONGEST_NAME:] or "unnamed"
