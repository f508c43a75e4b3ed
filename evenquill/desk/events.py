"""Events for the browser: which documents have changed since a moment. Asked for again and again, each time answered at once, so that an
open window holds neither a thread of the server nor a connection."""

from __future__ import annotations

import threading
from collections import deque

import msgspec

KEPT = 2000
"""Events that are remembered; a window that falls further behind reads everything anew."""


class News(msgspec.Struct, frozen=True):
    """What has happened: ask next time since ``number``. ``documents`` have changed, or ``everything`` may have; ``problems`` are what
    needs a person now, in sentences."""

    number: int
    documents: tuple[str, ...] = ()
    everything: bool = False
    problems: tuple[str, ...] = ()


class Events:
    """The last events, numbered from the start of the server."""

    def __init__(self) -> None:
        self._events: deque[tuple[int, str]] = deque(maxlen=KEPT)
        self._number = 0
        self._lock = threading.Lock()

    def publish(self, document: str) -> None:
        """Says that a document has changed."""
        with self._lock:
            self._number += 1
            self._events.append((self._number, document))

    def since(self, number: int | None) -> News:
        """What has happened since a number; everything may have for one that is not known, as after a restart of the server."""
        with self._lock:
            oldest = self._events[0][0] if self._events else self._number + 1
            if number is None or number > self._number or number < oldest - 1:
                return News(self._number, everything=True)
            changed = dict.fromkeys(document for at, document in self._events if at > number)
            return News(self._number, tuple(changed))
