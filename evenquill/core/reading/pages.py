"""Pages read in worker processes, each under a time limit.

A page that crashes or hangs the reader harms nothing but itself: it is drawn as a picture, with a remark, and the others go on.
"""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Callable, Generator, Iterable, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, wait
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple, ParamSpec, Protocol, Self, TypeVar

import msgspec
import pebble
import pypdfium2 as pdfium

from evenquill.core.model import Remark, RemarkKind
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.evidence import PageEvidence, PageKind
from evenquill.core.reading.native import page_as_picture, read_page

PAGE_SECONDS = 60.0
"""Time limit for a page; the slowest sound pages take a few seconds."""

AHEAD = 4
"""Pages given out for each worker, so that none waits and cancelling is quick."""

P = ParamSpec("P")
T = TypeVar("T")

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(PageEvidence)


class PageJob(NamedTuple):
    """A page to read: the file, its number from 1, the password if any, and the folder for its pictures."""

    source: str
    number: int
    password: str | None
    pictures: str


class PageReader(Protocol):
    """What reads pages somewhere: in processes of this machine, or on a cluster."""

    def read(
        self, source: Path, numbers: Iterable[int], pictures: Path, *, password: str | None = None
    ) -> Generator[PageEvidence, None, None]:
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
        """What a function gives that is run beside the pages, in a process: for work that may crash or is heavy. Raises what it
        raises."""
        future: Future[T] = self._beside.schedule(function, arguments, named)
        return future.result()

    def read(
        self, source: Path, numbers: Iterable[int], pictures: Path, *, password: str | None = None
    ) -> Generator[PageEvidence, None, None]:
        """Evidence of the pages as they are done, in any order. Closing the iterator cancels what is under way."""
        waiting = iter(numbers)
        running: dict[Future[bytes], tuple[PageJob, bool]] = {}
        try:
            while True:
                for number in waiting:
                    job = PageJob(str(source), number, password, str(pictures))
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
                        again = self._pool.schedule(draw_job, (job, _why(job, error)), timeout=self.page_seconds)
                        running[again] = (job, False)
                    else:
                        yield unread_page(job.number)
        finally:
            for future in running:
                future.cancel()


def usable_cores() -> int:
    """Cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else (os.cpu_count() or 1)


def read_job(job: PageJob) -> bytes:
    """In a worker: the page's evidence, encoded; one that PDFium refuses is drawn as a picture."""
    keep = PictureFolder(Path(job.pictures)).keep
    document = open_source(job.source, job.password)
    try:
        return _ENCODER.encode(read_page(document, job.number, keep))
    except pdfium.PdfiumError:
        return _ENCODER.encode(unread_page(job.number))


def draw_job(job: PageJob, sentence: str) -> bytes:
    """In a worker: the page as a picture."""
    document = open_source(job.source, job.password)
    return _ENCODER.encode(page_as_picture(document, job.number, sentence, PictureFolder(Path(job.pictures)).keep))


@lru_cache(maxsize=2)
def open_source(source: str, password: str | None) -> pdfium.PdfDocument:
    """The open PDF; a worker keeps the last two."""
    return pdfium.PdfDocument(source, password=password)


def unread_page(number: int, width: float = 595.28, height: float = 841.89) -> PageEvidence:
    """What stands for a page that can neither be read nor drawn."""
    sentence = f"Page {number} is damaged and could not be read. The other pages are not affected."
    return PageEvidence(
        number, width, height, PageKind.SCANNED, remarks=(Remark(RemarkKind.UNREADABLE, sentence, number),)
    )


def _why(job: PageJob, error: BaseException) -> str:
    what = "took too long to read" if isinstance(error, TimeoutError) else "could not be read"
    return f"Page {job.number} {what}; it is kept as a picture."


def in_order(pages: Iterable[PageEvidence]) -> Sequence[PageEvidence]:
    """Pages by number."""
    return sorted(pages, key=lambda page: page.number)
