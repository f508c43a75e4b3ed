// How heights of the tide are reckoned: formulas in lines and displayed, numbered and referred to.
#set page(paper: "a4", margin: (x: 27mm, y: 26mm), numbering: "1")
#set text(font: "Libertinus Serif", size: 11pt, lang: "en")
#set par(justify: true)
#set math.equation(numbering: "(1)")
#show heading: set text(size: 13pt)
#show heading: set block(above: 1.6em, below: 0.9em)

#align(center)[#text(size: 17pt, weight: "bold")[Reckoning the tide at Skerrin] \ #v(2mm) Skerrin Harbour Board, Tide Gauge Office, sheet 12 of 1978]
#v(4mm)

The height of the tide at any hour $t$ is the sum of its constituents, each of amplitude $A_k$ and speed $n_k$, above the mean level $Z_0$:

$ h(t) = Z_0 + sum_(k=1)^N f_k A_k cos(n_k t + u_k - g_k) $ <height>

Here $f_k$ and $u_k$ are the nodal factor and the nodal angle of the year, and $g_k$ is the phase lag at the North Pier. For the lunar constituent the office takes

$ f = 1 - 0.037 cos Omega, quad u = -2.1 degree sin Omega $ <nodal>

and changes them on the first day of each month. Where only the range matters, keepers may leave out all constituents with $A_k < 0.02$ m.

= Amplitudes from readings

From $m$ readings $y_j$ taken at the times $t_j$, the amplitude and the lag of one constituent follow from the two sums

$ C = 2/m sum_(j=1)^m y_j cos n t_j, quad S = 2/m sum_(j=1)^m y_j sin n t_j $ <sums>

by $A = sqrt(C^2 + S^2)$ and $tan g = S / C$. The scatter that is left,

$ sigma = sqrt(1/(m - 3) sum_(j=1)^m (y_j - hat(y)_j)^2), $ <scatter>

is entered on the back of the sheet. A sheet with $sigma > 0.05$ m is read again.

= The stilling well

The well answers the sea through a pipe with the time constant $tau$. Its level $w$ obeys

$ (dif w)/(dif t) = (h - w)/tau $ <well>

so that a wave of period $T$ is lowered by the factor $(1 + 4 pi^2 tau^2 \/ T^2)^(-1\/2)$. The pen is set by

$ s = cases(+1 & "if" w > h, 0 & "if" w = h, -1 & "if" w < h) $ <pen>

and the two gauges are compared by

$ mat(y_1; y_2) = mat(a_(11), a_(12); a_(21), a_(22)) mat(x_1; x_2). $ <compared>

Equation (1) is worked out for each hour of the year; equation (4) is the one that the inspector asks for.
