"""What the commands end with."""

DONE, FAILED, WRONG_USE, BAD_SOURCE, LOCKED, PAGES_MISSING, DAMAGED = 0, 1, 2, 3, 4, 5, 6
