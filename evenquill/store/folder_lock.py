"""One server for each data folder: a second one would not know what the first has open."""

from __future__ import annotations

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

LOCK = "server.lock"


class FolderInUse(Exception):
    """Another server works on the data folder."""


@contextmanager
def folder_locked(folder: Path) -> Iterator[None]:
    """The folder, made where there is none and readable by nobody else, is this process's alone. Raises FolderInUse, OSError.

    The lock (POSIX) ends with the process, however it ends, and is not handed on to its children.
    """
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    lock = folder / LOCK
    with lock.open("a", encoding="ascii") as file:
        lock.chmod(0o600)
        try:
            fcntl.lockf(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise FolderInUse(folder) from error
        yield
