"""Kinds of doubt, a module each. A new one is a new module here: ``KINDS`` and ``find``."""
