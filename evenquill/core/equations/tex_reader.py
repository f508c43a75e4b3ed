"""TeX as the clerk types or pastes it -> the tree of an equation.

What LaTeX and amsmath have for mathematics is read; what is not known is said, with its place.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from evenquill.core.equations.pairs import with_pairs
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.signs import COMBINING, FUNCTIONS, INTEGRALS, NARY, WITH_LIMITS, plain_letter
from evenquill.core.equations.tex_names import ACCENT_NAMES, NAMES
from evenquill.core.model.equation import (
    DEEPEST,
    Accent,
    Fence,
    Fraction,
    Gap,
    Grid,
    GridKind,
    Identifier,
    Letterform,
    Limits,
    Node,
    Number,
    Operator,
    Phrase,
    Root,
    Row,
    Scripts,
    children_of,
    parts_of,
    problem_of,
    row_of,
)

LONGEST = 20_000
"""Characters of TeX that are read."""

_TOKEN = re.compile(r"\\(?:[A-Za-z]+\*?|.)|\s+|%[^\n]*|.", re.DOTALL)
_SIGNS = {name: sign for sign, name in reversed(NAMES.items())} | {
    "le": "≤", "ge": "≥", "ne": "≠", "rightarrow": "→", "gets": "←", "land": "∧", "lor": "∨", "lnot": "¬", "dots": "…", "dotsc": "…",
    "dotsb": "⋯", "lbrace": "{", "rbrace": "}", "vert": "|", "lvert": "|", "rvert": "|", "Vert": "‖", "lVert": "‖", "rVert": "‖",
    "colon": ":", "prime": "′", "cdotp": "·", "Longrightarrow": "⟹", "Longleftrightarrow": "⟺", "varnothing": "∅", "hslash": "ℏ",
    "Box": "□", "backslash": "∖", "lt": "<", "gt": ">", "bigl": "", "owns": "∋", "degree": "°", "omicron": "ο", "copyright": "©",
}  # fmt: skip
_ACCENTS = {name: sign for sign, name in ACCENT_NAMES.items()} | {
    "widehat": "^", "widetilde": "~", "overline": "¯", "overrightarrow": "→", "mathaccent": "^",
}  # fmt: skip
_FORMS = {
    "mathrm": Letterform.UPRIGHT, "mathbf": Letterform.BOLD, "boldsymbol": Letterform.BOLD_ITALIC, "bm": Letterform.BOLD_ITALIC,
    "mathcal": Letterform.SCRIPT, "mathscr": Letterform.SCRIPT, "mathfrak": Letterform.FRAKTUR, "mathbb": Letterform.DOUBLE_STRUCK,
    "mathsf": Letterform.SANS_SERIF, "mathtt": Letterform.MONOSPACE, "mathit": Letterform.ITALIC, "symbf": Letterform.BOLD,
}  # fmt: skip
_TEXTS = frozenset({"text", "textrm", "mbox", "hbox", "textnormal", "textit", "textbf"})
_GAPS = {
    ",": 0.17,
    ":": 0.22,
    ";": 0.28,
    " ": 0.25,
    "quad": 1.0,
    "qquad": 2.0,
    "!": 0.0,
    "enspace": 0.5,
    "thinspace": 0.17,
    ">": 0.22,
}
_NOTHING_NAMES = (
    "displaystyle textstyle scriptstyle scriptscriptstyle limits nolimits nonumber notag big Big bigg Bigg bigl bigr Bigl Bigr "
    "biggl biggr Biggl Biggr bigm Bigm mathstrut relax allowbreak mathop mathbin mathrel mathord mathopen mathclose mathpunct "
    "mathinner"
)
_NOTHING = frozenset(_NOTHING_NAMES.split())
_FENCES = {
    "pmatrix": ("(", ")"),
    "bmatrix": ("[", "]"),
    "Bmatrix": ("{", "}"),
    "vmatrix": ("|", "|"),
    "Vmatrix": ("‖", "‖"),
    "cases": ("{", ""),
    "dcases": ("{", ""),
}
_MATRICES = frozenset({*_FENCES, "matrix", "smallmatrix", "array"})
_LINES_NAMES = "aligned align align* split gathered gather gather* eqnarray eqnarray* multline multline* alignedat equation equation*"
_LINES = frozenset(_LINES_NAMES.split())


_BUILDING = {
    "frac": "fraction", "sqrt": "root", "binom": "binomial", "left": "fence that grows", "right": "end of a fence", "begin": "grid, lines",
    "end": "end of a grid", "text": "words", "underbrace": "brace below", "overbrace": "brace above", "overset": "something above",
    "underset": "something below", "operatorname": "name of a function", "overline": "line over", "underline": "line under",
    "mathbf": "bold", "mathbb": "double-struck", "mathcal": "script", "mathfrak": "Fraktur", "mathrm": "upright", "quad": "wide gap",
    "qquad": "wider gap",
}  # fmt: skip
"""Commands that put something together, and what they make."""


def known_commands() -> list[tuple[str, str]]:
    """The commands that are read, without the backslash, in order, each with the sign that it stands for or what it makes."""
    signs = {name: sign for name, sign in _SIGNS.items() if sign and name.isalpha()}
    accents = {name: f"x{COMBINING[sign]}" for name, sign in _ACCENTS.items() if sign in COMBINING}
    functions = {name: name for name in FUNCTIONS}
    return sorted({**accents, **signs, **functions, **_BUILDING}.items(), key=lambda item: (item[0].lower(), item[0]))


class _Token(NamedTuple):
    text: str
    at: int


class Places:
    """Which characters of the text each part of an equation was read from."""

    def __init__(self) -> None:
        self._kept: dict[int, tuple[Node, int, int]] = {}

    def put(self, node: Node, start: int, end: int) -> None:
        """A part that was read from more than one stretch keeps the first: the smallest."""
        self._kept.setdefault(id(node), (node, start, end))

    def get(self, node: Node) -> tuple[int, int] | None:
        """The first character and the one after the last; of a part put together later those of all that is in it; None if unknown."""
        known = self._kept.get(id(node))
        if known is not None:
            return known[1:]
        inner = [place for child in children_of(node) if (place := self.get(child)) is not None]
        return (min(start for start, _ in inner), max(end for _, end in inner)) if inner else None


def read_tex(text: str, places: Places | None = None) -> Node:
    """The tree of an equation in TeX, with or without the signs that mathematics is put between. Raises EquationProblem.

    Where each part was read from goes into ``places``.
    """
    if len(text) > LONGEST:
        raise EquationProblem(f"An equation may have {LONGEST:,} characters at most.", LONGEST)
    start, end = _within(text)
    tokens = [_Token(found.group(), start + found.start()) for found in _TOKEN.finditer(text[start:end])]
    reader = _Reader([token for token in tokens if not token.text.startswith("%")], end, places or Places())
    tree = reader.whole()
    sentence = problem_of(tree)
    if sentence:
        raise EquationProblem(sentence, 0)
    return tree


def _within(text: str) -> tuple[int, int]:
    """Where the equation begins and ends in a text that may have signs for mathematics around it."""
    start, end = len(text) - len(text.lstrip()), len(text.rstrip())
    for opening, closing in (("$$", "$$"), ("$", "$"), (r"\(", r"\)"), (r"\[", r"\]")):
        if (
            text[start:end].startswith(opening)
            and text[start:end].endswith(closing)
            and end - start >= len(opening) + len(closing)
        ):
            return start + len(opening), end - len(closing)
    return start, end


class _Reader:
    def __init__(self, tokens: list[_Token], end: int, places: Places) -> None:
        self.tokens = tokens
        self.n = 0
        self.end = end
        self.depth = 0
        self.places = places

    def whole(self) -> Node:
        tree = self.row(frozenset())
        if self.peek() is not None:
            raise self.problem("There is a } or an \\end too many.")
        if not parts_of(tree):
            raise EquationProblem("There is nothing to read.", 0)
        return tree

    def problem(self, sentence: str) -> EquationProblem:
        token = self.tokens[self.n] if self.n < len(self.tokens) else None
        return EquationProblem(sentence, token.at if token is not None else self.end)

    def peek(self) -> str | None:
        while self.n < len(self.tokens) and self.tokens[self.n].text.isspace():
            self.n += 1
        return self.tokens[self.n].text if self.n < len(self.tokens) else None

    def next(self) -> str:
        text = self.peek()
        if text is None:
            raise self.problem("Something is missing at the end.")
        self.n += 1
        return text

    def row(self, stops: frozenset[str]) -> Node:
        """Everything up to one of the stops, which is left where it is."""
        self.depth += 1
        if self.depth > DEEPEST:
            raise self.problem(f"The equation has parts within parts more than {DEEPEST} deep.")
        parts: list[Node] = []
        while True:
            text = self.peek()
            if text is None or text in stops or text in ("}", r"\end", "&", r"\\", r"\right"):
                break
            parts.append(self.scripted())
        self.depth -= 1
        return row_of(with_pairs(self.with_numbers([part for part in parts if part != Row()]), self.together))

    def scripted(self) -> Node:
        """One thing with what stands below and above it; its place is kept."""
        self.peek()
        start = self.tokens[self.n].at
        return self.placed(start, self.with_scripts())

    def with_scripts(self) -> Node:
        base: Node = Row() if self.peek() in ("^", "_", "'") else self.one()
        low: Node | None = None
        high: list[Node] = []
        limits = False
        while (sign := self.peek()) in ("^", "_", "'", r"\limits"):
            self.n += 1
            if sign == r"\limits":
                limits = True
            elif sign == "'":
                high.append(Operator("′"))
            elif sign == "^":
                high.append(self.one())
            elif low is None:
                low = self.one()
            else:
                self.n -= 1
                raise self.problem("Something stands below the same thing twice.")
        if low is None and not high:
            return base
        above = row_of(high) if high else None
        return Limits(base, low, above) if limits or _has_limits(base) else Scripts(base, low, above)

    def one(self) -> Node:
        """One thing without scripts; its place is kept."""
        self.peek()
        start = self.tokens[self.n].at if self.n < len(self.tokens) else self.end
        return self.placed(start, self.single())

    def placed(self, start: int, node: Node) -> Node:
        """What was read from a place up to here, with that kept."""
        last = self.n - 1
        while self.tokens[last].text.isspace():
            last -= 1
        self.places.put(node, start, self.tokens[last].at + len(self.tokens[last].text))
        return node

    def single(self) -> Node:
        text = self.next()
        if text == "{":
            inner = self.row(frozenset())
            self.expect("}", "A { is not closed.")
            return inner
        if text.startswith("\\"):
            return self.command(text[1:])
        if text in "^_}&":
            self.n -= 1
            raise self.problem(f"There is nothing that the {text} could belong to.")
        plain, form = plain_letter(text)
        if plain.isdigit():
            return Number(plain, form or Letterform.UPRIGHT)
        if plain.isalpha():
            return Identifier(plain, form or Letterform.ITALIC)
        return Gap(0.25) if text == "~" else Operator({"-": "−", "*": "∗"}.get(text, text))

    def expect(self, wanted: str, sentence: str) -> None:
        if self.peek() != wanted:
            raise self.problem(sentence)
        self.n += 1

    def command(self, name: str) -> Node:
        if name in ("frac", "dfrac", "tfrac", "cfrac"):
            return Fraction(self.one(), self.one())
        if name in ("binom", "dbinom", "tbinom"):
            return Fence("(", Fraction(self.one(), self.one(), bar=False), ")")
        if name == "genfrac":
            for _ in range(4):
                self.one() if self.peek() != "{" else self.letters()
            return Fraction(self.one(), self.one(), bar=False)
        if name == "sqrt":
            return self.root()
        if name == "left":
            return self.fence()
        if name in _ACCENTS:
            return Accent(self.one(), _ACCENTS[name])
        if name == "underline":
            return Accent(self.one(), "¯", below=True)
        if name in ("underbrace", "overbrace"):
            return Accent(self.one(), "⏟" if name == "underbrace" else "⏞", below=name == "underbrace")
        if name in ("overset", "stackrel"):
            over = self.one()
            return Limits(self.one(), over=over)
        if name == "underset":
            under = self.one()
            return Limits(self.one(), under)
        if name == "begin":
            return self.environment()
        if name in _TEXTS:
            return Phrase(self.letters() or " ")
        if name in ("operatorname", "operatorname*"):
            return Identifier(self.letters() or " ", Letterform.UPRIGHT)
        if name in _FORMS:
            return _formed(self.one(), _FORMS[name])
        return self.sign(name)

    def sign(self, name: str) -> Node:
        """A command that stands for a sign, a name or a space."""
        if name in FUNCTIONS and name not in ("Re", "Im"):
            return Identifier(name, Letterform.UPRIGHT)
        if name in _GAPS:
            return Gap(_GAPS[name]) if _GAPS[name] >= 1 else Row()
        if name in _NOTHING:
            return Row()
        if name == "|":
            return Operator("‖")
        if name == "not":
            base = self.one()
            return (
                Operator({"=": "≠", "∈": "∉"}.get(base.text, base.text + "\u0338"))
                if isinstance(base, Operator)
                else base
            )
        sign = _SIGNS.get(name)
        if sign is None:
            self.n -= 1
            raise self.problem(f"\\{name} is not known.")
        return (
            Identifier(sign, Letterform.UPRIGHT if sign.isupper() else Letterform.ITALIC)
            if sign.isalpha()
            else Operator(sign)
        )

    def root(self) -> Node:
        index: Node | None = None
        if self.peek() == "[":
            self.n += 1
            index = self.row(frozenset({"]"}))
            self.expect("]", "A [ is not closed.")
        return Root(self.one(), index)

    def fence(self) -> Node:
        opening = self.fence_sign()
        body = self.row(frozenset())
        self.expect(r"\right", "A \\left has no \\right.")
        return Fence(opening, body, self.fence_sign())

    def fence_sign(self) -> str:
        text = self.next()
        if text == ".":
            return ""
        if text == r"\|":
            return "‖"
        return _SIGNS.get(text[1:], text[1:]) if text.startswith("\\") else text

    def with_numbers(self, parts: list[Node]) -> list[Node]:
        """The parts with figures side by side made numbers, with the points between them."""
        out: list[Node] = []
        for n, part in enumerate(parts):
            last = out[-1] if out else None
            base = part.base if isinstance(part, Scripts) else part
            if isinstance(base, Number) and isinstance(last, Number) and last.form is base.form:
                whole = self.number(last, base)
                out[-1] = Scripts(whole, part.sub, part.sup) if isinstance(part, Scripts) else whole
                self.together(last, part, out[-1])
            elif (
                isinstance(part, Operator)
                and part.text in ".,"
                and isinstance(last, Number)
                and _is_number(parts, n + 1)
            ):
                out[-1] = self.number(last, part)
            else:
                out.append(part)
        return out

    def number(self, before: Number, after: Number | Operator) -> Number:
        whole = Number(before.text + after.text, before.form)
        self.together(before, after, whole)
        return whole

    def together(self, first: Node, last: Node, whole: Node) -> None:
        """Keeps the place of what was put together from its first part to its last."""
        start, end = self.places.get(first), self.places.get(last)
        if start is not None and end is not None:
            self.places.put(whole, start[0], end[1])

    def letters(self) -> str:
        """The characters between braces as they are."""
        self.expect("{", "A { is missing.")
        out: list[str] = []
        depth = 0
        while self.n < len(self.tokens):
            text = self.tokens[self.n].text
            self.n += 1
            if text == "}" and not depth:
                return "".join(out).replace("~", " ")
            depth += (text == "{") - (text == "}")
            out.append("" if text in "{}" else text[1:] if text.startswith("\\") and len(text) == 2 else text)
        raise self.problem("A { is not closed.")

    def environment(self) -> Node:
        start = self.tokens[self.n - 1].at
        name = self.letters()
        if name not in _MATRICES and name not in _LINES:
            raise self.problem(f"{name} is not known.")
        if name in ("array", "alignedat"):
            self.letters()
        rows: list[tuple[Node, ...]] = []
        cells: list[Node] = []
        while True:
            cells.append(self.row(frozenset()))
            text = self.peek()
            if text == "&":
                self.n += 1
                continue
            if len(cells) > 1 or parts_of(cells[0]):
                rows.append(tuple(cells))
            cells = []
            if text == r"\\":
                self.n += 1
                continue
            self.expect(r"\end", f"\\begin{{{name}}} has no \\end.")
            if self.letters() != name:
                raise self.problem(f"\\begin{{{name}}} is closed by another \\end.")
            break
        if not rows:
            raise self.problem(f"{name} has nothing in it.")
        grid = Grid(tuple(rows), GridKind.LINES if name in _LINES else GridKind.MATRIX)
        self.placed(start, grid)
        if name in _LINES and len(rows) == 1:
            return row_of(list(rows[0]))
        return Fence(_FENCES[name][0], grid, _FENCES[name][1]) if name in _FENCES else grid


def _has_limits(base: Node) -> bool:
    if isinstance(base, Operator):
        return base.text in NARY and base.text not in INTEGRALS
    if isinstance(base, Accent):
        return base.sign in "⏞⏟"
    return isinstance(base, Identifier) and base.form is Letterform.UPRIGHT and base.text in WITH_LIMITS


def _formed(node: Node, form: Letterform) -> Node:
    """Letters and figures in a form; upright letters side by side are one name."""
    parts = [_one_formed(part, form) for part in parts_of(node)]
    if form is Letterform.UPRIGHT and len(parts) > 1 and all(isinstance(part, Identifier) for part in parts):
        return Identifier("".join(part.text for part in parts if isinstance(part, Identifier)), form)
    return row_of(parts)


def _one_formed(node: Node, form: Letterform) -> Node:
    match node:
        case Identifier(text):
            return Identifier(text, form)
        case Number(text):
            return Number(text, form if form is not Letterform.ITALIC else Letterform.UPRIGHT)
        case Scripts(base, sub, sup):
            return Scripts(_one_formed(base, form), sub, sup)
    return node


def _is_number(parts: list[Node], n: int) -> bool:
    part = parts[n] if n < len(parts) else None
    return isinstance(part.base if isinstance(part, Scripts) else part, Number)
