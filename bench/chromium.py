"""How the benches start headless Chromium: Debian's package, without the network."""

from __future__ import annotations

CHROMIUM = "/usr/bin/chromium"

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
