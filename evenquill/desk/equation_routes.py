"""Routes for equations: how they are drawn and said, and what the clerk types for one."""

from __future__ import annotations

import msgspec

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.reader import read_equation
from evenquill.core.equations.speech import said
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import known_commands
from evenquill.core.model import Equation
from evenquill.core.model.equation import Node, problem_of
from evenquill.desk.endpoints import Api, ApiError

MOST = 500
"""Equations that are drawn at once."""


class ToDraw(msgspec.Struct, frozen=True):
    """Equations, and the language (two letters) in which they are to be said."""

    equations: tuple[Equation, ...]
    language: str = "en"


class DrawnEquation(msgspec.Struct, frozen=True):
    """An equation as the browser draws it, as the clerk types it, and as it is said aloud."""

    mathml: str
    tex: str
    said: str


class DrawnEquations(msgspec.Struct, frozen=True):
    """In the order in which they were asked for."""

    drawn: tuple[DrawnEquation, ...]


class TypedEquation(msgspec.Struct, frozen=True):
    """What was typed or pasted for an equation, in TeX or MathML."""

    typed: str
    display: bool = False
    language: str = "en"


class ReadEquation(msgspec.Struct, frozen=True):
    """What was typed, read: the ``tree`` and how it is drawn; or the ``problem`` with it, and the character that it begins ``at``."""

    tree: Node | None = None
    drawn: DrawnEquation | None = None
    problem: str = ""
    at: int = 0


class TexCommand(msgspec.Struct, frozen=True):
    """A command of TeX that is read, without its backslash, and the sign that it stands for or what it makes."""

    name: str
    means: str


def add_routes(api: Api) -> None:
    @api.route("GET", "/api/equations/commands", returns=list[TexCommand])
    def commands() -> list[TexCommand]:
        """The commands that may be typed for an equation, in order."""
        return [TexCommand(name, means) for name, means in known_commands()]

    @api.route("POST", "/api/equations/drawn", body=ToDraw, returns=DrawnEquations)
    def draw(body: ToDraw) -> DrawnEquations:
        """How equations are drawn, typed and said."""
        if len(body.equations) > MOST:
            raise ApiError(422, "equations", f"At most {MOST} equations are drawn at once.")
        for equation in body.equations:
            problem = problem_of(equation.tree)
            if problem:
                raise ApiError(422, "equations", problem)
        return DrawnEquations(
            tuple(_drawn(one.tree, display=one.display, language=body.language) for one in body.equations)
        )

    @api.route("POST", "/api/equations/read", body=TypedEquation, returns=ReadEquation)
    def read(body: TypedEquation) -> ReadEquation:
        """Reads an equation that was typed or pasted."""
        try:
            tree = read_equation(body.typed)
        except EquationProblem as problem:
            return ReadEquation(problem=str(problem), at=problem.at)
        return ReadEquation(tree, _drawn(tree, display=body.display, language=body.language))


def _drawn(tree: Node, *, display: bool, language: str) -> DrawnEquation:
    return DrawnEquation(mathml(tree, display=display), tex(tree), said(tree, language))
