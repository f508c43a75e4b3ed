"""Housekeeping: now and then, what nobody can get back any more is taken off the disk."""

from __future__ import annotations

import logging
import threading
from datetime import UTC, datetime, timedelta

from evenquill.desk.context import AppContext
from evenquill.store import documents, references
from evenquill.store.database import transaction

KEPT_AFTER_DELETING = timedelta(days=1)
"""How long a deleted document can be brought back."""

EVERY = timedelta(hours=1)

YOUNG = timedelta(hours=6)
"""Files younger than this may belong to something that is not yet in the database."""

log = logging.getLogger(__name__)


class Housekeeper:
    """A thread that cleans up at the start and every hour."""

    def __init__(self, context: AppContext) -> None:
        self._context = context
        self._stopped = threading.Event()
        self._thread = threading.Thread(target=self._work, name="housekeeping", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopped.set()
        self._thread.join(timeout=5)

    def _work(self) -> None:
        while not self._stopped.is_set():
            try:
                clean_up(self._context)
            except Exception:
                log.exception("cleaning up failed")
            self._stopped.wait(EVERY.total_seconds())


def clean_up(context: AppContext, *, now: datetime | None = None, young: timedelta = YOUNG) -> list[str]:
    """Forgets documents that were deleted long enough ago, and removes files that no document refers to; returns the documents."""
    moment = now or datetime.now(UTC)
    store = context.store
    with transaction(store):
        gone = documents.purge(store, (moment - KEPT_AFTER_DELETING).isoformat(timespec="milliseconds"))
    for document in gone:
        context.passwords.pop(document, None)
    context.files.remove_unused(
        sources=references.sources(store),
        # Finding all pictures that are in use takes long; any that nothing refers to can wait for the next deletion.
        pictures=references.pictures(store) if gone else None,
        deliveries=references.deliveries(store),
        before=moment - young,
    )
    return gone
