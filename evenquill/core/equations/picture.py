"""Equations as pictures, set by typst."""

from __future__ import annotations

import math
from typing import Literal

import typst as compiler
from lxml import etree

from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.typst import typst
from evenquill.core.model.equation import Node

PIXELS_PER_INCH = 300.0
MOST_PIXELS = 20_000_000
"""A longer equation has fewer pixels to the inch."""

POINTS_PER_INCH = 72.0

_PAGE = '#set page(width: auto, height: auto, margin: 2pt, fill: white)\n#set text(size: 12pt, font: "New Computer Modern")\n'
"""As large as the equation; the typefaces are those that the compiler brings along."""


def png(tree: Node, *, display: bool) -> bytes:
    """A sound equation as a picture, in 12 points on white. Raises EquationProblem where it cannot be drawn."""
    markup = typst(tree)
    page = (_PAGE + (f"$ {markup} $" if display else f"${markup}$")).encode()
    drawing = etree.fromstring(_compiled(page, "svg"))
    width, height = (
        float(drawing.get(name, "0pt").removesuffix("pt")) / POINTS_PER_INCH for name in ("width", "height")
    )
    return _compiled(page, "png", min(PIXELS_PER_INCH, math.sqrt(MOST_PIXELS / (width * height))))


def _compiled(page: bytes, form: Literal["svg", "png"], pixels_per_inch: float | None = None) -> bytes:
    try:
        made = compiler.compile(page, format=form, ppi=pixels_per_inch, ignore_system_fonts=True)
    except RuntimeError as error:
        raise EquationProblem("The equation cannot be drawn as a picture.", 0) from error
    if not isinstance(made, bytes):
        raise EquationProblem("The equation is too large for one picture.", 0)
    return made
