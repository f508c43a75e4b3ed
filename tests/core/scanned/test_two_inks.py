"""Lines with words in two inks: links in colour, contents whose page numbers are black, a coloured word in a line of prose."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects

from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster

PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the orifice "
    "cleared of weed and the float hung again on a new wire."
)
RED = "#let red(it) = text(fill: rgb(200, 20, 30), it)\n"


@pytest.fixture
def lines(typeset, pictures):
    """The lines of a page of Typst source, printed and scanned at 200 dpi."""

    def make(source: str):
        picture = scan_effects.drawn(typeset(f'#set text(font: "Libertinus Serif", size: 11pt)\n{RED}{source}'), 1, 200)
        page = scan_effects.printed(picture, np.random.default_rng(2))
        return read_scan(Scan(Raster(page, 200)), 1, pictures.keep)

    return make


def test_coloured_words_stand_in_their_line_of_prose(lines):
    evidence = lines(
        f"{PROSE}\n\nThe record of the #red[second gauge] is whole, see the table in section #red[4.2] of the report, and the "
        f"note on the old datum of the harbour [#red[17]].\n\n{PROSE}"
    )
    text = " ".join(line.text for line in evidence.lines)
    assert "record of the second gauge is whole" in text
    assert "in section 4.2 of the" in text
    assert "[17]." in text
    coloured = [word.text for line in evidence.lines for word in line.words if evidence.types[word.type].color]
    assert coloured == ["second", "gauge", "4.2", "17"]
    assert len({evidence.types[word.type].size for line in evidence.lines for word in line.words}) == 1


def test_what_is_black_behind_a_coloured_entry_is_in_its_line(lines):
    entries = ["The float and the well", "The pen and the drum of the recorder", "How the tide is told", "The clock"]
    listed = "\n\n".join(f"#red[{entry}] on page {page}" for entry, page in zip(entries, (3, 14, 27, 31), strict=True))
    texts = [line.text for line in lines(f"{listed}\n\n{PROSE}").lines]
    assert texts[:4] == [f"{entry} on page {page}" for entry, page in zip(entries, (3, 14, 27, 31), strict=True)]


def test_a_coloured_column_beside_a_black_one_is_no_part_of_its_lines(lines):
    evidence = lines(f"#grid(columns: (1fr, 1fr), gutter: 30pt, [{PROSE}], red[{PROSE}])")
    assert all(len({evidence.types[word.type].color for word in line.words}) == 1 for line in evidence.lines)
    assert len(evidence.lines) > 8
