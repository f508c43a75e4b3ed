#set page(paper: "a4", margin: (x: 22mm, y: 24mm))
#set text(font: "Libertinus Serif", size: 10.5pt, lang: "en")
#align(center)[#text(15pt)[*Tide table, ferry slip*] \ October 1976. Heights in metres above chart datum.]
#v(4mm)
#let height(n) = {
  let value = calc.round(2.4 + 1.9 * calc.sin(n * 2.13) + 0.3 * calc.sin(n * 0.7), digits: 2)
  let text = str(value)
  text + "0" * (2 - (text.split(".").at(1, default: "").len()))
}
#let hour(n) = {
  let minutes = calc.rem(n * 373 + 95, 1440)
  let two(m) = if m < 10 { "0" + str(m) } else { str(m) }
  two(calc.floor(minutes / 60)) + "." + two(calc.rem(minutes, 60))
}
#table(
  columns: (auto, 1fr, 1fr, 1fr, 1fr),
  align: (right, right, right, right, right),
  stroke: 0.6pt,
  inset: (x: 6pt, y: 4.2pt),
  [*Day*], [*Time*], [*Height*], [*Time*], [*Height*],
  ..range(1, 25).map(day => ([#day], hour(2 * day), height(2 * day), hour(2 * day + 1), height(2 * day + 1))).flatten(),
)
#v(2mm)
Predicted from the constants of 1975. Strong westerly winds raise the heights by up to 0.4 m.
