"""Lines of justified text in narrow columns, whose spaces are as wide as tabs, and rows that do have tabs."""

from __future__ import annotations

import pytest

from tests.conftest import texts

PROSE = (
    "Every keeper acknowledges the instructions before the evening: lanterns are trimmed, chronometers compared, barometers "
    "noted, and whatever fishermen report of shoals and currents is entered in the journal of the harbour office at once. "
    "Visitors from neighbouring districts may inspect instruments, provided that somebody accompanies them throughout and no "
    "observation is thereby interrupted. Complaints concerning provisions belong in the quarterly account, never in letters."
)


@pytest.mark.parametrize("width", [38, 42, 50])
def test_stretched_spaces_are_no_tabs(rebuilt, typeset, width):
    source = f"#set par(justify: true)\n#set text(hyphenate: false)\n#block(width: {width}mm)[{PROSE}]"
    said = " ".join(texts(rebuilt(typeset(source))))
    assert "\t" not in said
    assert said.split() == PROSE.split()


def test_parts_that_begin_alike_row_by_row_keep_their_tabs(rebuilt, typeset):
    parts = ("north pier", "low water", "noon watch")
    row = "".join(f"#box(width: 30mm)[{part}]" for part in parts)
    said = texts(rebuilt(typeset(f"{PROSE}\n\n{row}\n\n{PROSE}")))
    assert "\t".join(parts) in said
