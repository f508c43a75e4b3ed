"""What nobody can get back any more: documents deleted long enough ago, and files that nothing refers to."""

from __future__ import annotations

import contextlib
import sqlite3
from collections.abc import Collection, Iterator
from datetime import datetime, timedelta
from pathlib import Path
from typing import NamedTuple

from evenquill.store import accounts, documents, references
from evenquill.store.database import transaction
from evenquill.store.files import Files

KEPT_AFTER_DELETING = timedelta(days=1)
"""How long a deleted document can be brought back."""

YOUNG = timedelta(hours=6)
"""Files younger than this may belong to something that is not yet in the database."""


class Leftover(NamedTuple):
    """A file that nothing refers to, and its size in bytes."""

    path: Path
    size: int


def forget_deleted(
    connection: sqlite3.Connection, moment: datetime, kept: timedelta = KEPT_AFTER_DELETING
) -> list[str]:
    """Forgets documents that were deleted longer than ``kept`` before a moment, and sessions that have ended; returns the documents."""
    with transaction(connection):
        accounts.forget_ended(connection, moment=moment)
        return documents.purge(connection, (moment - kept).isoformat(timespec="milliseconds"))


def leftovers(
    connection: sqlite3.Connection, files: Files, before: datetime, *, with_pictures: bool = True
) -> Iterator[Leftover]:
    """Files that nothing refers to and that are older than a moment. Finding all pictures that are in use takes long."""
    sources = references.sources(connection)
    pictures = references.pictures(connection) if with_pictures else None
    folders: tuple[tuple[Path, Collection[str] | None], ...] = (
        (files.sources, sources),
        (files.copies, sources),
        (files.pictures.folder, pictures),
        (files.delivered, references.deliveries(connection)),
        (files.incoming, ()),
    )
    for folder, used in folders:
        if used is None or not folder.is_dir():
            continue
        for path in folder.rglob("*"):
            with contextlib.suppress(FileNotFoundError):
                told = path.stat()
                if path.is_file() and path.stem not in used and told.st_mtime < before.timestamp():
                    yield Leftover(path, told.st_size)


def remove(found: Iterator[Leftover]) -> tuple[int, int]:
    """Takes files off the disk; returns how many, and their bytes."""
    count = size = 0
    for one in found:
        one.path.unlink(missing_ok=True)
        count += 1
        size += one.size
    return count, size


def remove_unfinished(files: Files) -> int:
    """At the start of a server, when nothing is under way: removes files that were being written when the last one ended."""
    count = 0
    for folder in (files.incoming, files.pictures.folder, files.copies):
        for path in folder.rglob("tmp*"):
            if path.is_file():
                path.unlink(missing_ok=True)
                count += 1
    return count
