"""A process for what a person waits for: drawing, reading a region. It is never busy with pages, and never waited for without an end."""

from __future__ import annotations

import logging
import multiprocessing
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Future
from typing import Self, TypeVar

import pebble

QUEUE_SECONDS = 20.0
"""How long a request may wait for those before it, beyond its own time."""

log = logging.getLogger(__name__)

A = TypeVar("A")
T = TypeVar("T")


class HelperFailed(Exception):
    """The process crashed, took too long, or is too busy. It is replaced; the request may be made again."""


class InteractivePool:
    """One helper process; one that hangs is ended and replaced. Use as a context manager, or call ``close``."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pool = self._started()

    @staticmethod
    def _started() -> pebble.ProcessPool:
        return pebble.ProcessPool(1, context=multiprocessing.get_context("spawn"))

    def run(self, function: Callable[[A], T], argument: A, seconds: float) -> T:
        """What a function gives within a time. Raises what it raises, or HelperFailed."""
        with self._lock:
            if not self._pool.active:
                log.warning("a helper process had ended; another is started")
                self._pool = self._started()
            future: Future[T] = self._pool.schedule(function, (argument,), timeout=seconds)
        try:
            return future.result(timeout=seconds + QUEUE_SECONDS)
        except (pebble.ProcessExpired, TimeoutError, CancelledError) as error:
            future.cancel()
            raise HelperFailed from error

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        self._pool.stop()
        self._pool.join()
