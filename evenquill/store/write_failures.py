"""Why something could not be written: a full disk, a folder or a database that takes nothing, another writer that does not end."""

from __future__ import annotations

import errno
import sqlite3
from enum import StrEnum


class WriteFailure(StrEnum):
    """The sentence that says it; whatever was begun has been undone."""

    FULL = "The disk is full; nothing was changed. Make room, then try again."
    READ_ONLY = "The data folder cannot be written to; nothing was changed. Ask whoever looks after the server."
    BROKEN = "The disk does not take what is written; nothing was changed. Ask whoever looks after the server."
    BUSY = "The database is busy; nothing was changed. Try again in a moment."


_OF_FILES = {
    errno.ENOSPC: WriteFailure.FULL,
    errno.EDQUOT: WriteFailure.FULL,
    errno.EFBIG: WriteFailure.FULL,
    errno.EIO: WriteFailure.BROKEN,
    errno.EROFS: WriteFailure.READ_ONLY,
    errno.EACCES: WriteFailure.READ_ONLY,
    errno.EPERM: WriteFailure.READ_ONLY,
}
_OF_DATABASE = {
    sqlite3.SQLITE_FULL: WriteFailure.FULL,
    sqlite3.SQLITE_IOERR: WriteFailure.BROKEN,
    sqlite3.SQLITE_READONLY: WriteFailure.READ_ONLY,
    sqlite3.SQLITE_CANTOPEN: WriteFailure.READ_ONLY,
    sqlite3.SQLITE_BUSY: WriteFailure.BUSY,
    sqlite3.SQLITE_LOCKED: WriteFailure.BUSY,
}


def write_failure(error: BaseException) -> WriteFailure | None:
    """What kept something from being written, None for errors of other kinds."""
    if isinstance(error, sqlite3.OperationalError):
        # The lowest byte is the result, the others say more of it (sqlite.org/rescode.html).
        return _OF_DATABASE.get(getattr(error, "sqlite_errorcode", 0) & 0xFF)
    return _OF_FILES.get(error.errno or 0) if isinstance(error, OSError) else None
