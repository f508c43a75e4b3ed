#import "hand.typ": hand, stamp
#set page(paper: "a4", margin: (left: 34mm, right: 44mm, top: 24mm, bottom: 24mm))
#set text(font: "DejaVu Sans Mono", size: 9.6pt, lang: "en")
#set par(leading: 0.85em, spacing: 1.5em)
#place(top + right, dx: 30mm, dy: -6mm, stamp("14 JAN 1971"))
MEMORANDUM

To: #h(6mm) Keepers of the three gauges \
From: #h(2.4mm) Superintendent of Gauges \
Date: #h(2.4mm) 11 January 1971

WINTER READINGS

During the gale of 3 January the float at the north pier stuck for four hours and nobody noticed until the clerk drew the curve. The record shows a straight line where there should be a tide. A line as straight as that is never a tide.

From today the float is to be lifted by hand at each change of watch and let down again slowly. If the pen does not follow, the well is to be rodded at once and the hour written in the margin of the sheet.

1. Sheets are changed at eight in the morning, not before.

2. Ice in the well is reported by telephone.

3. Ink is kept indoors.

The third point was made last year as well.
#place(bottom + left, dx: 0mm, dy: -40mm)[A. Morvane]
#place(top + right, dx: 41mm, dy: 92mm, hand("seen, T.R."))
#place(top + right, dx: 42mm, dy: 140mm, hand("which sheets?", ink: rgb("#a02c2c")))
