"""Pages read in worker processes, each under a time limit.

A page that crashes or hangs the reader harms nothing but itself: it is drawn as a picture, with a remark, and the others go on.
"""

from __future__ import annotations

import logging
import multiprocessing
import os
from collections.abc import Callable, Generator, Iterable
from concurrent.futures import FIRST_COMPLETED, Future, wait
from typing import ParamSpec, Protocol, Self, TypeVar

import msgspec
import pebble

from evenquill.core.evidence import PageEvidence
from evenquill.core.reading.jobs import PageJob, unread_page

PAGE_SECONDS = 120.0
"""Time limit for a page; the fullest newspaper pages take half a minute to recognise."""

STEP_SECONDS = 1800.0
"""Time limit for other work on a whole document, such as putting its pages together."""

AHEAD = 4
"""Pages given out for each worker, so that none waits and cancelling is quick."""

log = logging.getLogger(__name__)

P = ParamSpec("P")
T = TypeVar("T")

_DECODER = msgspec.msgpack.Decoder(PageEvidence)


class PageReader(Protocol):
    """What reads pages somewhere: in processes of this machine, or on a cluster."""

    def read(self, jobs: Iterable[PageJob]) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order."""
        ...


class PagePool:
    """Worker processes that read pages. Use as a context manager, or call ``close``."""

    def __init__(self, workers: int = 0, page_seconds: float = PAGE_SECONDS) -> None:
        self.workers = workers or usable_cores()
        self.page_seconds = page_seconds
        # Spawned, not forked: a worker then holds nothing of the server's locks and files.
        context = multiprocessing.get_context("spawn")
        self._pool = pebble.ProcessPool(self.workers, context=context)
        # Other work has a process of its own, started when first needed, so that it need not wait for pages.
        self._beside = pebble.ProcessPool(1, context=context)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        """Stops at once; pages under way are lost."""
        for pool in (self._pool, self._beside):
            pool.stop()
            pool.join()

    def run(self, function: Callable[P, T], *arguments: P.args, **named: P.kwargs) -> T:
        """What a function gives that is run beside the pages, in a process: for work that may crash or is heavy.

        Raises what it raises, TimeoutError where it takes longer than STEP_SECONDS; a process that hangs is ended and replaced.
        """
        future: Future[T] = self._beside.schedule(function, arguments, named, timeout=STEP_SECONDS)
        return future.result()

    def read(self, jobs: Iterable[PageJob]) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order. Closing the iterator cancels what is under way."""
        waiting = iter(jobs)
        running: dict[Future[bytes], tuple[PageJob, bool]] = {}
        try:
            while True:
                for job in waiting:
                    running[self._pool.schedule(read_job, (job,), timeout=self.page_seconds)] = (job, True)
                    if len(running) >= AHEAD * self.workers:
                        break
                if not running:
                    return
                done, _ = wait(running, return_when=FIRST_COMPLETED)
                for future in done:
                    job, first = running.pop(future)
                    error = future.exception()
                    if error is None:
                        yield _DECODER.decode(future.result())
                    elif first:
                        log.warning("page %s of %s could not be read: %r", job.page.page, job.page.source, error)
                        again = self._pool.schedule(draw_job, (job, _why(error)), timeout=self.page_seconds)
                        running[again] = (job, False)
                    else:
                        yield unread_page(job.page.number)
        finally:
            for future in running:
                future.cancel()


def read_job(job: PageJob) -> bytes:
    """In a worker; only there are the readers loaded, which take memory."""
    from evenquill.core.reading import page_reader

    return page_reader.read_job(job)


def draw_job(job: PageJob, sentence: str) -> bytes:
    """In a worker: the page as a picture."""
    from evenquill.core.reading import page_reader

    return page_reader.draw_job(job, sentence)


def usable_cores() -> int:
    """Cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else (os.cpu_count() or 1)


def _why(error: BaseException) -> str:
    what = "took too long to read" if isinstance(error, TimeoutError) else "could not be read"
    return f"Page {{page}} {what}; it is kept as a picture."
