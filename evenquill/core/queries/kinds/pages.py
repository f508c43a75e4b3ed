"""What is to be said of whole pages and of the file: a text layer dropped, fonts repaired, pages damaged, restrictions, no word list."""

from __future__ import annotations

from collections.abc import Iterator

from evenquill.core.languages import short_code
from evenquill.core.model import Remark, RemarkKind
from evenquill.core.queries.lexicon import lexicon
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.view import View

LAYER = Kind("layer", "text layer replaced", "text layers replaced", 82)
FONT = Kind("font", "font repaired", "fonts repaired", 83)
DAMAGED = Kind("damaged", "damaged page", "damaged pages", 81)
HIDDEN = Kind("hidden", "text that nobody can see", "texts that nobody can see", 84)
ACROSS = Kind("across", "mark across the text", "marks across the text", 87)
DIRECTION = Kind("direction", "text in another direction", "texts in another direction", 85)
TAGS = Kind("tags", "marks of the file not used", "marks of files not used", 86)
CORRECTION = Kind("correction", "correction not carried over", "corrections not carried over", 20)
RIGHTS = Kind("rights", "restriction of the file", "restrictions of the file", 90)
NO_LIST = Kind("no list", "language without a word list", "languages without a word list", 91)
KINDS = (CORRECTION, DAMAGED, LAYER, FONT, HIDDEN, ACROSS, DIRECTION, TAGS, RIGHTS, NO_LIST)

OF_REMARKS = {
    RemarkKind.TEXT_LAYER: (LAYER, 0.1),
    RemarkKind.LETTERING: (FONT, 0.2),
    RemarkKind.HIDDEN_TEXT: (HIDDEN, 0.3),
    RemarkKind.ACROSS: (ACROSS, 0.1),
    RemarkKind.DIRECTION: (DIRECTION, 0.3),
    RemarkKind.TAGS: (TAGS, 0.1),
    RemarkKind.UNREADABLE: (DAMAGED, 0.95),
    RemarkKind.CUT_SHORT: (DAMAGED, 0.7),
    RemarkKind.REPAIRED: (DAMAGED, 0.3),
    RemarkKind.NOT_CARRIED_OVER: (CORRECTION, 0.6),
    RemarkKind.RIGHTS: (RIGHTS, 0.1),
}


def find(view: View) -> Iterator[Query]:
    document = view.document
    for remark in document.remarks:
        kind, likelihood = OF_REMARKS.get(remark.kind, (None, 0.0))
        if kind is not None:
            yield _of_remark(remark, kind, likelihood)
    language = short_code(document.language)
    recognised = any(page.languages for page in document.pages)
    if language and recognised and not lexicon(language).has_list:
        why = "There is no word list for the language of this document; doubts come from recognition alone."
        yield Query(kind=NO_LIST.name, page=0, text=language, likelihood=0.1, reason=why, keep="noted")


def _of_remark(remark: Remark, kind: Kind, likelihood: float) -> Query:
    return Query(
        kind=kind.name,
        page=remark.page or 0,
        text=remark.sentence,
        likelihood=likelihood,
        reason=remark.sentence,
        keep="noted",
    )
