"""Equations in words, for those who listen: what is said, in the order in which a person would say it.

Short things are said short ("x squared", "a over b"); longer parts are said with where they begin and end.
"""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.equations.signs import NARY
from evenquill.core.model.equation import (
    Accent,
    Fence,
    Fraction,
    Gap,
    Grid,
    GridKind,
    Identifier,
    Limits,
    Node,
    Number,
    Operator,
    Phrase,
    Root,
    Row,
    Scripts,
    parts_of,
)


class _Language(NamedTuple):
    """What is said in a language; ``{}`` stands for parts."""

    signs: dict[str, str]
    fraction: str
    over: str
    root: str
    nth_root: str
    sub: str
    power: str
    powers: dict[str, str]
    prime: str
    bounds: str
    lower: str
    upper: str
    below: str
    above: str
    accents: dict[str, str]
    fences: dict[str, tuple[str, str]]
    matrix: str
    row: str
    cases: str
    line: str


_ENGLISH = _Language(
    signs={
        "=": "equals", "≠": "is not equal to", "<": "is less than", ">": "is greater than", "≤": "is at most", "≥": "is at least",
        "≈": "is about", "≡": "is identical to", "∼": "is similar to", "∈": "in", "∉": "not in", "⊂": "is a subset of", "∪": "union",
        "∩": "intersection", "→": "to", "⇒": "implies", "⇔": "if and only if", "↦": "maps to", "+": "plus", "−": "minus",
        "±": "plus or minus",
        "×": "times", "·": "times", "⋅": "times", "÷": "divided by", "/": "over", "∗": "star", "∘": "composed with", "∞": "infinity",
        "∂": "partial", "∇": "nabla", "∑": "the sum", "∏": "the product", "∫": "the integral", "∬": "the double integral",
        "∮": "the closed integral", "⋃": "the union", "⋂": "the intersection", "∀": "for all", "∃": "there is", "…": "and so on",
        "⋯": "and so on", "°": "degrees", "!": "factorial", "∝": "is proportional to", ",": ",", "|": "bar", "%": "percent", ":": "to",
    },
    fraction="the fraction {} over {}, end fraction", over="{} over {}", root="the square root of {}",
        nth_root="the root of order {} of {}",
    sub="{} sub {}", power="{} to the power {}", powers={"2": "squared", "3": "cubed", "−1": "inverse"}, prime="prime",
    bounds="from {} to {} of", lower="over {} of", upper="up to {} of", below="with {} below", above="with {} above",
    accents={"^": "hat", "~": "tilde", "¯": "bar", "→": "vector", "˙": "dot", "¨": "double dot", "⏞": "in a brace", "⏟": "in a brace"},
    fences={"(": ("open bracket", "close bracket"), "[": ("open square bracket", "close square bracket"), "{": ("open brace",
        "close brace"),
            "|": ("the absolute value of", "end of absolute value"), "‖": ("the norm of", "end of norm"), "⌊": ("the floor of",
            "end of floor"),
            "⌈": ("the ceiling of", "end of ceiling"), "⟨": ("open angle", "close angle")},
    matrix="matrix of {} rows and {} columns", row="row {}", cases="one of {} cases", line="line {}",
)  # fmt: skip
_GERMAN = _Language(
    signs={
        "=": "gleich", "≠": "ungleich", "<": "kleiner als", ">": "größer als", "≤": "höchstens", "≥": "mindestens",
        "≈": "ungefähr gleich",
        "≡": "identisch mit", "∼": "ähnlich", "∈": "Element von", "∉": "nicht Element von", "⊂": "Teilmenge von", "∪": "vereinigt mit",
        "∩": "geschnitten mit", "→": "gegen", "⇒": "daraus folgt", "⇔": "genau dann wenn", "↦": "wird abgebildet auf", "+": "plus",
        "−": "minus", "±": "plus oder minus", "×": "mal", "·": "mal", "⋅": "mal", "÷": "geteilt durch", "/": "durch", "∗": "Stern",
        "∘": "nach", "∞": "unendlich", "∂": "partiell", "∇": "Nabla", "∑": "die Summe", "∏": "das Produkt", "∫": "das Integral",
        "∬": "das Doppelintegral", "∮": "das Ringintegral", "⋃": "die Vereinigung", "⋂": "der Durchschnitt", "∀": "für alle",
        "∃": "es gibt", "…": "und so weiter", "⋯": "und so weiter", "°": "Grad", "!": "Fakultät", "∝": "proportional zu", ",": ",",
        "|": "Strich", "%": "Prozent", ":": "zu",
    },
    fraction="der Bruch {} durch {}, Ende des Bruchs", over="{} durch {}", root="die Wurzel aus {}", nth_root="die {}-te Wurzel aus {}",
    sub="{} Index {}", power="{} hoch {}", powers={"2": "Quadrat", "3": "hoch drei", "−1": "hoch minus eins"}, prime="Strich",
    bounds="von {} bis {} über", lower="über {} von", upper="bis {} von", below="darunter {}", above="darüber {}",
    accents={"^": "Dach", "~": "Tilde", "¯": "quer", "→": "Vektor", "˙": "Punkt", "¨": "zwei Punkte", "⏞": "geklammert",
        "⏟": "geklammert"},
    fences={"(": ("Klammer auf", "Klammer zu"), "[": ("eckige Klammer auf", "eckige Klammer zu"),
            "{": ("geschweifte Klammer auf", "geschweifte Klammer zu"), "|": ("Betrag von", "Ende des Betrags"),
            "‖": ("Norm von", "Ende der Norm"), "⌊": ("abgerundet", "Ende"), "⌈": ("aufgerundet", "Ende"), "⟨": ("spitze Klammer auf",
            "spitze Klammer zu")},
    matrix="Matrix mit {} Zeilen und {} Spalten", row="Zeile {}", cases="einer von {} Fällen", line="Zeile {}",
)  # fmt: skip
_FRENCH = _Language(
    signs={
        "=": "égale", "≠": "différent de", "<": "inférieur à", ">": "supérieur à", "≤": "inférieur ou égal à", "≥": "supérieur ou égal à",
        "≈": "à peu près égal à", "≡": "identique à", "∼": "équivalent à", "∈": "appartient à", "∉": "n'appartient pas à",
        "⊂": "inclus dans", "∪": "union", "∩": "inter", "→": "tend vers", "⇒": "implique", "⇔": "équivaut à", "↦": "donne", "+": "plus",
        "−": "moins", "±": "plus ou moins", "×": "fois", "·": "fois", "⋅": "fois", "÷": "divisé par", "/": "sur", "∗": "étoile",
        "∘": "rond", "∞": "l'infini", "∂": "d rond", "∇": "nabla", "∑": "la somme", "∏": "le produit", "∫": "l'intégrale",
        "∬": "l'intégrale double", "∮": "l'intégrale fermée", "⋃": "la réunion", "⋂": "l'intersection", "∀": "pour tout",
        "∃": "il existe", "…": "et ainsi de suite", "⋯": "et ainsi de suite", "°": "degrés", "!": "factorielle",
        "∝": "proportionnel à", ",": ",", "|": "barre", "%": "pour cent", ":": "sur",
    },
    fraction="la fraction {} sur {}, fin de fraction", over="{} sur {}", root="racine carrée de {}", nth_root="racine d'ordre {} de {}",
    sub="{} indice {}", power="{} puissance {}", powers={"2": "au carré", "3": "au cube", "−1": "puissance moins un"}, prime="prime",
    bounds="de {} à {} de", lower="sur {} de", upper="jusqu'à {} de", below="avec en dessous {}", above="avec au-dessus {}",
    accents={"^": "chapeau", "~": "tilde", "¯": "barre", "→": "vecteur", "˙": "point", "¨": "deux points", "⏞": "en accolade",
        "⏟": "en accolade"},
    fences={"(": ("parenthèse ouvrante", "parenthèse fermante"), "[": ("crochet ouvrant", "crochet fermant"),
            "{": ("accolade ouvrante", "accolade fermante"), "|": ("valeur absolue de", "fin de valeur absolue"),
            "‖": ("norme de", "fin de norme"), "⌊": ("partie entière de", "fin"), "⌈": ("arrondi supérieur de", "fin"),
            "⟨": ("chevron ouvrant", "chevron fermant")},
    matrix="matrice de {} lignes et {} colonnes", row="ligne {}", cases="un de {} cas", line="ligne {}",
)  # fmt: skip
_LANGUAGES = {"en": _ENGLISH, "de": _GERMAN, "fr": _FRENCH}


def said(node: Node, language: str = "en") -> str:
    """The equation in words, in a language by its two letters; English where it is none that is known."""
    return " ".join(_said(node, _LANGUAGES.get(language, _ENGLISH)).split()).replace(" ,", ",")


def _said(node: Node, words: _Language) -> str:
    match node:
        case Row(parts):
            return " ".join(_said(part, words) for part in parts)
        case Identifier(text) | Number(text) | Phrase(text):
            return text
        case Operator(text):
            return words.signs.get(text, text)
        case Gap():
            return ","
        case Fraction(above, below, _):
            template = words.over if _is_short(above) and _is_short(below) else words.fraction
            return template.format(_said(above, words), _said(below, words))
        case Root(body, None):
            return words.root.format(_said(body, words))
        case Root(body, index) if index is not None:
            return words.nth_root.format(_said(index, words), _said(body, words))
        case Scripts(base, sub, sup):
            return _scripts(base, sub, sup, words)
        case Limits(base, under, over):
            return _limits(base, under, over, words)
        case Accent(base, sign):
            return f"{_said(base, words)} {words.accents.get(sign, sign)}"
        case Fence(opening, body, closing):
            return _fence(opening, body, closing, words)
        case Grid(rows, kind):
            name = words.line if kind is GridKind.LINES else words.row
            lines = (
                f"{name.format(n)}: " + ", ".join(_said(cell, words) for cell in cells)
                for n, cells in enumerate(rows, 1)
            )
            head = "" if kind is GridKind.LINES else words.matrix.format(len(rows), max(map(len, rows))) + ", "
            return head + "; ".join(lines) + ","
    return ""


def _is_short(node: Node) -> bool:
    parts = parts_of(node)
    return len(parts) == 1 and isinstance(parts[0], Identifier | Number)


def _scripts(base: Node, sub: Node | None, sup: Node | None, words: _Language) -> str:
    if isinstance(base, Operator) and base.text in NARY:
        return _bounded(base, sub, sup, words)
    out = _said(base, words)
    if sub is not None:
        out = words.sub.format(out, _said(sub, words))
    if sup is not None:
        primes = [part for part in parts_of(sup) if isinstance(part, Operator) and part.text == "′"]
        said_sup = _said(sup, words)
        plain = "".join(part.text for part in parts_of(sup) if isinstance(part, Number | Operator | Identifier))
        if len(primes) == len(parts_of(sup)):
            out += f" {words.prime}" * len(primes)
        elif plain in words.powers and len(parts_of(sup)) <= 2:
            out += " " + words.powers[plain]
        else:
            out = words.power.format(out, said_sup)
    return out


def _limits(base: Node, under: Node | None, over: Node | None, words: _Language) -> str:
    if isinstance(base, Operator) and base.text in NARY:
        return _bounded(base, under, over, words)
    out = _said(base, words)
    if under is not None:
        out += " " + words.below.format(_said(under, words))
    if over is not None:
        out += " " + words.above.format(_said(over, words))
    return out


def _bounded(base: Operator, low: Node | None, high: Node | None, words: _Language) -> str:
    out = words.signs.get(base.text, base.text)
    if low is not None and high is not None:
        return f"{out} {words.bounds.format(_said(low, words), _said(high, words))}"
    if low is not None:
        return f"{out} {words.lower.format(_said(low, words))}"
    return f"{out} {words.upper.format(_said(high, words))}" if high is not None else out


def _fence(opening: str, body: Node, closing: str, words: _Language) -> str:
    inside = _said(body, words)
    if isinstance(body, Grid) and opening == "{" and not closing:
        lines = ("; ".join([", ".join(_said(cell, words) for cell in cells)]) for cells in body.rows)
        return f"{words.cases.format(len(body.rows))}: " + "; ".join(lines) + ","
    if isinstance(body, Grid):
        return inside
    begins, ends = words.fences.get(opening, (opening, closing))
    return f"{begins} {inside} {ends if closing else ''}"
