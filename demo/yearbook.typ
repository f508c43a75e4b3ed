// The board's yearbook for 1979: a cover that is one picture, tide tables over four pages, a form, and an order whose total is wrong.
#set document(title: "Harbour yearbook 1979", author: "Skerrin Harbour Board")
#set page(width: 148mm, height: 210mm, margin: 0mm)
#set text(font: "Libertinus Serif", size: 10pt, lang: "en")

#let wave(y, color, lift) = place(top + left, curve(
  fill: color,
  curve.move((0mm, y)),
  ..range(6).map(n => curve.cubic((n * 26mm + 8mm, y - lift), (n * 26mm + 18mm, y - lift), ((n + 1) * 26mm, y))),
  curve.line((156mm, 210mm)),
  curve.line((0mm, 210mm)),
  curve.close(),
))
#place(top + left, rect(width: 148mm, height: 210mm, fill: gradient.linear(rgb("#f2d9a8"), rgb("#e7b98c"), rgb("#a8beb4"), angle: 90deg)))
#place(top + left, dx: 92mm, dy: 34mm, circle(radius: 15mm, fill: rgb("#f7efdc")))
#wave(120mm, rgb("#6f9188"), 9mm)
#wave(140mm, rgb("#3f6d66"), 11mm)
#wave(164mm, rgb("#1d4a45"), 8mm)
#place(top + left, dx: 60mm, dy: 78mm, polygon(fill: rgb("#5a3a2c"), (0mm, 34mm), (34mm, 34mm), (28mm, 44mm), (6mm, 44mm)))
#place(top + left, dx: 76mm, dy: 56mm, polygon(fill: rgb("#f7efdc"), (0mm, 52mm), (0mm, 0mm), (22mm, 50mm)))
#place(top + left, dx: 14mm, dy: 18mm, text(font: "Libertinus Serif", size: 34pt, weight: "bold", fill: rgb("#3a2418"))[Harbour\ yearbook])
#place(bottom + left, dx: 14mm, dy: -14mm, text(size: 15pt, fill: rgb("#f7efdc"))[Skerrin Harbour Board · 1979])

#set page(margin: (x: 18mm, y: 20mm), footer: context align(center, text(size: 8pt)[Harbour yearbook · #counter(page).display()]))
#set par(justify: true)
= The tides of 1979 at North Pier
The times are those of the harbour clock, the heights are above the sill, in metres. Low water is not given where it falls by night.

#let tides = range(1, 113).map(day => {
  let minutes = calc.rem(day * 50 + 212, 745)
  let first = 100 + calc.rem(minutes, 620)
  let clock(m) = str(calc.quo(m, 60)) + "." + if calc.rem(m, 60) < 10 { "0" } else { "" } + str(calc.rem(m, 60))
  let height(m) = str(calc.round(3.1 + 0.9 * calc.cos(day * 0.4255 * 1rad) + m, digits: 2))
  ([#day], [#clock(first)], [#height(0.2)], [#clock(first + 745)], [#height(0.05)])
})
#table(
  columns: (14mm, 1fr, 1fr, 1fr, 1fr), stroke: none, align: right, inset: (x: 6pt, y: 2.6pt),
  fill: (_, y) => if y == 0 { rgb("#dfe8e2") },
  table.header(table.hline(), [*Day*], [*Time*], [*Height*], [*Time*], [*Height*], table.hline()),
  ..tides.flatten(),
  table.hline(),
)

= To be sent in by keepers
#set par(justify: false)
#let line(width, label, value) = [#box(width: width, label) #value]
#line(46mm)[Name of the keeper:][Mira Sollen]

#line(53mm)[Gauge that was read:][Outer Skerry]

#line(49mm)[Months without a gap:][eleven]

#line(56mm)[Next of kin, and address:][Ode Sollen, 3 Sill Lane]

= Order for the new year
#table(
  columns: (1fr, 18mm, 24mm, 26mm), stroke: (x: none, y: 0.5pt), align: (left, right, right, right),
  fill: (_, y) => if y == 0 { rgb("#204a5a") },
  ..([What], [How many], [Each], [Together]).map(head => text(fill: white, weight: "bold", head)),
  [Paper for the drum, rolls], [24], [1.85], [44.40],
  [Ink, purple, bottles], [6], [3.20], [19.20],
  [Wire of phosphor bronze, metres], [40], [0.95], [38.00],
  [Clock keys], [3], [2.50], [7.50],
  [*In all*], [], [], [*112.10*],
)
