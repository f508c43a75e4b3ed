"""The store: documents, pages as read, blocks, operations and deliveries in SQLite, through plain SQL.

Functions take an open connection; ``transaction`` makes several of them one. Sources and pictures are files beside the database.
"""
