"""Outcome of a document of 50 pages: how soon its pages are seen at first, and after a change: ``python bench/outcome.py``.

Times are those of the running server, from the request for the outcome until its first page is drawn.
"""

from __future__ import annotations

import statistics
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from manual import make_manual
from running_server import RunningServer

PAGES, CHANGES = 50, 10

LOOKS = 3.0
"""Seconds that a document is open on the desk before its outcome is asked for."""


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        server = RunningServer(folder / "data")
        try:
            document = server.take_in(make_manual(folder / "manual.pdf", PAGES))
            while (health := server.ask("GET", "/api/health"))["waiting"] or health["running"]:
                time.sleep(0.1)
            path = f"/api/documents/{document}"
            server.ask("GET", path)
            rows = server.ask("GET", f"{path}/rows?count=100")
            with ThreadPoolExecutor() as threads:  # as the desk shows pages beside the rows
                list(threads.map(lambda page: server.fetch("GET", f"{path}/strip?page={page}&scale=1"), range(1, 9)))
            time.sleep(LOOKS)
            first, pages = seen(server, path)
            print(f"{pages} pages first seen after {first:.2f} s  (wanted: at most 1.5)")
            revision, texts = rows["revision"], [row["id"] for row in rows["blocks"] if row["type"] == "text"]
            times = []
            for n, block in enumerate(texts[:CHANGES]):
                content = [{"type": "text", "text": f"The gauge at the pier was read {n} times."}]
                edit = {"op": "edit_text", "block": block, "content": content}
                answer = server.ask("POST", f"{path}/operations", {"revision": revision, "operation": edit})
                revision = answer["revision"]
                times.append(seen(server, path)[0])
            print(
                f"after a change: {statistics.median(times):.2f} s, {max(times):.2f} s at most of {len(times)}  (wanted: at most 1)"
            )
        finally:
            server.kill()


def seen(server: RunningServer, path: str) -> tuple[float, int]:
    """Seconds until the first page of the outcome is drawn, and how many pages there are."""
    started = time.perf_counter()
    outcome = server.ask("GET", f"{path}/outcome")
    server.fetch("GET", f"{path}/outcome/pages/1?revision={outcome['revision']}")
    return time.perf_counter() - started, len(outcome["pages"])


if __name__ == "__main__":
    main()
