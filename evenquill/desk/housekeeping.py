"""Housekeeping: now and then, and when the disk is nearly full, what nobody can get back any more is taken off the disk."""

from __future__ import annotations

import logging
import shutil
import threading
from datetime import UTC, datetime, timedelta

from evenquill.desk.context import LEAST_FREE, AppContext
from evenquill.store import cleaning
from evenquill.store.cleaning import KEPT_AFTER_DELETING, YOUNG

EVERY = timedelta(hours=1)

YOUNG_WHEN_SHORT = timedelta(minutes=15)
"""The same as YOUNG on a disk that is nearly full: only pages under way keep files for so long before they are written down."""

log = logging.getLogger(__name__)


class Housekeeper:
    """A thread that cleans up at the start, every hour, and when it is asked to."""

    def __init__(self, context: AppContext) -> None:
        self._context = context
        self._stopped = False
        self._thread = threading.Thread(target=self._work, name="housekeeping", daemon=True)

    def start(self) -> None:
        """Begins; nothing else is under way yet."""
        if count := cleaning.remove_unfinished(self._context.files):
            log.warning("%d files that were not finished are removed", count)
        self._thread.start()

    def stop(self) -> None:
        self._stopped = True
        self._context.short_of_room.set()
        self._thread.join(timeout=5)

    def _work(self) -> None:
        while not self._stopped:
            try:
                clean_up(self._context)
            except Exception:
                log.exception("cleaning up failed")
            self._context.short_of_room.wait(EVERY.total_seconds())
            self._context.short_of_room.clear()


def clean_up(context: AppContext, *, now: datetime | None = None, young: timedelta = YOUNG) -> list[str]:
    """Forgets documents that were deleted long enough ago, or any where there is little room, and removes files that no document refers
    to; returns the documents."""
    moment = now or datetime.now(UTC)
    short = shutil.disk_usage(context.data).free < LEAST_FREE
    gone = cleaning.forget_deleted(context.store, moment, timedelta(0) if short else KEPT_AFTER_DELETING)
    for document in gone:
        context.passwords.pop(document, None)
    if gone:
        context.strips.forget()
    # Pictures that nothing refers to can wait for the next deletion: finding all that are in use takes long.
    young = min(young, YOUNG_WHEN_SHORT) if short else young
    found = cleaning.leftovers(context.store, context.files, moment - young, with_pictures=bool(gone))
    count, size = cleaning.remove(found)
    if gone or count:
        log.info("%d documents are forgotten, %d files (%d bytes) removed", len(gone), count, size)
    context.reserve.set_aside()
    return gone
