"""Numbers of sections that the recogniser misread, and lines that are counted."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.evidence import Cleaned, Line, PageEvidence, PageKind, Type, Word
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.model import Box, Family
from evenquill.core.rebuild.misread_sections import with_sections_put_right
from evenquill.core.rebuild.structure.countings import CountedLine, counting_features

TEXT = Type("Liberation Serif", Family.SERIF, 10.0)
CLEANED = Cleaned("picture", "image/jpeg", 0, 0.0, False, False, True, False, 0, 595.0, (1.0,) * 9)


def page_of(*texts: str) -> PageEvidence:
    lines = []
    for n, text in enumerate(texts):
        y = 100.0 + 14 * n
        words = tuple(Word(word, 70 + 40 * k, 100 + 40 * k, 0, confidence=0.9) for k, word in enumerate(text.split()))
        lines.append(Line(Box(70, y - 9, words[-1].x1, y + 3), y, 10.0, words))
    return PageEvidence(1, 595, 842, PageKind.SCANNED, (TEXT,), tuple(lines), cleaned=CLEANED)


@pytest.mark.parametrize(
    ("read", "right"),
    [
        (["$ 1 Moorings", "A text", "$ 2 Floats"], ["§ 1 Moorings", "A text", "§ 2 Floats"]),
        (["§ 1 Moorings", "$ 2. Floats", "$ 3. Wells"], ["§ 1 Moorings", "§ 2. Floats", "§ 3. Wells"]),
        (["$ 4 for a float", "A text", "$ 9 for a well"], ["$ 4 for a float", "A text", "$ 9 for a well"]),
        (["I. Moorings", "A text", "ll. Floats", "Ill. Wells"], ["I. Moorings", "A text", "II. Floats", "III. Wells"]),
        (["1. Moorings", "11. Floats", "ll. Wells"], ["1. Moorings", "11. Floats", "ll. Wells"]),
    ],
)
def test_sections_that_those_before_tell_are_put_right(read, right):
    first, second = page_of(*read[:2]), page_of(*read[2:])
    found = [line for page in with_sections_put_right([first, second]) for line in page.lines]
    assert [line.text for line in found] == right
    assert [bool(line.words[0].others) for line in found] == [a != b for a, b in zip(read, right, strict=True)]
    native = replace(first, cleaned=None)
    assert with_sections_put_right([native])[0] is native


def test_countings_tell_sections_from_items():
    texts = [
        "Art. 1 Moorings",
        "They hold.",
        "1. ropes",
        "2. chains",
        "Art. 2 Floats",
        "They float.",
        "Art. 4 Wells",
        "7 o'clock",
    ]
    found = counting_features([CountedLine(text, 0.5) for text in texts])
    sections, items = (3.0, 3.0, 1.0, 0.5), (2.0, 1.0, 0.0, 0.5)
    assert found == {0: sections, 2: items, 3: items, 4: sections, 6: sections, 7: (1.0, UNMEASURED, 0.0, 0.5)}
