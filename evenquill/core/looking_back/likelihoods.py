"""How likely a difference of some measure is a fault: logistic functions, fitted by ``bench/looks`` on results that were damaged."""

from __future__ import annotations

import math

from evenquill.core.looking_back.looks import LookKind

FITTED: dict[LookKind, tuple[float, float]] = {
    LookKind.BOLDER: (-1.89, 11.8),
    LookKind.LIGHTER: (-3.34, 24.7),
    LookKind.MARK: (0.8, 0.0),
    LookKind.NO_MARK: (0.5, 0.0),
    LookKind.PLACE: (-6.5, 2.0),
    LookKind.SIGN: (0.5, 0.0),
    LookKind.MISSING: (1.0, 0.0),
}
"""By kind the constant and the factor of the measure. Of marks, signs and what is missing, whatever is large enough to be found is as
likely a fault as any other; places, of which only whole columns were damaged, are taken for faults from 3 ems on."""


def likelihood(kind: LookKind, measure: float) -> float:
    """0 to 1."""
    constant, factor = FITTED[kind]
    return round(1 / (1 + math.exp(-(constant + factor * measure))), 3)
