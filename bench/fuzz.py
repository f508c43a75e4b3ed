"""Sources and bodies changed at random, guided by what code they reach (atheris, libFuzzer's way):
``python bench/fuzz.py [seconds for each] [sniffing|reading|bodies]``. Needs ``pip install -e .[fuzz]``.

A crash of the process or an error that nobody foresaw is a fault. What takes too much memory or time would end a worker in the product, and
its page would be said to be unreadable; that is counted apart. What anything was found by stays in the folder that is printed.
"""

from __future__ import annotations

import io
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path

import atheris

with atheris.instrument_imports(include=["evenquill"]):
    from evenquill.core.errors import SourceError
    from evenquill.core.reading import page_reader
    from evenquill.core.reading.jobs import PageJob, SourcePage
    from evenquill.core.source import examine

SECONDS = 600
MOST_BYTES = 20_000
SLOW_SECONDS = 60
MEMORY = 4_000
"""MB."""


def sniffing(folder: Path) -> Callable[[bytes], None]:
    """What a file is and says of itself."""

    def once(data: bytes) -> None:
        path = folder / "source"
        path.write_bytes(data)
        try:
            examine(path, repair_into=folder / "mended")
        except SourceError:
            return

    return once


def reading(folder: Path) -> Callable[[bytes], None]:
    """The first page of a file that can be opened."""
    number = 0

    def once(data: bytes) -> None:
        nonlocal number
        number += 1
        # Another name each time: open files are remembered by their names.
        path = folder / f"source {number % 50}"
        path.write_bytes(data)
        try:
            facts = examine(path)
        except SourceError:
            return
        if facts.pages:
            job = PageJob(SourcePage(1, str(path), 1), None, str(folder / "pictures"))
            page_reader.open_pdf.cache_clear()
            try:
                page_reader.read_job(job)
            except (ValueError, OSError, MemoryError):
                # It would be kept as a picture.
                page_reader.draw_job(job, "Page {page} could not be read.")

    return once


def bodies(folder: Path) -> Callable[[bytes], None]:
    """Requests to every address, the first byte choosing which."""
    from application import application

    client = _open.enter_context(application()).client
    rules = sorted(rule.rule for rule in client.application.url_map.iter_rules() if rule.rule.startswith("/api/"))

    def once(data: bytes) -> None:
        if not data:
            return
        path = rules[data[0] % len(rules)].replace("<", "").replace(">", "")
        for method in ("POST", "PUT", "PATCH", "DELETE"):
            answer = client.open(path, method=method, data=data[1:], content_type="application/json")
            if answer.status_code >= 500:
                raise RuntimeError(f"{method} {path}: {answer.text}")

    return once


_open = ExitStack()
"""What targets need until the end."""

TARGETS = {"sniffing": sniffing, "reading": reading, "bodies": bodies}


def _seeds(target: str, folder: Path) -> None:
    """Small sources and bodies to begin with."""
    import hostile
    import pdf_parts
    from PIL import Image

    if target == "bodies":
        for n, body in enumerate(
            (b'{"revision": 1, "operation": {"op": "exclude", "block": "a"}}', b'{"word": "x"}', b"{}")
        ):
            (folder / str(n)).write_bytes(bytes([n]) + body)
        return
    pdf_parts.written(folder / "page.pdf", b"BT /F 12 Tf 50 700 Td (The float was found.) Tj ET 50 600 m 300 600 l S")
    for name in ("ten levels of ten forms.pdf", "letters that draw themselves.pdf", "bookmarks in a circle.pdf"):
        hostile.SOURCES[name](folder / name)
    for form in ("PNG", "TIFF", "JPEG", "WEBP"):
        out = io.BytesIO()
        Image.linear_gradient("L").resize((40, 30)).save(out, form)
        (folder / f"picture.{form}").write_bytes(out.getvalue())


def fuzz(target: str, seconds: int, folder: Path) -> None:
    """In a process of its own: changes the seeds until the time is up."""
    (folder / "work").mkdir()
    once = TARGETS[target](folder / "work")
    options = [
        f"-max_total_time={seconds}", f"-max_len={MOST_BYTES}", f"-timeout={SLOW_SECONDS}", f"-rss_limit_mb={MEMORY}",
        f"-artifact_prefix={folder}/found-", "-print_final_stats=1", str(folder / "seeds"),
    ]  # fmt: skip
    atheris.Setup([sys.argv[0], *options], once)
    atheris.Fuzz()


def main() -> None:
    seconds = int(sys.argv[1]) if len(sys.argv) > 1 else SECONDS
    faults = 0
    for target in sys.argv[2:3] or TARGETS:
        folder = Path(tempfile.mkdtemp(prefix=f"evenquill-{target}-"))
        (folder / "seeds").mkdir()
        _seeds(target, folder / "seeds")
        tries = 0
        end = time.monotonic() + seconds
        while (left := round(end - time.monotonic())) > 0:
            command = [sys.executable, __file__, "--within", target, str(left), str(folder)]
            ran = subprocess.run(command, capture_output=True, text=True)
            tries += sum(
                int(line.split()[-1]) for line in ran.stderr.splitlines() if "number_of_executed_units" in line
            )
            crashes = list(folder.glob("found-crash-*"))
            if crashes or not ran.returncode:
                break
        limits = len(list(folder.glob("found-*"))) - len(crashes)
        print(
            f"{target}: {tries} tries, {len(crashes)} faults; {limits} beyond the memory or the time of a worker  ({folder})",
            flush=True,
        )
        if crashes:
            print(ran.stderr[-3000:])
        faults += len(crashes)
    sys.exit(bool(faults))


if __name__ == "__main__":
    if sys.argv[1:2] == ["--within"]:
        fuzz(sys.argv[2], int(sys.argv[3]), Path(sys.argv[4]))
    else:
        main()
