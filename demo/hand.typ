// Handwriting: letters of an italic face that dance a little, each in its own way but the same every time.
#let hand(body, size: 14pt, ink: rgb("#2b3f86")) = {
  set text(size: size, fill: ink, style: "italic", font: "New Computer Modern", weight: "regular")
  for (n, letter) in body.clusters().enumerate() {
    let sway = calc.sin(n * 12.9898) * 43.758
    let part = sway - calc.floor(sway)
    if letter == " " { h(0.35em) } else {
      box(move(dy: (part - 0.5) * 1.6pt, rotate((part - 0.5) * 13deg, scale(x: 92% + part * 12%, letter))))
    }
  }
}

#let stamp(day, ink: rgb("#7d4a9a")) = rotate(-7deg, box(
  stroke: 1.6pt + ink,
  inset: 7pt,
  radius: 3pt,
  align(center, text(font: "DejaVu Sans Mono", fill: ink, weight: "bold")[#text(15pt)[RECEIVED]\ #text(9pt)[#day]]),
))
