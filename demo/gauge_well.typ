// A printed sheet of formulas of 1974, as it lies in the file: made to be scanned.
#set page(paper: "a4", margin: (x: 30mm, y: 28mm))
#set text(font: "New Computer Modern", size: 11pt, lang: "en")
#set par(justify: true, leading: 0.8em)
#set math.equation(numbering: "(1)")

#align(center)[#text(size: 15pt, weight: "bold")[The gauge well at Skerrin] \ #v(1mm) Skerrin Harbour Board, Tide Gauge Office, 1974]
#v(4mm)

The level $w$ in the well follows the level $h$ of the sea through the pipe. With the area $A$ of the well and the area $a$ of the pipe its time constant is

$ tau = A / a sqrt(L / (2 g)) $

where $L$ is the length of the pipe. A wave of the period $T$ comes into the well with its height lowered by

$ r = 1 / sqrt(1 + ((2 pi tau) / T)^2) $

so that waves of a few seconds are not drawn, and the tide is drawn whole. For the mean of $n$ readings the office writes

$ overline(y) = 1/n sum_(j=1)^n y_j $

and for their scatter

$ s^2 = 1/(n-1) sum_(j=1)^n (y_j - overline(y))^2. $

A sheet is put aside where $s > 0.05$ and the keeper cannot say why. The height that is sent to the board is

$ H = Z_0 + integral_0^T w(t) dif t $

with the zero $Z_0$ of the staff, and is rounded to the nearest centimetre.
