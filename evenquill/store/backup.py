"""Backups: one file (ZIP) with the database and every file that it refers to, each with its SHA-256; and what they are checked against.

A backup may be made while the server runs: the database is copied at one moment (SQLite's own backup), and the files that it names are
never changed after they were kept.
"""

from __future__ import annotations

import hashlib
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path, PurePosixPath
from typing import IO

import msgspec

from evenquill.store import references
from evenquill.store.database import DATABASE, now
from evenquill.store.files import Files

MANIFEST = "manifest.json"
FORMAT = 1
CHUNK = 1 << 20


class Manifest(msgspec.Struct, frozen=True):
    """What is in a backup: SHA-256 by name in it. ``missing`` are files that the database named and that were not there."""

    made_at: str
    files: dict[str, str]
    missing: tuple[str, ...] = ()
    format: int = FORMAT


class BackupUnusable(Exception):
    """The backup is damaged, is none, or cannot go where it is to be restored."""


def back_up(data: Path, target: Path) -> Manifest:
    """Writes a backup of a data folder, in the place of any there is at ``target``. Raises OSError, sqlite3.Error."""
    if not (data / DATABASE).is_file():
        raise BackupUnusable(f"{data} is no data folder.")
    part = target.with_name(f"{target.name}.part")
    try:
        with (
            tempfile.TemporaryDirectory(dir=target.parent) as folder,
            zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as backup,
        ):
            copy = Path(folder) / DATABASE
            with closing(sqlite3.connect(data / DATABASE)) as live, closing(sqlite3.connect(copy)) as taken:
                live.backup(taken)
                wanted = dict.fromkeys(_referred(taken, data))
            hashes = {DATABASE: _add(backup, DATABASE, copy)}
            missing = []
            for path in wanted:
                name = path.relative_to(data).as_posix()
                if path.is_file():
                    hashes[name] = _add(backup, name, path)
                else:
                    missing.append(name)
            manifest = Manifest(now(), hashes, tuple(missing))
            backup.writestr(MANIFEST, msgspec.json.encode(manifest))
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return manifest


def _referred(database: sqlite3.Connection, data: Path) -> Iterator[Path]:
    """All files that a database refers to; mended copies only where they are."""
    files = Files(data)
    for source in sorted(references.sources(database)):
        yield files.source(source)
        if files.copy_to_read(source).is_file():
            yield files.copy_to_read(source)
    # Any hash may be a picture's; those that are none have no file.
    yield from (path for name in sorted(references.pictures(database)) if (path := files.pictures.path(name)).is_file())
    for delivery, form in database.execute("SELECT id, format FROM deliveries ORDER BY id"):
        yield files.delivery(delivery, form)


def _add(backup: zipfile.ZipFile, name: str, path: Path) -> str:
    with path.open("rb") as file, backup.open(zipfile.ZipInfo.from_file(path, name), "w", force_zip64=True) as entry:
        return _copied(file, entry)


def _copied(source: IO[bytes], target: IO[bytes]) -> str:
    """Copies all bytes; returns their SHA-256."""
    digest = hashlib.sha256()
    while chunk := source.read(CHUNK):
        digest.update(chunk)
        target.write(chunk)
    return digest.hexdigest()


def restore(backup: Path, data: Path) -> Manifest:
    """Makes a data folder of a backup. Raises BackupUnusable where the folder is not empty, or a file is not what it was; OSError."""
    if data.exists() and any(data.iterdir()):
        raise BackupUnusable(f"{data} is not empty; restore into a new folder.")
    data.parent.mkdir(parents=True, exist_ok=True)
    made = Path(tempfile.mkdtemp(dir=data.parent, prefix=f"{data.name}."))
    try:
        manifest = _unpack(backup, made)
        if data.exists():
            data.rmdir()
        made.replace(data)
    except BaseException:
        shutil.rmtree(made, ignore_errors=True)
        raise
    return manifest


def _unpack(backup: Path, folder: Path) -> Manifest:
    try:
        with zipfile.ZipFile(backup) as opened:
            manifest = msgspec.json.decode(opened.read(MANIFEST), type=Manifest)
            if manifest.format > FORMAT:
                raise BackupUnusable("The backup was made by a newer version of Even Quill.")
            for name, sha256 in manifest.files.items():
                if _unpack_file(opened, name, folder) != sha256:
                    raise BackupUnusable(f"The backup is damaged: {name} is not what it was.")
    except (
        zipfile.BadZipFile,
        zlib.error,
        KeyError,
        msgspec.MsgspecError,
        EOFError,
        NotImplementedError,
        RuntimeError,
    ) as error:
        raise BackupUnusable(f"{backup} is no backup, or it is damaged.") from error
    return manifest


def _unpack_file(opened: zipfile.ZipFile, name: str, folder: Path) -> str:
    place = PurePosixPath(name)
    if place.is_absolute() or ".." in place.parts or "\\" in name:
        raise BackupUnusable(f"The backup is damaged: {name} is no place in a data folder.")
    target = folder / place
    target.parent.mkdir(parents=True, exist_ok=True)
    with opened.open(name) as entry, target.open("wb") as file:
        return _copied(entry, file)


def faults_of(data: Path) -> list[str]:
    """What is wrong with a data folder, in sentences: damage to the database, files that are missing or not what they were."""
    if not (data / DATABASE).is_file():
        return [f"{data} is no data folder."]
    files = Files(data)
    out = []
    try:
        with closing(sqlite3.connect(data / DATABASE)) as database:
            (said,) = database.execute("PRAGMA integrity_check(1)").fetchone()
            if said != "ok":
                out.append(f"The database is damaged: {said}.")
            out += [
                f"A row of {table} refers to nothing." for table, *_ in database.execute("PRAGMA foreign_key_check")
            ]
            for path in _referred(database, data):
                name = path.relative_to(data).as_posix()
                if not path.is_file():
                    out.append(f"{name} is missing.")
                elif path.parent.parent in (files.sources, files.pictures.folder) and _sha256(path) != path.name:
                    out.append(f"{name} is not what it was.")
            for picture in sorted(references.pictures_of_proofs(database)):
                if not files.pictures.has(picture):
                    out.append(f"The picture {picture} of a document is missing.")
    except sqlite3.DatabaseError as error:
        out.append(f"The database is damaged: {error}.")
    return out


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
