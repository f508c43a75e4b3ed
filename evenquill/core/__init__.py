"""The pipeline, as pure computation: source -> reading -> layout -> rebuild -> edits -> writers.

Nothing here knows of Flask, SQLite or the browser. Bytes and paths come in, values go out, and what
goes wrong is one of the errors in :mod:`evenquill.core.errors`.
"""
