"""Which typefaces of the unpacked packages a way of setting can use in full."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Collection
from dataclasses import replace
from functools import cache
from pathlib import Path

from .look import MONO, SANS, SERIF, WITH_CYRILLIC, Look

BOLD = 180
"""What fontconfig calls demi-bold; regular is 80."""


def use_typefaces(folder: Path) -> None:
    """Makes all typefaces of the unpacked packages known to what asks fontconfig."""
    config = folder / "fonts.conf"
    config.write_text(
        f"<?xml version='1.0'?><!DOCTYPE fontconfig SYSTEM 'fonts.dtd'><fontconfig><dir>{folder / 'root/usr/share/fonts'}</dir>"
        f"<cachedir>{folder / 'fontcache'}</cachedir></fontconfig>"
    )
    os.environ["FONTCONFIG_FILE"] = str(config)


def with_whole_typefaces(look: Look, language: str, whole: Collection[str]) -> Look:
    """The look in typefaces that have bold and slanted letters, for a way of setting that makes up none: the truth says bold and italic
    where it was asked for, and the page must show it. A typeface that is not ``whole`` gives way to the next of its sort."""
    among = WITH_CYRILLIC if language == "ru" else ()

    def chosen(name: str) -> str:
        names = among or next(names for names in (SERIF, SANS, MONO) if name in names)
        at = names.index(name)
        return next((other for other in (*names[at:], *names[:at]) if other in whole), name)

    return replace(look, text_font=chosen(look.text_font), head_font=chosen(look.head_font))


@cache
def whole_typefaces() -> frozenset[str]:
    """Those of ``use_typefaces`` with files of their own for bold, and for italic or oblique."""
    listed = subprocess.run(
        ["fc-list", "--format", "%{family[0]}|%{weight}|%{slant}|%{index}\n"],
        capture_output=True,
        text=True,
        check=True,
    )
    return whole_among(listed.stdout)


def whole_among(listed: str) -> frozenset[str]:
    """The families that have bold and slanted letters, of lines of family, weight, slant and index; instances of variable fonts, which
    not all ways of setting know, are left out (index over 65535)."""
    bold, slanted = set(), set()
    for line in listed.splitlines():
        family, weight, slant, index = line.split("|")
        if not (weight.isdigit() and slant.isdigit()) or int(index) > 65535:
            continue
        if int(weight) >= BOLD:
            bold.add(family)
        if int(slant):
            slanted.add(family)
    return frozenset(bold & slanted)
