"""Pages read in worker processes, each under a time limit.

A page that crashes or hangs the reader harms nothing but itself: it is drawn as a picture, with a remark, and the others go on.
"""

from __future__ import annotations

import errno
import itertools
import logging
from collections.abc import Callable, Generator, Iterable
from concurrent.futures import Future
from typing import NamedTuple, Protocol, Self, TypeVar

import msgspec

from evenquill.core.evidence import PageEvidence
from evenquill.core.processes import Deaths, Watch, WorkerDied, WorkerPool, usable_cores
from evenquill.core.reading.jobs import PageJob, unread_page

PAGE_SECONDS = 120.0
"""Time limit for a page; the fullest newspaper pages take half a minute to recognise."""

DRAW_SECONDS = 30.0
"""Time limit for drawing a page that could not be read."""

BESIDE = 3
"""Processes for other work, such as putting pages together: a document that takes long there keeps no other waiting."""

DISK_FAILURES = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EROFS, errno.EIO})
"""Errors that are no page's fault: what was read of it could not be kept."""

AHEAD = 4
"""Pages given out for each worker, so that none waits and cancelling is quick."""

log = logging.getLogger(__name__)

T = TypeVar("T")

_DECODER = msgspec.msgpack.Decoder(PageEvidence)


class PageReader(Protocol):
    """What reads pages somewhere: in processes of this machine, or on a cluster."""

    def read(self, jobs: Iterable[PageJob], watch: Watch = lambda: None) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order, for as long as ``watch`` raises nothing."""
        ...


class _Attempt(NamedTuple):
    """A page that is being read, or ``drawn`` as a picture since it could not be, and the workers that ended at it."""

    job: PageJob
    deaths: Deaths
    drawn: str = ""


class PagePool:
    """Worker processes that read pages. Use as a context manager, or call ``close``."""

    def __init__(self, workers: int = 0, page_seconds: float = PAGE_SECONDS) -> None:
        self.workers = workers or usable_cores()
        self.page_seconds = page_seconds
        self._pool = WorkerPool(self.workers)
        self._beside = WorkerPool(BESIDE)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        """Stops at once; pages under way are lost."""
        self._pool.close()
        self._beside.close()

    def run(self, work: Callable[[], T], *, seconds: float, watch: Watch = lambda: None) -> T:
        """What some work gives that is done beside the pages, in a process: it may crash, or be heavy.

        Raises what it raises, TimeoutError where it takes longer than its ``seconds``, WorkerDied where workers ended at it again and
        again, and what ``watch`` raises, which ends it.
        """
        return self._beside.run(work, seconds=seconds, watch=watch)

    def read(self, jobs: Iterable[PageJob], watch: Watch = lambda: None) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order. Closing the iterator, or what ``watch`` raises, ends what is under way.

        Raises OSError where the disk takes nothing more.
        """
        waiting = iter(jobs)
        running: dict[Future[bytes], _Attempt] = {}
        try:
            while True:
                for job in itertools.islice(waiting, AHEAD * self.workers - len(running)):
                    self._give_out(_Attempt(job, Deaths()), running)
                if not running:
                    return
                for future in self._pool.wait(running, watch=watch):
                    attempt = running.pop(future)
                    try:
                        page = _DECODER.decode(self._pool.result(future))
                    except Exception as error:
                        if isinstance(error, OSError) and error.errno in DISK_FAILURES:
                            raise
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
        job, _, drawn = attempt
        arguments = (draw_job, job, drawn) if drawn else (read_job, job)
        seconds = min(DRAW_SECONDS, self.page_seconds) if drawn else self.page_seconds
        running[self._pool.schedule(*arguments, seconds=seconds)] = attempt


def _after_failure(attempt: _Attempt, error: Exception) -> _Attempt | None:
    """What is tried next with a page: the same where its worker ended, then as a picture; None where that fails too."""
    page = attempt.job.page
    log.warning(
        "page %s of %s could not be %s: %r", page.page, page.source, "drawn" if attempt.drawn else "read", error
    )
    if isinstance(error, WorkerDied) and not attempt.deaths.is_hopeless(error):
        return attempt
    return None if attempt.drawn else _Attempt(attempt.job, Deaths(), drawn=_why(error))


def read_job(job: PageJob) -> bytes:
    """In a worker; only there are the readers loaded, which take memory."""
    from evenquill.core.reading import page_reader

    return page_reader.read_job(job)


def draw_job(job: PageJob, sentence: str) -> bytes:
    """In a worker: the page as a picture."""
    from evenquill.core.reading import page_reader

    return page_reader.draw_job(job, sentence)


def _why(error: BaseException) -> str:
    what = "took too long to read" if isinstance(error, TimeoutError) else "could not be read"
    return f"Page {{page}} {what}; it is kept as a picture."
