"""The states of a document's life, and what may lead from one to the next. Nothing else sets a state.

    waiting -> reading -> to correct -> ready -> delivered, with stopped and failed beside

Being deleted and being worked on by a job (reading pages again, say) are no states: both may come on top of any.
"""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum


class DocumentState(StrEnum):
    """Names as the clerk sees them."""

    WAITING = "waiting"
    READING = "reading"
    TO_CORRECT = "to correct"
    READY = "ready"
    DELIVERED = "delivered"
    STOPPED = "stopped"
    FAILED = "failed"


class Event(StrEnum):
    """What happens to a document."""

    BEGIN_READING = "begin reading"
    """A job has taken it up, for the first time or after the server was restarted."""
    FINISH_READING = "finish reading"
    ASK = "ask"
    """Reading cannot go on without an answer: a password, a word on rights."""
    FAIL = "fail"
    STOP = "stop"
    RESUME = "resume"
    """The clerk wants it read (further)."""
    CHANGE = "change"
    """The proof has changed: what was ready or delivered is to be corrected again."""
    DELIVER = "deliver"


class TransitionRefused(Exception):
    """What was to happen cannot happen in the state that the document is in."""

    def __init__(self, state: DocumentState, event: Event) -> None:
        super().__init__(f"{event} while {state}")
        self.state = state
        self.event = event


_S = DocumentState
TRANSITIONS: Mapping[Event, Mapping[DocumentState, DocumentState]] = {
    Event.BEGIN_READING: {_S.WAITING: _S.READING, _S.READING: _S.READING},
    Event.FINISH_READING: {_S.READING: _S.TO_CORRECT},
    Event.ASK: {_S.READING: _S.STOPPED},
    Event.FAIL: {_S.WAITING: _S.FAILED, _S.READING: _S.FAILED},
    Event.STOP: {_S.WAITING: _S.STOPPED, _S.READING: _S.STOPPED},
    Event.RESUME: {_S.STOPPED: _S.WAITING, _S.FAILED: _S.WAITING},
    Event.CHANGE: {_S.TO_CORRECT: _S.TO_CORRECT, _S.READY: _S.TO_CORRECT, _S.DELIVERED: _S.TO_CORRECT},
    Event.DELIVER: {_S.TO_CORRECT: _S.DELIVERED, _S.READY: _S.DELIVERED, _S.DELIVERED: _S.DELIVERED},
}

CORRECTABLE = frozenset(TRANSITIONS[Event.CHANGE])
"""States in which the proof is whole and can be changed and delivered."""

IN_WORK = frozenset({_S.WAITING, _S.READING})
"""States in which the first reading is still to be done."""


def after(state: DocumentState, event: Event) -> DocumentState:
    """The state that an event leads to. Raises TransitionRefused where it cannot happen."""
    try:
        return TRANSITIONS[event][state]
    except KeyError:
        raise TransitionRefused(state, event) from None
