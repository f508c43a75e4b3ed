"""Scans of made documents as examples: of bold and slanted words, and of words read wrongly."""

from __future__ import annotations

import numpy as np
import scan_effects
from corpus.evidence import read_all
from corpus.looks import known_looks
from corpus.words import judged_words
from sheets import PROSE


def test_words_of_a_scan_are_known_by_the_page_that_was_scanned(typeset, tmp_path):
    first, rest = PROSE.split(" ", 10)[:10], PROSE.split(" ", 10)[10]
    source = typeset(f"#strong[{' '.join(first)}] #emph[keepers] {rest}")
    made, scans = tmp_path / "made" / "letter-1", tmp_path / "scans" / "letter-1"
    made.mkdir(parents=True)
    scans.mkdir(parents=True)
    (made / "source.pdf").write_bytes(source.read_bytes())
    assert read_all([made], 1) == []
    page = scan_effects.printed(scan_effects.drawn(source, 1, 200), np.random.default_rng(4))
    (scans / "source.pdf").write_bytes(scan_effects.as_pdf([page]))
    known = list(known_looks(scans))
    bold = [label for kind, _, label in known if kind == "bold"]
    italic = [label for kind, _, label in known if kind == "italic"]
    assert len(bold) == len(italic) > 0.9 * len([word for word in PROSE.split() if len(word) > 1])
    assert sum(bold) == len([word for word in first if len(word) > 1])
    assert sum(italic) == 1
    (made / "evidence").unlink()
    assert list(known_looks(scans)) == []


def test_words_of_a_scan_are_wrong_where_none_like_them_were_printed(typeset, tmp_path):
    source, other = typeset(PROSE, "printed"), typeset(PROSE.replace("float", "flcat"), "misprinted")
    made, scans = tmp_path / "made" / "letter-1", tmp_path / "scans" / "letter-1"
    for folder in (made, scans):
        folder.mkdir(parents=True)
        (folder / "expected.json").write_text('{"language": "en"}')
    (made / "source.pdf").write_bytes(source.read_bytes())
    page = scan_effects.printed(scan_effects.drawn(other, 1, 200), np.random.default_rng(4))
    (scans / "source.pdf").write_bytes(scan_effects.as_pdf([page]))
    assert read_all([made, scans], 1) == []
    judged = list(judged_words(scans))
    assert len(judged) == len(PROSE.split())
    assert {kind for kind, _, _ in judged} == {"word"}
    assert sum(wrong for _, _, wrong in judged) == PROSE.count("float") > 0
