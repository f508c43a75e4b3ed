#set document(title: "North Pier gauge: inspection report", author: "Tide Gauge Office")
#set page(paper: "a4", margin: (x: 25mm, top: 27mm, bottom: 25mm), header: context if counter(page).get().first() > 1 [
  #set text(9pt)
  Skerrin Harbour Board #h(1fr) North Pier gauge, inspection
], footer: context align(center, text(9pt)[Page #counter(page).display()]))
#set text(font: "Libertinus Serif", size: 12pt, lang: "en")
#set par(justify: true, leading: 0.66em, spacing: 0.66em, first-line-indent: 1.4em)
#set heading(numbering: "1.1")
#show heading: it => block(above: 1.5em, below: 0.8em, it)
#show heading.where(level: 1): set text(15pt)
#show heading.where(level: 2): set text(12.5pt)
#set list(marker: ([•], [–]), indent: 0.6em)
#show figure.caption: set text(9.5pt)
#set figure(gap: 0.9em)
#show figure: set block(above: 1.4em, below: 1.4em)

#align(center)[
  #v(40mm)
  #text(24pt, weight: "bold")[North Pier gauge]

  #text(14pt)[Report of the inspection of September 1974]

  #v(4mm)
  Tide Gauge Office, Skerrin Harbour Board
  #v(14mm)
  #image("hut.jpg", width: 100%)
]
#pagebreak()

= What was inspected
The recording gauge on the North Pier has stood in its hut since 1938. It is a float gauge with a drum that turns once a day, driven by an eight-day clock. The float hangs in a well of cast iron, 34 centimetres wide, that opens to the harbour through a conical inlet two metres below the lowest tide. The gauge was inspected on 16, 17 and 18 September by the superintendent, the mechanic and one diver.

The inspection had four aims:
- to find why the record of the spring set of 14 March was lost;
- to compare the zero of the gauge with bench mark 7;
- to measure how much the inlet delays and damps the tide;
- to say what has to be renewed before the winter, and above all
  - what can be made in our own workshop,
  - what has to be ordered.

#figure(image("hut.jpg", width: 78%), caption: [The hut on the North Pier, seen from the ferry slip. The old staff stands at the right.])

= State of the parts
== Float and wire
The float was found hard against the guide wire, and the trace for the two-day spring set is lost. The well was pumped dry, the orifice cleared of weed, and the float re-hung on a new wire of phosphor bronze. The old wire had lost a third of its section where it runs over the wheel; it would not have lasted another winter.

The float itself is sound. It was weighed before and after drying, and the two weights differ by less than the weight of the salt on its skin. The counterweight had been replaced at some time by a sash weight from the signal station, which is too light by 210 grams; the right one was found in the store and put back.

== Clock and drum
The clock gains four minutes a week. It was cleaned in 1969 and has been oiled since then with the oil meant for the drum, which is too thick. Its rate was watched for ten days after cleaning and has stayed within half a minute. The drum runs true. Its seam, however, catches the pen when the paper is laid on with the overlap turned against the motion, as it had been for most of the summer.

The keeper shall therefore:
+ lay the paper on so that the pen falls off the overlap and does not climb it;
+ wind the clock on Mondays only, after the chart has been changed;
+ note the time of the signal station beside the first line of each chart;
+ leave the regulator alone, and report any gain or loss above one minute a week.

== Well and inlet
The inlet was half closed by mussels. The diver cleared it and measured the opening, which has worn from 38 to 41 millimetres. The well answers the tide with a delay that grows with the height of the swell, and the damping was measured by drawing the float up by 40 centimetres and letting it fall.

#figure(
  box(width: 118mm, height: 58mm, {
    let n = 60
    let w = 110mm
    let pts(f) = range(n + 1).map(i => (6mm + w * i / n, 30mm - 20mm * f(i / n)))
    place(line(start: (6mm, 4mm), end: (6mm, 54mm), stroke: 0.6pt))
    place(line(start: (6mm, 30mm), end: (116mm, 30mm), stroke: 0.6pt))
    for i in range(0, 9) { place(dx: 5mm + w * i / 8, dy: 31mm, text(6.5pt)[#(i * 3)]) }
    place(dx: 100mm, dy: 34mm, text(6.5pt)[hours])
    place(curve(stroke: 1pt + rgb("#145c52"), curve.move(pts(x => calc.sin(x * 12.5)).first()), ..pts(x => calc.sin(x * 12.5)).slice(1).map(p => curve.line(p))))
    place(curve(stroke: (paint: rgb("#b5651d"), thickness: 1pt, dash: "dashed"), curve.move(pts(x => 0.86 * calc.sin(x * 12.5 - 0.35)).first()), ..pts(x => 0.86 * calc.sin(x * 12.5 - 0.35)).slice(1).map(p => curve.line(p))))
  }),
  caption: [The tide outside the well (line) and inside it (dashes) with the inlet half closed. Hours after noon of 16 September.],
)

After the inlet was cleared the delay could no longer be told from the error of the watch. It follows that all heights of high water between the spring and the inspection are too low by up to six centimetres, and that the times are too late by as much as eleven minutes. The corrections have been entered in the station book, chart by chart, with a note that says how each was found.

= Levelling
The contact point of the gauge was levelled to bench mark 7 on each of the three days, out and back, with the small instrument. The greatest difference between two results is 1.4 millimetres, which is less than the uncertainty of the method. The zero of the gauge now stands 2.310 metres below the bench mark; in 1969 it stood at 2.308. Whether the pier has settled, or the bench mark has been pushed up by the ice of 1971, cannot be decided from here. A second mark on the rock behind the customs store would settle the matter for good.

We have looked through the books of the last thirty years for other signs of settlement. There are few. The steps of the Middle Stairs were relaid in 1958, and the mason noted then that the lowest had sunk "a finger's breadth or a little more". The gate of the dry dock has not needed to be rehung since the war. The crack in the wall of the hut, which is often spoken of, is a crack in the plaster and goes no deeper.

#figure(image("hut.jpg", width: 46%), caption: [The same view, drawn smaller for the station book.])

#pagebreak()
= What has to be done
Before the winter:
- the inlet is to be fitted with a grating that can be lifted from above;
- the sash weight is to be returned to the signal station, with our thanks;
- a second bench mark is to be set in the rock;
- the hut is to be painted, and its door to be hung so that it opens away from the sea.

In the coming year:
- a second clock is to be bought, so that one can be cleaned while the other runs;
- the drum is to be given a spring clip in place of the gummed edge;
- the staff at the Middle Stairs is to be renewed (see the letter to the Pilots' Association).

The cost of the work before the winter is put at 310 crowns. The clock and the clip come to another 260. Both sums are within what the Board has granted for the upkeep of the gauges, and no further decision is needed.

== Who takes part
The mechanic, Tobiah Renn, makes the grating and the clip. The diver comes for half a day in October, on the morning of the lowest tide. The keeper, Ruth Harrow, keeps the second set of charts from now on, at the ferry slip, so that nothing is lost should the gauge stand still.

#pagebreak()
= Remarks of the keeper
The keeper was asked for her own view, which is given here as she wrote it, with nothing left out but the names of the fishermen.

"The gauge is a good gauge and asks for little. It does not like to be hurried. In winter the paper takes up the damp and swells, and then the pen draws a line like a wet finger; a tin with a lid would help, and a spoon of rice in it. The boys throw stones at the staff. I have spoken to their mothers.

"When the swell is from the north-east the whole hut hums, and the pen draws it. I used to think that this was the clock. It is not the clock. If somebody wants to know how high the swell was in any night of the last nine years, it is all there, on the edge of the line, for those who care to measure it with a glass.

"The new wire sings at half tide. I suppose that it will stop."

Skerrin, 27 September 1974
