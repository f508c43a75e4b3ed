"""What the kinds of doubt look at: a document, its words with what is known of each, the words of its languages."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

from evenquill.core.languages import short_code
from evenquill.core.looking_back import LookDoubt
from evenquill.core.model import Block, Document, texts_of
from evenquill.core.queries.answers import answers
from evenquill.core.queries.kept import KeptDoubts
from evenquill.core.queries.lexicon import Listed, Words, lexicon
from evenquill.core.queries.office import OfficeWords
from evenquill.core.queries.query import Query
from evenquill.core.queries.tokens import Token, tokens_of
from evenquill.core.queries.word_measures import Vouchers

BadPage = tuple[str, int]
"""The kind of query that is asked about a page as a whole, and the page."""


class View:
    """A document as it is looked at for doubts.

    ``blocks`` are those to look at: all, or those that have changed. ``office`` is the office's own list of words. What the words of the
    document say of one another is taken from ``vouchers``, or from the document itself; ``bad_pages`` are those known to be so.
    Answers take their time to be found: those of the queries ``before`` a change are taken over. ``kept`` are the doubts that are none,
    those of the document where they are not given. ``look_doubts`` are about what looks otherwise than its source, by the ids of texts.
    """

    def __init__(
        self,
        document: Document,
        office: OfficeWords,
        blocks: Sequence[Block] | None = None,
        vouchers: Vouchers | None = None,
        bad_pages: frozenset[BadPage] | None = None,
        before: Iterable[Query] = (),
        kept: KeptDoubts | None = None,
        look_doubts: Mapping[str, tuple[LookDoubt, ...]] | None = None,
    ) -> None:
        self.document = document
        self.office = office
        self.kept = KeptDoubts(document.settled.kept) if kept is None else kept
        self.bad_pages = bad_pages
        self.look_doubts = look_doubts or {}
        self._answered = {_reading(query): query.answers for query in before if query.end}
        self.blocks = document.blocks if blocks is None else blocks
        if vouchers is not None:
            self.vouchers = vouchers

    @cached_property
    def vouchers(self) -> Vouchers:
        """How often words come in the whole document."""
        rows = self.rows if self.blocks is self.document.blocks else self._rows(self.document.blocks)
        return Vouchers.of(token for words in rows for token in words)

    def answers(self, token: Token) -> tuple[str, ...]:
        """What a doubtful word may say instead."""
        known = self._answered.get((token.text, round(token.confidence, 3)))
        return answers(token, self.words_of(token), self.vouchers) if known is None else known

    @cached_property
    def rows(self) -> list[list[Token]]:
        """The words of each text row to look at."""
        return list(self._rows(self.blocks))

    @cached_property
    def listed(self) -> Listed:
        """Words that are right because somebody said so."""
        return Listed(frozenset(self.document.settled.words), self.office.words)

    def words_of(self, token: Token) -> Words:
        """The words that may stand where a word does: those of its paragraph's own language where it has one, else of its page's."""
        return self.words(token.page, token.block.language)

    def words(self, page: int, own: str = "") -> Words:
        """The words that may stand on a page: those of the languages that it was read in, and of the document's; or of one's ``own``."""
        pages = self.document.pages
        read_in = pages[page - 1].languages if 0 < page <= len(pages) else ()
        language = short_code(self.document.language)
        codes = (short_code(own),) if own else tuple(dict.fromkeys((*read_in, *((language,) if language else ()))))
        known = self._lexicons.get(codes)
        if known is None:
            known = self._lexicons[codes] = Words(tuple(lexicon(code) for code in codes), self.listed)
        return known

    @cached_property
    def _lexicons(self) -> dict[tuple[str, ...], Words]:
        return {}

    @staticmethod
    def _rows(blocks: Iterable[Block]) -> Iterable[list[Token]]:
        for block in blocks:
            if not block.excluded:
                yield from (list(tokens_of(text)) for text in texts_of(block))


def _reading(query: Query) -> tuple[str, float]:
    """What was read, and how surely: the same answers belong to the same reading."""
    return query.text, query.confidence
