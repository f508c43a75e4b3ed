"""From one query to the next in the interface, on a scan of 300 pages with 3,000 queries: ``python bench/steps.py``.

The page is read once and stands for all, which changes nothing for the desk. Times are taken in the browser: from the key to the picture
after the one in which the next query is there.
"""

from __future__ import annotations

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
from msgspec.structs import replace
from playwright.sync_api import sync_playwright

sys.path.insert(0, str(Path(__file__).parent.parent / "demo"))
import random

import weathering

from evenquill.core.reading.jobs import Leaf, page_jobs
from evenquill.core.reading.pages import PagePool
from evenquill.core.source import PDF, SourceFacts
from evenquill.desk.look_alikes import take_shapes
from evenquill.desk.reading import rebuild_job
from evenquill.store import documents, pages, parts, queries
from evenquill.store.database import connect, transaction
from evenquill.store.documents import State
from evenquill.store.files import Files

PAGES, STEPS = 300, 100
STUCK = 20.0
"""Seconds after which a step is given up."""

ODD_WORDS = 10
"""Words of a page that no list knows, each of which is a query."""

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
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
        count = made_document(data)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        server = subprocess.Popen(
            [sys.executable, "-m", "evenquill", "serve", "--port", str(port), "--data", name], start_new_session=True
        )
        try:
            kept, walked = steps(f"http://127.0.0.1:{port}/")
        finally:
            os.killpg(server.pid, signal.SIGKILL)
            server.wait()
    print(f"{PAGES} pages, {count} queries: from one query to the next, of {STEPS} steps each")
    for what, times in (("settled", kept), ("walked past", walked)):
        middle, slow = np.percentile(times, (50, 95))
        print(f"   {what}: {middle:.0f} ms in the middle, {slow:.0f} ms at the 95th percentile  (wanted: under 100)")


def made_document(data: Path) -> int:
    chance, noise = random.Random(4), np.random.default_rng(4)
    words = list(doubts.made_words("en", chance))
    for n in range(ODD_WORDS):
        words[n * len(words) // ODD_WORDS] = "".join(chance.choice("bcdfgklmnprstvwxz") for _ in range(7))
    source = data / "page.pdf"
    doubts.make_page(words, doubts.FONTS[0], source)
    scan = weathering.scanned(weathering.printed(weathering.drawn(source, 1, 200), noise), noise, specks=20)
    source.write_bytes(weathering.as_pdf([scan], 200, grey=True))
    files = Files(data)
    store = connect(data)
    kept, size = files.take_in([source.read_bytes()])
    with PagePool(1) as pool:
        (page,) = pool.read(page_jobs([Leaf(1, str(source), 1)], files.pictures.folder))
    facts = SourceFacts(media=PDF, pages=PAGES, language="en")
    with transaction(store):
        documents.add(store, id="many", name="Many pages.pdf", source=kept, size=size, route="browser")
        parts.add(store, "many", [(kept, "Many pages.pdf")])
        parts.set_facts(store, "many", 0, facts)
        documents.set_facts(store, "many", facts)
        for number in range(1, PAGES + 1):
            pages.add(store, "many", replace(page, number=number))
    started = time.perf_counter()
    rebuild_job(str(data), "many", None)
    print(f"rebuilt, doubts found: {time.perf_counter() - started:.1f} s")
    take_shapes(str(data), "many")
    documents.set_state(store, "many", State.TO_CORRECT)
    return queries.counts(store, "many").open


def steps(address: str) -> tuple[list[float], list[float]]:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        try:
            urllib.request.urlopen(address + "api/documents", timeout=5).close()
            break
        except OSError:
            time.sleep(0.1)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
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
