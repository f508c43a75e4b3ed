"""Processes for what a person waits for: drawing, reading a region. They are never busy with pages, and never waited for without an end."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Self, TypeVar

from evenquill.core.processes import WaitedTooLong, WorkerDied, WorkerPool

QUEUE_SECONDS = 20.0
"""How long a request may wait for those before it, beyond its own time."""

PREPARE_SECONDS = 60.0
"""Time limit for loading what a helper needs."""

A = TypeVar("A")
T = TypeVar("T")


HELPERS = 2
"""Processes: what one person asks for may take its whole time without keeping others waiting."""


class HelperFailed(Exception):
    """The process crashed or took too long. It is replaced; the request may be made again."""


class HelperBusy(HelperFailed):
    """The processes did not even come to it."""


class InteractivePool:
    """Helper processes; one that hangs is ended and replaced. Use as a context manager, or call ``close``."""

    def __init__(self, helpers: int = HELPERS) -> None:
        self._pool = WorkerPool(helpers)

    def prepare(self, function: Callable[[], object]) -> None:
        """Has a function run that nobody waits for: it starts a process, and loads what the next work needs. Where that fails nobody is
        told; the work itself will tell."""
        with suppress(WorkerDied):
            self._pool.schedule(function, seconds=PREPARE_SECONDS)

    def run(self, function: Callable[[A], T], argument: A, seconds: float) -> T:
        """What a function gives within a time. Raises what it raises, or HelperFailed."""
        try:
            return self._pool.run(function, argument, seconds=seconds, patience=seconds + QUEUE_SECONDS)
        except WaitedTooLong as error:
            raise HelperBusy from error
        except (WorkerDied, TimeoutError) as error:
            raise HelperFailed from error

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        self._pool.close()
