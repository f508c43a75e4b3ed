"""Pictures that stand beside a paragraph come before it: the paragraph stays whole."""

from __future__ import annotations

from PIL import Image

from evenquill.core.model import PictureBlock, TextBlock

NOTE = (
    "The float must not be lifted while the pen is on the paper, since the line would then show a tide that never was, "
    "and the office would have to ask the keeper of the next pier for what he has written down at that hour."
)


def test_a_sign_beside_a_note_does_not_cut_it(typeset, rebuilt, tmp_path):
    Image.effect_noise((60, 60), 60).save(tmp_path / "sign.png")
    source = f"""#set page(width: 120mm, height: 120mm)
The keeper reads the gauge.

#place(dx: 0mm, dy: 8mm, image("sign.png", width: 9mm))
#pad(left: 14mm)[{NOTE}]

The clock is wound on Mondays."""
    blocks = rebuilt(typeset(source)).blocks
    assert [type(block) for block in blocks] == [TextBlock, PictureBlock, TextBlock, TextBlock]
    assert blocks[2].text == NOTE
