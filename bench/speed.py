"""Speed and memory as ratios of one run: ``python bench/speed.py``."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path

import psutil
import pypdfium2 as pdfium
from manual import make_manual
from msgspec.structs import replace
from pdfminer.high_level import extract_pages

from evenquill.core.convert import convert
from evenquill.core.evidence import PageEvidence
from evenquill.core.reading.jobs import SourcePage, page_jobs
from evenquill.core.reading.pages import PagePool
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        hundred = make_manual(folder / "hundred.pdf", 100)
        five_hundred = make_manual(folder / "five_hundred.pdf", 500)
        five = make_manual(folder / "five.pdf", 5)
        for path in (five, hundred, five_hundred):
            print(f"{path.name}: {len(pdfium.PdfDocument(path))} pages")
        conversion_over_layout(hundred, folder)
        rebuilding(hundred, folder)
        peak_memory(five_hundred, folder)
        desk(five, five_hundred, folder)


def conversion_over_layout(path: Path, folder: Path) -> None:
    """Both on one and the same core, the pool of one worker warm, as a server's is; best of three."""
    os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
    with PagePool(1) as pool:
        convert(make_manual(folder / "warm.pdf", 2), pool, folder / "warm")
        ours, theirs = [], []
        for n in range(3):
            started = time.perf_counter()
            conversion = convert(path, pool, folder / f"pictures {n}")
            write_docx(conversion.document, conversion.pictures.get)
            ours.append(time.perf_counter() - started)
            started = time.perf_counter()
            for _ in extract_pages(path):
                pass
            theirs.append(time.perf_counter() - started)
    os.sched_setaffinity(0, set(range(os.cpu_count() or 1)))
    print(f"whole conversion over layout by pdfminer.six: {min(ours) / min(theirs):.2f}  (wanted: at most 0.5)")
    print(f"   {min(ours):.2f} s against {min(theirs):.2f} s; stages {conversion.stages}")


def rebuilding(path: Path, folder: Path) -> None:
    """Ten times as many pages take no more than ten times as long: the same evidence, once and ten times; best of two."""
    count = len(pdfium.PdfDocument(path))
    with PagePool() as pool:
        jobs = page_jobs([SourcePage(number, str(path), number) for number in range(1, count + 1)], folder / "evidence")
        pages = sorted(pool.read(jobs), key=lambda page: page.number)
    many = [replace(page, number=page.number + count * n) for n in range(10) for page in pages]
    seconds = [min(_rebuilt(some) for _ in range(2)) for some in (pages, many)]
    print(f"rebuilding {len(many)} pages over {count}: {seconds[1] / seconds[0]:.1f}  (wanted: at most 11)")


def _rebuilt(pages: list[PageEvidence]) -> float:
    started = time.perf_counter()
    rebuild(pages, SourceFacts(pages=len(pages)))
    return time.perf_counter() - started


def peak_memory(path: Path, folder: Path) -> None:
    """The resident memory of the command and its worker together, sampled."""
    command = [
        sys.executable,
        "-m",
        "evenquill",
        "convert",
        str(path),
        "-o",
        str(folder / "out.docx"),
        "--workers",
        "1",
    ]
    process = psutil.Popen(command)
    peak = 0
    while process.poll() is None:
        try:
            family = [process, *process.children(recursive=True)]
            peak = max(peak, sum(one.memory_full_info().uss for one in family))
        except psutil.Error:
            pass
        time.sleep(0.05)
    print(f"peak memory for {path.name}: {peak / 1e6:.0f} MB  (wanted: under 400 MB)")


def desk(short: Path, long: Path, folder: Path) -> None:
    """A server of its own; times from sending the file, and from opening it once it is read."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    address = f"http://127.0.0.1:{port}/api/documents"
    command = [sys.executable, "-m", "evenquill", "serve", "--port", str(port), "--data", str(folder / "data")]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, start_new_session=True)
    try:
        _until(lambda: _get(address) is not None)
        _first_row(address, make_manual(folder / "warm again.pdf", 3))  # the workers start with the first document
        first = [_first_row(address, path) for path in (short, long)]
        opened = [_opening(address, document) for _, document in first]
        (short_first, _), (long_first, _) = first
        print(f"first row after dropping: {long_first / short_first:.2f}  (wanted: at most 1.5)")
        print(f"   {long_first:.2f} s for {long.name} against {short_first:.2f} s for {short.name}")
        print(f"opening the desk when read: {opened[1] / opened[0]:.2f}  (wanted: at most 1.5)")
        print(f"   {opened[1] * 1000:.1f} ms against {opened[0] * 1000:.1f} ms")
    finally:
        os.killpg(process.pid, 15)
        process.wait()


def _first_row(address: str, path: Path) -> tuple[float, str]:
    started = time.perf_counter()
    token = _get(address.replace("/documents", "/session"))["token"]
    request = urllib.request.Request(
        f"{address}?name={path.stem.replace(' ', '')}.pdf",
        data=path.read_bytes(),
        headers={"X-Evenquill-Token": token},
        method="POST",
    )
    document = json.load(urllib.request.urlopen(request))["document"]["id"]
    _until(lambda: (_get(f"{address}/{document}/rows?count=20") or {}).get("total", 0) > 0)
    return time.perf_counter() - started, document


def _opening(address: str, document: str) -> float:
    """What the desk asks for before its first rows can be drawn; best of ten."""
    _until(lambda: _get(f"{address}/{document}")["document"]["state"] == "to correct")
    times = []
    for _ in range(10):
        started = time.perf_counter()
        _get(f"{address}/{document}")
        _get(f"{address}/{document}/rows?count=80")
        times.append(time.perf_counter() - started)
    return min(times)


def _get(address: str):  # type: ignore[no-untyped-def]
    try:
        return json.load(urllib.request.urlopen(address, timeout=60))
    except OSError:
        return None


def _until(done) -> None:  # type: ignore[no-untyped-def]
    waiting = threading.Event()
    end = time.monotonic() + 300
    while not done():
        if time.monotonic() > end:
            raise TimeoutError
        waiting.wait(0.01)


if __name__ == "__main__":
    main()
