#set document(title: "Equipment order 91-0362", author: "Tide Gauge Office")
#set page(paper: "a4", margin: (x: 22mm, y: 24mm))
#set text(font: "New Computer Modern", size: 10.5pt, lang: "en")
#set par(leading: 0.65em, spacing: 1em)
#show heading: it => block(above: 1.4em, below: 0.8em, it)
#text(19pt, weight: "bold")[Equipment order]

#grid(columns: (34mm, 62mm, 24mm, 1fr), row-gutter: 2.6mm,
  [*Order no.:*], [91-0362], [*Date:*], [11 June 1991],
  [*Ordered by:*], [Tide Gauge Office, Skerrin], [*Needed by:*], [1 August 1991],
  [*Supplier:*], [Harrow and Daughters, Slip Lane 2], [*Account:*], [Gauges, upkeep],
)

= What is ordered
Please deliver the following to the hut on the North Pier, between eight and noon on a weekday. The pier is closed to carts at high water of spring tides; the times can be had from this office.

+ Twelve metres of phosphor-bronze wire, 0.8 mm, on one reel, without joints.
+ Two brass figures each from 0 to 9, height 60 mm, with four holes for screws.
+ One eight-day clock movement, to drawing 17-B, with
  + a spare mainspring,
  + a key on a chain,
  + a bottle of clock oil, not of any other oil.
+ Sixty chart sheets, printed on one side, cut to 318 by 224 mm.

= Prices
#table(columns: (1fr, auto, auto, auto), align: (left, right, right, right), inset: 2mm,
  [*Item*], [*Number*], [*Price*], [*Amount*],
  [Wire, phosphor bronze, metre], [12], [1.85], [22.20],
  [Figures, brass, each], [20], [2.40], [48.00],
  [Clock movement], [1], [186.00], [186.00],
  [Chart sheets, each], [60], [0.35], [21.00],
)

= Terms
All prices are in crowns and include carriage. The invoice is sent to the Harbour Board, Lower Quay 1, and bears the number of this order. Goods that do not agree with the drawing are returned at the cost of the supplier.

*No part of this order may be split or passed on* without a word from the superintendent.
