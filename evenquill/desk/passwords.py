"""Passwords: what may be one, and how they are kept (argon2id, RFC 9106)."""

from __future__ import annotations

import threading

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

SHORTEST, LONGEST = 10, 200

AT_ONCE = 2
"""Passwords worked on at once: each takes 64 MB and a core."""

_HASHER = PasswordHasher()
_working = threading.Semaphore(AT_ONCE)
_NOBODYS = _HASHER.hash("nobody has this password")


def fault_of(password: str, name: str) -> str:
    """Why a password cannot be taken, in a sentence; empty where it can."""
    if len(password) < SHORTEST:
        return f"A password needs {SHORTEST} characters or more."
    if len(password) > LONGEST:
        return f"A password has {LONGEST} characters at the most."
    if name.casefold() in password.casefold() and len(password) - len(name) < SHORTEST // 2:
        return "That password is little more than the name. Take another one."
    if len(set(password)) < SHORTEST // 2:
        return "That password has the same few characters again and again. Take another one."
    return ""


def hashed(password: str) -> str:
    """What is kept of a password."""
    with _working:
        return _HASHER.hash(password)


def is_right(kept: str | None, password: str) -> bool:
    """Whether a password is the one that was kept; for an account that there is not (None) it takes as long to say no."""
    with _working:
        try:
            return _HASHER.verify(kept or _NOBODYS, password[: LONGEST + 1]) and kept is not None
        except (VerificationError, InvalidHashError):
            return False
