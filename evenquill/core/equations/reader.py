"""Equations as they are typed, pasted, or come in a file: TeX or MathML."""

from __future__ import annotations

from evenquill.core.equations.mathml_reader import read_mathml
from evenquill.core.equations.tex_reader import Places, read_tex
from evenquill.core.model.equation import Node


def read_equation(text: str, places: Places | None = None) -> Node:
    """The tree of an equation in TeX or in MathML, which begins with a tag. Raises EquationProblem.

    Where each part of TeX was read from goes into ``places``.
    """
    return read_mathml(text) if text.lstrip("\ufeff \t\r\n").startswith("<") else read_tex(text, places)
