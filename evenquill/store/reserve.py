"""Room on the disk that is held back for the hour when there is no other: to write how a job ended, and to delete."""

from __future__ import annotations

import contextlib
import logging
import os
import shutil
from pathlib import Path

SIZE = 64_000_000
"""Bytes; deleting the longest document writes some ten million to the database's log."""

PLENTY = 4
"""Times its size that must be free for the reserve to be set aside."""

log = logging.getLogger(__name__)


class Reserve:
    """A file of nothing in the data folder."""

    def __init__(self, folder: Path, size: int = SIZE) -> None:
        self._path = folder / "reserve"
        self._size = size

    def set_aside(self) -> bool:
        """Takes the room, if there is plenty left beside it; returns whether it is held."""
        if self._path.exists():
            return True
        if shutil.disk_usage(self._path.parent).free < PLENTY * self._size:
            return False
        try:
            with self._path.open("wb") as file:
                os.posix_fallocate(file.fileno(), 0, self._size)
        except OSError:
            self._path.unlink(missing_ok=True)
            return False
        return True

    def give_up(self) -> bool:
        """Frees the room; returns whether there was any."""
        with contextlib.suppress(OSError):
            self._path.unlink()
            log.warning("the disk is full: the room that was held back is freed")
            return True
        return False
