"""Events for the browser: which document has changed. Told to all windows that listen."""

from __future__ import annotations

import queue
import threading
from collections.abc import Iterator

HEARTBEAT_SECONDS = 15.0
"""Short enough for proxies not to cut a silent stream, and for a closed window to be noticed."""

WAITING_EVENTS = 200
"""A window that falls further behind reads everything anew."""


class Events:
    """Listeners and what they have not heard yet."""

    def __init__(self) -> None:
        self._listeners: set[queue.Queue[str]] = set()
        self._lock = threading.Lock()

    def tell(self, document: str) -> None:
        """Says that a document has changed."""
        with self._lock:
            for listener in self._listeners:
                try:
                    listener.put_nowait(document)
                except queue.Full:
                    continue

    def listen(self) -> Iterator[str]:
        """Ids of documents as they change; an empty string now and then as a heartbeat."""
        listener: queue.Queue[str] = queue.Queue(WAITING_EVENTS)
        with self._lock:
            self._listeners.add(listener)
        try:
            yield ""
            while True:
                try:
                    yield listener.get(timeout=HEARTBEAT_SECONDS)
                except queue.Empty:
                    yield ""
        finally:
            with self._lock:
                self._listeners.discard(listener)
