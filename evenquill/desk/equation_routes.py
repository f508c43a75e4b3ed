"""Routes for equations: those of a document, how they are drawn and said, and what the clerk types for one."""

from __future__ import annotations

import msgspec

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.picture import png
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.reader import read_equation
from evenquill.core.equations.speech import said
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import Places, known_commands
from evenquill.core.model import Equation, texts_of
from evenquill.core.model.equation import Node, problem_of
from evenquill.core.model.inline import spans
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError

MOST = 500
"""Equations that are drawn at once."""


class ToDraw(msgspec.Struct, frozen=True):
    """Equations, and the language (two letters) in which they are to be said."""

    equations: tuple[Equation, ...]
    language: str = "en"


class DrawnEquation(msgspec.Struct, frozen=True):
    """An equation as the browser draws it, as the clerk types it, and as it is said aloud. Of one that was typed, each part that is drawn
    says in ``data-typed`` which characters it was read from."""

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


class ToPicture(msgspec.Struct, frozen=True):
    """An equation that is wanted as a picture."""

    tree: Node
    display: bool = False


class EquationPicture(msgspec.Struct, frozen=True):
    """A PNG, in base64."""

    png: bytes


class TexCommand(msgspec.Struct, frozen=True):
    """A command of TeX that is read, without its backslash, and the sign that it stands for or what it makes."""

    name: str
    means: str


class EquationEntry(msgspec.Struct, frozen=True, omit_defaults=True):
    """An equation of a document: the ``place`` of its row and that row's id; the text that it is in (the row itself, or a text in a cell
    of it), and the character ``at`` which it stands there; the page that it came from (0 where it came from none)."""

    row: str
    place: int
    text: str
    at: int
    page: int
    equation: Equation


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/documents/{document}/equations", returns=list[EquationEntry])
    def of_document(document: str) -> list[EquationEntry]:
        """All equations of a document, in order, without those of rows that are set aside."""
        _, proof = context.open_documents.read(document)
        return [
            EquationEntry(block.id, place, text.id, at, text.spots[0].page if text.spots else 0, item)
            for place, block in enumerate(proof.blocks)
            if not block.excluded
            for text in texts_of(block)
            for at, item in spans(text.content)
            if isinstance(item, Equation)
        ]

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
        places = Places()
        try:
            tree = read_equation(body.typed, places)
        except EquationProblem as problem:
            return ReadEquation(problem=str(problem), at=problem.at)
        return ReadEquation(tree, _drawn(tree, display=body.display, language=body.language, places=places))

    @api.route("POST", "/api/equations/picture", body=ToPicture, returns=EquationPicture)
    def as_picture(body: ToPicture) -> EquationPicture:
        """An equation as a picture, to be put elsewhere."""
        problem = problem_of(body.tree)
        if problem:
            raise ApiError(422, "equation", problem)
        try:
            return EquationPicture(png(body.tree, display=body.display))
        except EquationProblem as error:
            raise ApiError(422, "equation", str(error)) from error


def _drawn(tree: Node, *, display: bool, language: str, places: Places | None = None) -> DrawnEquation:
    drawn = mathml(tree, display=display, places=None if places is None else places.get)
    return DrawnEquation(drawn, tex(tree), said(tree, language))
