"""Words for test sheets, and what is read from them."""

from __future__ import annotations

from evenquill.core.evidence import PageEvidence

PROSE = """The float was found hard against the guide wire on 14 March, and the trace for the whole spring set is lost.
The well was pumped, the orifice cleared of weed and the float hung again on a new wire of bronze. Levels before and after
cleaning are given in the table; the heights of the keeper agree with the staff to within twelve millimetres."""


def text_of(evidence: PageEvidence) -> str:
    return "\n".join(line.text for line in evidence.lines)


def words_of(evidence: PageEvidence) -> list[str]:
    return text_of(evidence).split()
