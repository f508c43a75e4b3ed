"""Debian packages whose files the corpus is made from: typefaces, prose in many languages, documents with their sources.

They are fetched as files and unpacked into a folder; nothing is installed on the machine.
"""

from __future__ import annotations

import subprocess
from pathlib import Path

TYPEFACES = (
    "fonts-adf-accanthis",
    "fonts-adf-baskervald",
    "fonts-adf-gillius",
    "fonts-adf-romande",
    "fonts-adf-tribun",
    "fonts-adf-universalis",
    "fonts-anonymous-pro",
    "fonts-cabin",
    "fonts-cantarell",
    "fonts-cardo",
    "fonts-comfortaa",
    "fonts-courier-prime",
    "fonts-crosextra-caladea",
    "fonts-crosextra-carlito",
    "fonts-dejavu-core",
    "fonts-dejavu-extra",
    "fonts-dosis",
    "fonts-ebgaramond",
    "fonts-fanwood",
    "fonts-firacode",
    "fonts-gfs-artemisia",
    "fonts-gfs-didot",
    "fonts-gfs-neohellenic",
    "fonts-goudybookletter",
    "fonts-hack-ttf",
    "fonts-inconsolata",
    "fonts-inter",
    "fonts-jetbrains-mono",
    "fonts-junicode",
    "fonts-karla",
    "fonts-lato",
    "fonts-liberation2",
    "fonts-linuxlibertine",
    "fonts-noto-mono",
    "fonts-oldstandard",
    "fonts-open-sans",
    "fonts-quattrocento",
    "fonts-roboto-slab",
    "fonts-roboto-unhinted",
    "fonts-texgyre",
    "fonts-urw-base35",
    "fonts-vollkorn",
)

PROSE = (
    "installation-guide-amd64",
    "fortunes",
    "fortunes-de",
    "fortunes-es",
    "fortunes-it",
    "fortunes-pl",
    "fortunes-cs",
)


def fetch(names: tuple[str, ...], folder: Path) -> list[str]:
    """Downloads packages and unpacks them below ``folder / "root"``; those that are there are left. Returns names that cannot be had."""
    downloads, root = folder / "packages", folder / "root"
    downloads.mkdir(parents=True, exist_ok=True)
    root.mkdir(exist_ok=True)
    missing = []
    for name in names:
        if not list(downloads.glob(f"{name}_*.deb")):
            done = subprocess.run(["apt-get", "download", name], cwd=downloads, capture_output=True)
            if done.returncode:
                missing.append(name)
                continue
            for file in downloads.glob(f"{name}_*.deb"):
                subprocess.run(["dpkg-deb", "-x", file, root], check=True)
    return missing
