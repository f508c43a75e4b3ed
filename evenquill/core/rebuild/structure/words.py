"""What the language says of a line that follows another: whether it carries on the sentence, or a new one may begin."""

from __future__ import annotations

from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.language_model import END, START, LanguageModel, last_token_of, tokens_of
from evenquill.core.rebuild.structure.line_facts import LineFacts, limited


def said_above(text: str, x: float, above: LineFacts) -> str:
    """What a line that begins at a place may carry on: of a label with a value beside it the label, unless it begins under the value."""
    return text.partition("\t")[0] if above.tab_x and x < above.tab_x - 0.5 * above.size else text


def words_features(above: str, text: str, words: LanguageModel | None) -> tuple[float, float, float]:
    """How much likelier the first word of a line is after the last one above than at the start of a sentence; how likely a sentence is
    to end where the line above does; how much likelier the first word is at the start of one than anywhere. Natural logarithms."""
    if words is None:
        return (UNMEASURED,) * 3
    last, first = last_token_of(above), next(tokens_of(text), None)
    if last is None or first is None:
        return (UNMEASURED,) * 3
    before = START if last == END else last
    starts = words.after(START, first)
    return (
        limited(words.after(before, first) - starts),
        0.0 if before == START else limited(words.after(before, END)),
        limited(starts - words.word(first)),
    )
