"""From one query to the next in the interface, on a scan of 300 pages with 3,000 queries: ``python bench/steps.py``.

The page is read once and stands for all, which changes nothing for the desk. Times are taken in the browser: from the key to the picture
after the one in which the next query is there.
"""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import doubts
import numpy as np
from chromium import CHROMIUM, FLAGS
from msgspec.structs import replace
from playwright.sync_api import sync_playwright

sys.path.insert(0, str(Path(__file__).parent.parent / "demo"))
import random

import scan_effects

from evenquill.core.reading.jobs import SourcePage, page_jobs
from evenquill.core.reading.pages import PagePool
from evenquill.core.source import PDF, SourceFacts
from evenquill.store import documents, jobs, pages, parts
from evenquill.store.database import connect, transaction
from evenquill.store.files import Files
from evenquill.store.jobs import JobKind
from evenquill.store.snapshots import Part

PAGES, STEPS = 300, 100
STUCK = 20.0
"""Seconds after which a step is given up."""

ODD_WORDS = 10
"""Words of a page that no list knows, each of which is a query."""

WATCH = """
window.times = [];
addEventListener('keydown', () => {
  const began = performance.now();
  const id = () => document.querySelector('.slip')?.dataset.query;
  const was = id();
  const done = () => window.times.push(performance.now() - began);
  const look = () => requestAnimationFrame(id() !== was ? done : look);
  look();
}, true);
"""


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        data = Path(name)
        made_document(data)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        server = subprocess.Popen(
            [sys.executable, "-m", "evenquill", "serve", "--port", str(port), "--data", name], start_new_session=True
        )
        try:
            count = open_queries(f"http://127.0.0.1:{port}/")
            kept, walked = steps(f"http://127.0.0.1:{port}/")
        finally:
            os.killpg(server.pid, signal.SIGKILL)
            server.wait()
    print(f"{PAGES} pages, {count} queries: from one query to the next, of {STEPS} steps each")
    for what, times in (("settled", kept), ("walked past", walked)):
        middle, slow = np.percentile(times, (50, 95))
        print(f"   {what}: {middle:.0f} ms in the middle, {slow:.0f} ms at the 95th percentile  (wanted: under 100)")


def made_document(data: Path) -> None:
    """A document whose pages are read; the server puts them together when it starts."""
    chance, noise = random.Random(4), np.random.default_rng(4)
    words = list(doubts.made_words("en", chance))
    for n in range(ODD_WORDS):
        words[n * len(words) // ODD_WORDS] = "".join(chance.choice("bcdfgklmnprstvwxz") for _ in range(7))
    source = data / "page.pdf"
    doubts.make_page(words, doubts.FONTS[0], source)
    scan = scan_effects.scanned(scan_effects.printed(scan_effects.drawn(source, 1, 200), noise), noise, specks=20)
    source.write_bytes(scan_effects.as_pdf([scan], 200, grey=True))
    files = Files(data)
    store = connect(data)
    kept, size = files.take_in([source.read_bytes()])
    with PagePool(1) as pool:
        (page,) = pool.read(page_jobs([SourcePage(1, str(source), 1)], files.pictures.folder))
    facts = SourceFacts(media=PDF, pages=PAGES, language="en")
    with transaction(store):
        documents.add(store, id="many", name="Many pages.pdf", source=kept, size=size, route="browser")
        parts.set_all(store, "many", [Part(kept, "Many pages.pdf", facts)])
        documents.set_facts(store, "many", facts)
        for number in range(1, PAGES + 1):
            pages.add(store, "many", replace(page, number=number))
        jobs.queue(store, "many", JobKind.READ)


def open_queries(address: str) -> int:
    """Waits until the document is put together and its words have shapes; returns how many queries are open."""
    end = time.monotonic() + 600
    while time.monotonic() < end:
        time.sleep(0.2)
        try:
            with urllib.request.urlopen(address + "api/documents", timeout=5) as answer:
                (row,) = json.load(answer)
            if row["state"] == "to correct" and not row["busy"]:
                with urllib.request.urlopen(address + "api/documents/many/queries", timeout=60) as answer:
                    return int(json.load(answer)["counts"]["open"])
        except OSError:
            continue
    raise TimeoutError("the document was not put together")


def steps(address: str) -> tuple[list[float], list[float]]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(WATCH)
        page.goto(address + "#/desk/many")
        page.locator("footer", has_text="open").wait_for(timeout=60_000)
        page.wait_for_timeout(3000)
        page.keyboard.press("q")
        page.locator(".slip").wait_for()
        out = []
        for key in ("0", "n"):
            page.wait_for_timeout(1000)
            page.evaluate("window.times = []")
            for n in range(STEPS):
                page.keyboard.press(key)
                until = time.monotonic() + STUCK
                while page.evaluate("window.times.length") <= n:
                    if time.monotonic() > until:
                        raise TimeoutError(f"step {n} with {key} led nowhere")
                    page.wait_for_timeout(20)
                page.wait_for_timeout(150)  # nobody is faster
            out.append(page.evaluate("window.times"))
        browser.close()
    return out[0], out[1]


if __name__ == "__main__":
    main()
