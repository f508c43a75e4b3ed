#import "hand.typ": hand
#set page(paper: "a5", flipped: true, margin: 12mm)
#set text(font: "Libertinus Serif", size: 10pt, lang: "en")
#align(center)[*Outer Skerry Light: log of the gauge*]
#v(2mm)
#let line-of(when, height, note) = (hand(when, size: 12pt), hand(height, size: 12pt), hand(note, size: 12pt))
#table(
  columns: (22mm, 24mm, 1fr),
  stroke: 0.5pt,
  inset: (x: 5pt, y: 5.5pt),
  [Hour], [Height, m], [Remarks of the keeper],
  ..line-of("06.00", "2.14", "calm, fog to the south"),
  ..line-of("08.30", "3.02", "float freed from weed"),
  ..line-of("11.00", "3.87", "high water, swell 0.3"),
  ..line-of("13.30", "3.10", "wind rising from the west"),
  ..line-of("16.00", "1.96", "clock wound, sheet changed"),
  ..line-of("18.30", "0.88", "low water, ladder icy"),
)
