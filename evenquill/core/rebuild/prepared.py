"""Pages as they are rebuilt: what their readers found, put right by what the whole document says."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import PageEvidence
from evenquill.core.layout.narrow_gutters import with_narrow_gutters
from evenquill.core.model import Remark
from evenquill.core.reading.repair import with_repaired_lettering
from evenquill.core.rebuild.misread_marks import with_marks_put_right
from evenquill.core.rebuild.misread_sections import with_sections_put_right
from evenquill.core.rebuild.small_capitals import with_small_capitals
from evenquill.core.rebuild.smoothing import with_smooth_sizes
from evenquill.core.rebuild.tags import with_trusted_tags
from evenquill.core.rebuild.weights import with_true_weights


def prepared(pages: Sequence[PageEvidence]) -> tuple[Sequence[PageEvidence], tuple[Remark, ...]]:
    """The pages of a document with letters, sizes, weights and lines put right, without tags that are not to be trusted, and remarks on
    these. What asks for the names of fonts comes before the letters are repaired, which takes the names."""
    named = with_true_weights(with_small_capitals(pages))
    pages = with_sections_put_right(with_marks_put_right(with_repaired_lettering(named)))
    return with_trusted_tags(with_narrow_gutters(with_smooth_sizes(pages)))
