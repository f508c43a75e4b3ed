"""Shapes that frame text, or lead on beside it: what they frame stays text, whatever has curved or slanted parts."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import PictureKind
from tests.conftest import texts

FRAME = """#place(dx: 90mm, rect(width: 60mm, height: 32mm, radius: 4mm, fill: luma(240))[
  #place(dx: 4mm, dy: 3mm)[Harbour office] #place(dx: 4mm, dy: 11mm)[Quay 4] #place(dx: 4mm, dy: 19mm)[office\\@stillwater.example]])
#v(45mm)
The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote."""

DOUBLE = """#let outline(left, right, top, bottom) = (curve.move((left, top + 2mm)),
  curve.cubic((left, top + 1mm), (left + 1mm, top), (left + 2mm, top)), curve.line((right, top)),
  curve.line((right, bottom)), curve.line((left, bottom)), curve.close())
#place(curve(fill: blue, fill-rule: "even-odd", ..outline(0mm, 100mm, 0mm, 12mm), ..outline(1mm, 99mm, 1mm, 11mm)))
#place(dx: 6mm, dy: 4mm)[Never at spring tide]"""

SIGN = """#place(dx: 2mm, dy: 2mm, circle(radius: 7mm, fill: luma(180)))
#place(dy: 9mm, line(length: 60mm)) #place(dx: 60mm, dy: 9mm, line(angle: 90deg, length: 90mm))
#place(dx: 20mm, dy: 30mm)[Name] #place(dx: 66mm, dy: 30mm)[Ada Quell]
#place(dx: 20mm, dy: 50mm)[Address] #place(dx: 66mm, dy: 50mm)[Quay 4]
#place(dx: 20mm, dy: 70mm)[Telephone] #place(dx: 66mm, dy: 70mm)[555 0134]"""

CHART = """#place(dx: 10mm, dy: 5mm, rect(width: 80mm, height: 50mm))
#place(dx: 10mm, dy: 5mm, curve(stroke: 1pt, curve.move((2mm, 40mm)), curve.line((30mm, 10mm)), curve.line((75mm, 44mm))))
#place(dx: 60mm, dy: 8mm, text(8pt)[Spring tides]) #place(dx: 60mm, dy: 13mm, text(8pt)[Neap tides])
#place(dx: 15mm, dy: 40mm, text(8pt)[Stillwater])
#v(60mm)
The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote."""

STEPS = """#let step(x, y, it) = place(dx: x, dy: y, rect(width: 30mm, height: 10mm, radius: 2mm)[#it])
#let arrow(x, y) = { place(dx: x, dy: y, line(length: 8mm, angle: 90deg))
  place(dx: x - 1mm, dy: y + 7mm, polygon(fill: black, (0mm, 0mm), (2mm, 0mm), (1mm, 3mm))) }
#step(20mm, 0mm)[Read] #arrow(35mm, 10mm) #step(20mm, 20mm)[Check] #arrow(35mm, 30mm) #step(20mm, 40mm)[Send]
#v(60mm)
The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote."""


def test_lines_in_a_frame_with_round_corners_are_text_on_its_ground(typeset, read, rebuilt):
    path = typeset(FRAME)
    (page,) = read(path)
    assert page.pictures == ()
    assert [fill.color for fill in page.fills] == ["f0f0f0"]
    assert all(part in "\n".join(texts(rebuilt(path))) for part in ("Harbour office", "Quay 4", "office@"))


def test_a_frame_may_be_drawn_as_one_path_within_another(typeset, read):
    (page,) = read(typeset(DOUBLE))
    assert page.pictures == ()
    assert [line.text for line in page.lines] == ["Never at spring tide"]


def test_rules_that_lead_on_from_a_sign_take_no_words_into_the_drawing(typeset, read):
    (page,) = read(typeset(SIGN))
    (sign,) = page.pictures
    assert sign.kind is PictureKind.DRAWING
    assert sign.box.height < 60
    assert {line.text for line in page.lines} == {"Name", "Ada Quell", "Address", "Quay 4", "Telephone", "555 0134"}
    assert sum(not rule.horizontal for rule in page.rules) == 1


@pytest.mark.parametrize(
    ("drawing", "labels"), [(CHART, "Spring tides Neap tides Stillwater"), (STEPS, "Read Check Send")]
)
def test_labels_within_a_drawing_stay_its_labels(typeset, read, drawing, labels):
    (page,) = read(typeset(drawing))
    (picture,) = page.pictures
    assert picture.kind is PictureKind.DRAWING
    assert picture.words == labels
    assert not any(line.text in labels for line in page.lines)
