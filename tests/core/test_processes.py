"""Workers that are killed, idle or busy, and servers that are: what is asked of them later is done all the same."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from evenquill.core.processes import Deaths, WorkerDied, WorkerPool, most_memory
from evenquill.core.reading.jobs import SourcePage, page_jobs
from evenquill.core.reading.pages import PagePool

PATIENCE = 60.0


def workers_of(process: int) -> list[int]:
    """The spawned children of a process that still run."""
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            state, parent = folder.joinpath("stat").read_text().rpartition(")")[2].split()[:2]
            spawned = b"spawn_main" in folder.joinpath("cmdline").read_bytes()
        except OSError:
            continue
        if int(parent) == process and state != "Z" and spawned:
            found.append(int(folder.name))
    return found


@pytest.fixture
def pool() -> Iterator[WorkerPool]:
    made = WorkerPool(2)
    yield made
    made.close()


def answer(pool: WorkerPool, *arguments: object, seconds: float = PATIENCE) -> object:
    future = pool.schedule(*arguments, seconds=seconds)
    pool.wait([future], PATIENCE)
    return pool.result(future)


def answer_at_last(pool: WorkerPool, number: int) -> object:
    """Asked again where it was given to a worker, or to a pool, that was just ending."""
    for _ in range(2):
        try:
            return answer(pool, abs, -number)
        except WorkerDied:
            continue
    return answer(pool, abs, -number)


def slowly(number: int) -> int:
    time.sleep(1.5)
    return number


def test_workers_that_are_killed_while_they_wait_are_replaced(pool):
    assert answer(pool, abs, -1) == 1
    for n in range(6):
        own = workers_of(os.getpid())
        for one in own if n % 2 else own[:1]:
            os.kill(one, signal.SIGKILL)
        time.sleep(random.choice((0, 0.05, 0.4)))
        assert answer_at_last(pool, n) == n


def test_one_that_is_killed_at_its_work_is_said_to_have_died(pool):
    future = pool.schedule(slowly, 3, seconds=PATIENCE)
    while not future.running():
        time.sleep(0.02)
    for one in workers_of(os.getpid()):
        os.kill(one, signal.SIGKILL)
    pool.wait([future], PATIENCE)
    with pytest.raises(WorkerDied):
        pool.result(future)
    assert answer_at_last(pool, 4) == 4


def test_what_takes_too_long_is_ended_and_what_a_function_raises_is_raised(pool):
    with pytest.raises(TimeoutError):
        answer(pool, time.sleep, 60, seconds=0.5)
    with pytest.raises(ZeroDivisionError):
        answer(pool, divmod, 1, 0)
    with pytest.raises(TimeoutError):
        pool.wait([pool.schedule(slowly, 1, seconds=PATIENCE)], 0.1)


def test_a_pool_that_is_closed_starts_no_workers_again():
    pool = WorkerPool(1)
    future = pool.schedule(slowly, 1, seconds=PATIENCE)
    pool.close()
    pool.wait([future], PATIENCE)
    with pytest.raises(WorkerDied):
        pool.result(future)
    with pytest.raises(WorkerDied):
        pool.run(abs, -1, seconds=PATIENCE)
    assert workers_of(os.getpid()) == []


class NotWanted(Exception):
    """What a watch raises."""


def test_work_that_is_not_wanted_any_more_ends_at_once_and_frees_its_worker(pool):
    started = time.monotonic()

    def watch() -> None:
        if time.monotonic() - started > 1:
            raise NotWanted

    for _ in range(3):  # there are two workers
        with pytest.raises(NotWanted):
            pool.run(time.sleep, 600, seconds=900, watch=watch)
    assert answer(pool, abs, -3) == 3
    assert time.monotonic() - started < 60


def died(sig: int) -> None:
    os.kill(os.getpid(), sig)


def test_work_that_crashes_workers_is_given_up_soon_and_work_whose_workers_are_killed_late(pool):
    with pytest.raises(WorkerDied) as caught:
        pool.run(died, signal.SIGABRT, seconds=PATIENCE)
    assert caught.value.crashed
    crash, killed = WorkerDied(crashed=True), WorkerDied()
    assert [Deaths().is_hopeless(crash), Deaths().is_hopeless(killed)] == [False, False]
    deaths = Deaths()
    assert [deaths.is_hopeless(crash) for _ in range(2)] == [False, True]
    deaths = Deaths()
    assert [deaths.is_hopeless(killed) for _ in range(21)] == [*[False] * 20, True]


def filled(size: int) -> int:
    return len(bytearray(size))


def test_a_worker_has_its_limit_of_memory_and_goes_on_beyond_it():
    pool = WorkerPool(1, memory=2 << 30)
    try:
        assert answer(pool, filled, 500 << 20) == 500 << 20
        with pytest.raises(MemoryError):
            answer(pool, filled, 4 << 30)
        assert answer(pool, filled, 1) == 1
    finally:
        pool.close()
    assert most_memory() >= 3 << 30


def test_pages_are_read_whatever_becomes_of_the_workers(typeset, tmp_path):
    source = typeset("\n#pagebreak()\n".join(f"Page {n} of the log." for n in range(1, 9)))
    jobs = page_jobs([SourcePage(n, str(source), n) for n in range(1, 9)], tmp_path)
    with PagePool(2) as reader:
        list(reader.read(jobs[:1]))
        for one in workers_of(os.getpid()):
            os.kill(one, signal.SIGKILL)
        pages = []
        for page in reader.read(jobs):
            pages.append(page)
            if len(pages) == 3:
                os.kill(workers_of(os.getpid())[0], signal.SIGKILL)
        said = {page.number: " ".join(line.text for line in page.lines) for page in pages}
        assert said == {n: f"Page {n} of the log." for n in range(1, 9)}
        assert [remark for page in pages for remark in page.remarks] == []


SERVER = """
import sys, time
from evenquill.core.processes import WorkerPool
if __name__ == "__main__":
    pool = WorkerPool(2)
    future = pool.schedule(time.sleep, 600, seconds=900)
    while not future.running():
        time.sleep(0.02)
    print("busy", flush=True)
    time.sleep(600)
"""


def test_workers_end_with_the_server_also_those_at_their_work(tmp_path):
    script = tmp_path / "server.py"
    script.write_text(SERVER)
    server = subprocess.Popen([sys.executable, str(script)], stdout=subprocess.PIPE, text=True)
    assert server.stdout.readline() == "busy\n"
    workers = workers_of(server.pid)
    assert len(workers) == 2
    server.kill()
    server.wait()
    end = time.monotonic() + PATIENCE
    while alive := [one for one in workers if Path(f"/proc/{one}/cmdline").exists()]:
        assert time.monotonic() < end, alive
        time.sleep(0.1)
