"""A factory of documents with truth: made ones from scripts, real ones from documentation packages; endless, by seed.

Run from the folder above: ``python -m corpus --help``.
"""
