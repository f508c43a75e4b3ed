"""What goes wrong in writing."""


class NotWritten(Exception):
    """A document that cannot be written in a format; the message is a sentence for the clerk."""
