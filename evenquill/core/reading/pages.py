"""Pages read in worker processes, each under a time limit.

A page that crashes or hangs the reader harms nothing but itself: it is drawn as a picture, with a remark, and the others go on.
"""

from __future__ import annotations

import itertools
import logging
import os
from collections.abc import Callable, Generator, Iterable
from concurrent.futures import Future
from functools import partial
from typing import NamedTuple, ParamSpec, Protocol, Self, TypeVar

import msgspec

from evenquill.core.evidence import PageEvidence
from evenquill.core.processes import WorkerDied, WorkerPool
from evenquill.core.reading.jobs import PageJob, unread_page

PAGE_SECONDS = 120.0
"""Time limit for a page; the fullest newspaper pages take half a minute to recognise."""

STEP_SECONDS = 1800.0
"""Time limit for other work on a whole document, such as putting its pages together."""

MOST_DEATHS = 2
"""Workers that may end at a page, or at other work, before it is given up: others may have been killed beside it."""

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


class _Attempt(NamedTuple):
    """A page that is being read, or ``drawn`` as a picture since it could not be; how many workers ``died`` meanwhile."""

    job: PageJob
    drawn: str = ""
    died: int = 0


class PagePool:
    """Worker processes that read pages. Use as a context manager, or call ``close``."""

    def __init__(self, workers: int = 0, page_seconds: float = PAGE_SECONDS) -> None:
        self.workers = workers or usable_cores()
        self.page_seconds = page_seconds
        self._pool = WorkerPool(self.workers)
        # Other work has a process of its own, so that it need not wait for pages.
        self._beside = WorkerPool(1)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        """Stops at once; pages under way are lost."""
        self._pool.close()
        self._beside.close()

    def run(self, function: Callable[P, T], *arguments: P.args, **named: P.kwargs) -> T:
        """What a function gives that is run beside the pages, in a process: for work that may crash or is heavy.

        Raises what it raises, TimeoutError where it takes longer than STEP_SECONDS, WorkerDied where workers ended at it again and again.
        """
        return self._beside.run(partial(function, *arguments, **named), seconds=STEP_SECONDS, deaths=MOST_DEATHS)

    def read(self, jobs: Iterable[PageJob]) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order. Closing the iterator cancels what is under way."""
        waiting = iter(jobs)
        running: dict[Future[bytes], _Attempt] = {}
        try:
            while True:
                for job in itertools.islice(waiting, AHEAD * self.workers - len(running)):
                    self._give_out(_Attempt(job), running)
                if not running:
                    return
                for future in self._pool.wait(running):
                    attempt = running.pop(future)
                    try:
                        page = _DECODER.decode(self._pool.result(future))
                    except Exception as error:
                        following = _after_failure(attempt, error)
                        if following is not None:
                            self._give_out(following, running)
                            continue
                        page = unread_page(attempt.job.page.number)
                    yield page
        finally:
            for future in running:
                future.cancel()

    def _give_out(self, attempt: _Attempt, running: dict[Future[bytes], _Attempt]) -> None:
        job, drawn, _ = attempt
        arguments = (draw_job, job, drawn) if drawn else (read_job, job)
        running[self._pool.schedule(*arguments, seconds=self.page_seconds)] = attempt


def _after_failure(attempt: _Attempt, error: Exception) -> _Attempt | None:
    """What is tried next with a page: once more where its worker ended, then as a picture; None where that fails too."""
    page = attempt.job.page
    log.warning(
        "page %s of %s could not be %s: %r", page.page, page.source, "drawn" if attempt.drawn else "read", error
    )
    if isinstance(error, WorkerDied) and attempt.died < MOST_DEATHS:
        return attempt._replace(died=attempt.died + 1)
    return None if attempt.drawn else _Attempt(attempt.job, drawn=_why(error))


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
