"""What is wrong with an equation that was typed or pasted."""

from __future__ import annotations


class EquationProblem(Exception):
    """An equation that cannot be read: a sentence for the clerk, and from which character on."""

    def __init__(self, sentence: str, at: int) -> None:
        super().__init__(sentence)
        self.at = at
