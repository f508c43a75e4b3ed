"""The small family of errors that the core raises, each with a sentence that a clerk understands."""


class SourceError(Exception):
    """A source cannot be taken as it is. ``str(error)`` is the sentence for the clerk."""


class EmptySource(SourceError):
    """There is nothing in the file: no bytes, or no pages."""


class UnsupportedSource(SourceError):
    """The file is not of a kind that can be read."""


class DamagedSource(SourceError):
    """The file is of a known kind, but broken beyond repair."""


class TooLarge(SourceError):
    """The file, or a page of it, is beyond what can be worked on."""


class PasswordNeeded(SourceError):
    """The file is locked; no password was given."""


class WrongPassword(PasswordNeeded):
    """The file is locked; the password given does not open it."""


class EditError(Exception):
    """An operation does not fit the document that it is applied to."""


class LanguageMissing(SourceError):
    """There are no data for reading a language."""
