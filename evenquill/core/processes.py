"""Worker processes for work that may crash, hang or take much memory: under a limit, replaced when they die, ended with the process that
started them."""

from __future__ import annotations

import logging
import multiprocessing
import os
import resource
import signal
import threading
import time
from collections.abc import Callable, Collection
from concurrent.futures import FIRST_COMPLETED, CancelledError, Future, wait
from concurrent.futures.process import BrokenProcessPool
from typing import Any, TypeVar
from weakref import WeakKeyDictionary

import pebble

CHECK_SECONDS = 1.0
"""How often it is looked whether a pool is still there for those that wait for it, and in workers whether the server is."""

LEAST_MEMORY = 3 << 30
"""Bytes of address space that a worker may have at least: readers and recognisers map more than they use."""

SHARE_OF_MEMORY = 0.6
"""Of the machine's memory, what the workers that it has cores for may ask for together."""

MOST_CRASHES, MOST_KILLED = 1, 20
"""Workers that may crash at some work before it is given up, and that may be killed: one that is killed takes its whole pool along."""

pebble.CONSTS.channel_lock_timeout = 20.0
"""Seconds after which a pool takes notice that a worker was killed at the moment when it took its work."""

log = logging.getLogger(__name__)

T = TypeVar("T")


Watch = Callable[[], None]
"""Looked at every CHECK_SECONDS while something is waited for: raises an error if it is not wanted any more."""


class WaitedTooLong(TimeoutError):
    """What was waited for was not there in time: it may not even have been begun."""


class WorkerDied(Exception):
    """A worker ended before it had an answer: it crashed (``crashed``), or it was killed, or its pool broke, by no fault of the work."""

    def __init__(self, *, crashed: bool = False) -> None:
        super().__init__()
        self.crashed = crashed


class Deaths:
    """Counts the workers that ended at some work, and says when it is given up: sooner where they crashed at it."""

    def __init__(self) -> None:
        self._crashed = self._killed = 0

    def is_hopeless(self, death: WorkerDied) -> bool:
        """Whether the work is not tried again after one more death."""
        self._crashed += death.crashed
        self._killed += not death.crashed
        return self._crashed > MOST_CRASHES or self._killed > MOST_KILLED


class WorkerPool:
    """Worker processes, each with at most ``memory`` bytes of address space. A pool that has broken, as it does when a worker is killed
    while it waits, is replaced at the next request."""

    def __init__(self, workers: int, memory: int | None = None) -> None:
        self._workers = workers
        self._memory = memory or most_memory()
        self._lock = threading.Lock()
        self._closed = False
        self._pool = self._started()
        self._pool_of: WeakKeyDictionary[Future[Any], pebble.ProcessPool] = WeakKeyDictionary()

    def _started(self) -> pebble.ProcessPool:
        # Spawned, not forked: a worker then holds nothing of the server's locks and files.
        context = multiprocessing.get_context("spawn")
        arguments = (os.getpid(), self._memory)
        return pebble.ProcessPool(self._workers, initializer=prepare_worker, initargs=arguments, context=context)

    def run(
        self,
        function: Callable[..., T],
        *arguments: object,
        seconds: float,
        patience: float | None = None,
        watch: Watch = lambda: None,
    ) -> T:
        """What a function gives; asked again where a worker died at it.

        Raises what it raises, WorkerDied, TimeoutError where it takes longer than its ``seconds``, or than ``patience`` with its waiting,
        and what ``watch`` raises, which ends the work.
        """
        deaths = Deaths()
        while True:
            future = self.schedule(function, *arguments, seconds=seconds)
            try:
                self.wait([future], patience, watch)
                return self.result(future)
            except WorkerDied as death:
                if self._closed or deaths.is_hopeless(death):
                    raise
            except BaseException:
                future.cancel()
                raise

    def schedule(self, function: Callable[..., T], *arguments: object, seconds: float) -> Future[T]:
        """What a function will give; TimeoutError, and an end of its worker, where it takes longer. Raises WorkerDied once it is closed."""
        with self._lock:
            if self._closed:
                raise WorkerDied
            if not self._pool.active:
                log.warning("worker processes had ended; others are started")
                self._stop()
                self._pool = self._started()
            future: Future[T] = self._pool.schedule(function, arguments, timeout=seconds)
            self._pool_of[future] = self._pool
            return future

    def wait(
        self, futures: Collection[Future[T]], seconds: float | None = None, watch: Watch = lambda: None
    ) -> list[Future[T]]:
        """Those of the futures that are done or will never be; waits until there is one. Raises WaitedTooLong after a time, and what
        ``watch`` raises."""
        end = None if seconds is None else time.monotonic() + seconds
        while end is None or time.monotonic() < end:
            done, _ = wait(futures, timeout=CHECK_SECONDS, return_when=FIRST_COMPLETED)
            if done := done or {future for future in futures if self._is_lost(future)}:
                return list(done)
            watch()
        raise WaitedTooLong

    def _is_lost(self, future: Future[Any]) -> bool:
        """Whether a future was in the queue of a pool that broke: nobody tells it so."""
        return not future.done() and not self._pool_of[future].active

    @staticmethod
    def result(future: Future[T]) -> T:
        """What was given. Raises what the function raised, TimeoutError, or WorkerDied."""
        if not future.done():
            raise WorkerDied
        try:
            return future.result()
        except pebble.ProcessExpired as error:
            # A crash ends a process by a signal (memory that was refused is one); ours end themselves without.
            raise WorkerDied(crashed=error.exitcode < 0 and error.exitcode != -signal.SIGKILL) from error
        except (BrokenProcessPool, CancelledError) as error:
            raise WorkerDied from error

    def close(self) -> None:
        """Stops at once and for good; what is under way is lost."""
        with self._lock:
            self._closed = True
            self._stop()

    def _stop(self) -> None:
        self._pool.stop()
        self._pool.join()


def most_memory() -> int:
    """Bytes of address space for a worker on this machine."""
    whole = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    return max(int(SHARE_OF_MEMORY * whole / usable_cores()), LEAST_MEMORY)


def usable_cores() -> int:
    """Cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else (os.cpu_count() or 1)


def prepare_worker(parent: int, memory: int) -> None:
    """In a worker: limits its memory, and ends it soon after the process that started it has ended, whatever it is at."""
    _, given = resource.getrlimit(resource.RLIMIT_AS)
    most = memory if given == resource.RLIM_INFINITY else min(memory, given)
    resource.setrlimit(resource.RLIMIT_AS, (most, most))

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(CHECK_SECONDS)
        os._exit(1)

    threading.Thread(target=watch, daemon=True, name="end with the server").start()
