"""Formulas as TeX, drawn by number: school, engineering and statistics."""

from __future__ import annotations

import random

LETTERS = "abcdfghkmnpqrstuvwxyzABCDEFGHKLMNPQRSTUVWXYZ"
GREEK = (
    r"\alpha \beta \gamma \delta \varepsilon \eta \theta \lambda \mu \nu \xi \pi \rho \sigma \tau \varphi \chi \psi \omega "
    r"\Gamma \Delta \Theta \Lambda \Phi \Psi \Omega"
)
FUNCTIONS = r"\sin \cos \tan \log \ln \exp"
RELATIONS = r"= = = = = = < > \leq \geq \approx \neq \equiv \in \to \sim \propto"


class Grammar:
    """Draws formulas; the same seed gives the same ones."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)

    def _any(self, of: str) -> str:
        return self.rng.choice(of.split())

    def letter(self) -> str:
        kind = self.rng.random()
        if kind < 0.72:
            return self.rng.choice(LETTERS)
        if kind < 0.95:
            return self._any(GREEK) + " "
        if kind < 0.98:
            return rf"\mathbf{{{self.rng.choice('abcxyzABCXYZ')}}}"
        return rf"\mathbb{{{self.rng.choice('RNZQC')}}}"

    def number(self) -> str:
        kind = self.rng.random()
        if kind < 0.7:
            return str(self.rng.randint(1, 12))
        return (
            f"{self.rng.randint(0, 99)}.{self.rng.randint(1, 999)}" if kind < 0.9 else str(self.rng.randint(100, 9999))
        )

    def script(self) -> str:
        return self.rng.choice(
            [
                self._one_of("ijknm"),
                self._one_of("0123"),
                self._one_of("ijkn") + "+1",
                self._one_of("xyzt"),
                r"\max",
                "ij",
            ]
        )

    def _one_of(self, letters: str) -> str:
        return self.rng.choice(letters)

    def atom(self) -> str:
        kind = self.rng.random()
        base = self.letter()
        if kind < 0.5:
            return base
        if kind < 0.68:
            return f"{base}_{{{self.script()}}}"
        if kind < 0.84:
            return f"{base}^{{{self.rng.choice(['2', '2', '3', 'n', '-1', 'n-1', 'k', 'T', '*'])}}}"
        if kind < 0.92:
            return f"{base}_{{{self.script()}}}^{{{self.rng.choice(['2', 'n', 'k'])}}}"
        return rf"\{self.rng.choice(['hat', 'bar', 'tilde', 'vec', 'dot'])}{{{self.rng.choice('abuvxyzn')}}}"

    def factor(self, depth: int) -> str:
        kind = self.rng.random()
        if depth <= 0 or kind < 0.5:
            return self.atom()
        if kind < 0.65:
            return rf"\frac{{{self.sum(depth - 1)}}}{{{self.sum(depth - 1)}}}"
        if kind < 0.73:
            return rf"\sqrt{{{self.sum(depth - 1)}}}"
        if kind < 0.75:
            return rf"\sqrt[3]{{{self.sum(depth - 1)}}}"
        if kind < 0.85:
            power = self.rng.choice(["", "^2", "^{n}", "^{-1}"])
            return rf"\left({self.sum(depth - 1)}\right){power}"
        if kind < 0.93:
            return rf"{self._any(FUNCTIONS)} {self.atom()}"
        if kind < 0.96:
            return rf"\left|{self.sum(depth - 1)}\right|"
        return f"{self.rng.choice('fghFG')}({self.atom()})"

    def product(self, depth: int) -> str:
        factors = [self.factor(depth) for _ in range(self.rng.choice([1, 1, 1, 2, 2, 3]))]
        coefficient = self.number() if self.rng.random() < 0.25 else ""
        return coefficient + (r"\cdot " if self.rng.random() < 0.06 and len(factors) > 1 else " ").join(factors)

    def sum(self, depth: int) -> str:
        terms = [self.product(depth) for _ in range(self.rng.choice([1, 1, 2, 2, 3]))]
        return self.rng.choice(["+", "-", "+", "-", r"\pm "]).join(terms)

    def large(self, depth: int) -> str:
        """A sum, product, integral or limit with its bounds."""
        kind = self.rng.random()
        variable = self.rng.choice("ijkn")
        if kind < 0.5:
            end = self._any(r"n N m \infty")
            return rf"\sum_{{{variable}={self.rng.choice('01')}}}^{{{end}}} {self.product(depth)}"
        if kind < 0.6:
            return rf"\prod_{{{variable}=1}}^{{n}} {self.product(depth)}"
        if kind < 0.9:
            low, high = self.rng.choice([("0", "1"), ("a", "b"), ("0", r"\infty"), (r"-\infty", r"\infty"), ("0", "t")])
            return rf"\int_{{{low}}}^{{{high}}} {self.product(depth)} \, d{self.rng.choice('xtus')}"
        goal = self._any(r"0 \infty a")
        return rf"\lim_{{{self.rng.choice('xnt')}\to {goal}}} {self.product(depth)}"

    def matrix(self) -> str:
        rows, columns = self.rng.randint(2, 3), self.rng.randint(1, 3)
        kind = self.rng.choice(["pmatrix", "bmatrix", "vmatrix"] if columns == rows else ["pmatrix", "bmatrix"])
        lines = (" & ".join(self.atom() for _ in range(columns)) for _ in range(rows))
        return rf"\begin{{{kind}}}" + r" \\ ".join(lines) + rf"\end{{{kind}}}"

    def cases(self) -> str:
        lines = [
            rf"{self.sum(0)} & \text{{if }} {self.atom()}{self._any('< > =')}{self.number()}"
            for _ in range(self.rng.randint(2, 3))
        ]
        return r"\begin{cases}" + r" \\ ".join(lines) + r"\end{cases}"

    def display(self) -> str:
        kind = self.rng.random()
        left = self.rng.choice([self.atom(), f"{self.rng.choice('fghFGy')}({self.rng.choice('xtuv')})", self.sum(0)])
        if kind < 0.5:
            return f"{left}{self._any(RELATIONS)} {self.sum(2)}"
        if kind < 0.78:
            return f"{left}={self.sum(0)}+{self.large(1)}" if self.rng.random() < 0.5 else f"{left}={self.large(1)}"
        if kind < 0.88:
            return f"{left}={self.matrix()}{self.matrix() if self.rng.random() < 0.4 else ''}"
        return f"{left}={self.cases()}"

    def inline(self) -> str:
        kind = self.rng.random()
        if kind < 0.45:
            return self.atom()
        if kind < 0.6:
            return f"{self.rng.choice('fghFGu')}({self.rng.choice('xtuv')})"
        return f"{self.atom()}{self._any(RELATIONS)} {self.sum(0)}"
