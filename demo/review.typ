#set document(title: "The gauges of Skerrin: a review", author: "Tide Gauge Office")
#set page(paper: "a5", margin: (x: 20mm, top: 24mm, bottom: 24mm))
#set text(font: "Libertinus Serif", size: 12pt, lang: "en")
#set par(justify: true, leading: 0.8em, spacing: 0.8em, first-line-indent: 1.4em)
#set heading(numbering: "1.1")
#show heading: it => block(above: 1.5em, below: 0.8em, it)
#show heading.where(level: 1): it => { pagebreak(weak: true); set text(17pt); block(above: 0em, below: 1.2em, it) }
#show heading.where(level: 2): set text(13pt)
#show figure.caption: set text(9.5pt)
#show raw: set text(font: "DejaVu Sans Mono", size: 9pt)

#let chapter() = context {
  let before = query(heading.where(level: 1).before(here()))
  if before.len() > 0 { before.last().body }
}
#let opens() = query(heading.where(level: 1)).any(it => it.location().page() == here().page())

#align(center)[
  #v(40mm)
  #text(28pt, weight: "bold")[The gauges of Skerrin]

  #v(3mm)
  #text(14pt)[A review for the Harbour Board]

  #v(30mm)
  Tide Gauge Office \
  Skerrin, March 1979
]
#pagebreak()

#set page(numbering: "i", footer: context align(center, text(9pt, counter(page).display("i"))))
#counter(page).update(1)
#outline(title: [Contents], indent: 1.2em)

#set page(
  header: context if not opens() [#set text(9pt); Skerrin Harbour Board #h(1fr) #emph(chapter())],
  footer: context align(center, text(9pt, counter(page).display("1"))),
)
#counter(page).update(1)

= Why the gauges were reviewed
The Board keeps five gauges. Three of them write on a drum, one is a staff that is read by hand, and one, the youngest, sends its readings by wire to the signal station.#footnote[The wire was laid in 1976 beside the cable of the harbour light, and shares its ducts.] None of them had been looked at as a part of the whole since the office was founded, and their records had drifted apart: in the surge of January two of them differed by nearly half a metre at the same hour.

This review says what each gauge is worth, what it costs, and which of them should be kept. It does not deal with the tables that are printed from the records; these will be treated in a report of their own as soon as two full years of the new readings are at hand.

== What was asked
The Board put four questions, and they are answered in this order:
+ Are the readings right, and how far can they be trusted in a surge?
+ What does each gauge cost in a year, in money and in hours?
+ Which gauges could be given up without loss?
+ What has to be bought, and when?

== How the work was done
Each gauge was visited on three days, in calm, in swell and at a spring tide. Its zero was levelled from the nearest bench mark, twice, by two parties who did not tell each other their results before both had signed.#footnote[The two results differed by more than four millimetres only once. The staff had been read upside down.] The clocks were compared with the signal of the observatory. The charts of the last two years were read again by a second reader, one week in each month.

= The five gauges
== North Pier
The float gauge on the North Pier is the oldest and, after the repairs of 1974, still the best. It keeps its zero; its clock is within half a minute a week. In a swell the damping of the well makes it late by about two minutes, which does not matter for any use that the Board makes of it.

#figure(image("hut.jpg", width: 70%), caption: [The hut on the North Pier in the year of the review.])

The keeper winds the clock on Mondays and changes the chart on the first of the month. Both are done well. It was noted that the hut is damp, and that the charts of the winter have to be dried before they can be read.

== Ferry slip
The pressure gauge at the ferry slip is read by the harbour office itself. It has no moving parts below the water, and needs little care. But its zero wanders with the warmth of the water, by up to three centimetres between March and August, and nobody had corrected for that since the first year.

The correction is simple enough to be done by hand:
```
height = reading - 0.0021 * (warmth - 9.0)
if reading < 0.15:
    note "dry", and leave the line empty
```
A sheet with the rule, and with a worked example, has been pinned up beside the dial.

== Middle Stairs
The wooden staff at the Middle Stairs is read twice a day by whoever has the watch. Its readings are rough, but they are never missing; they are the only record that has no gaps since 1951. The staff was painted anew during the review, and its zero lowered by eleven millimetres to agree with the levelling.

== Coal berth
The gauge at the coal berth was given up in 1965, when the berth was dredged, and set up again in 1971 at the other end of the quay. The two records cannot be joined: there is no levelling between the old place and the new one. This is the greatest loss that the review has to tell of, and it could have been avoided in an afternoon.

== Outer Skerry
The youngest gauge stands on the Outer Skerry and tells its readings by wire. It is right to a centimetre when it works. In two years it did not work on ninety-one days, mostly because of the wire. It was therefore compared with the North Pier for every day on which both were running, and a rule was found by which the one can stand for the other.

= What they cost
== Money
Most of the cost is the keeping of huts and piers, not of instruments. A drum, a clock and a float last for decades if they are oiled; a roof lasts for eight years. The accounts of the last five years were gone through line by line, and everything that was spent on a gauge was put to its name, the boat to the Outer Skerry included.

#figure(
  table(
    columns: (1fr, auto, auto, auto),
    align: (left, right, right, right),
    stroke: (x: none, y: 0.5pt),
    inset: (x: 4pt, y: 4pt),
    table.header([*Gauge*], [*Keeping*], [*Repairs*], [*Crowns a year*]),
    [North Pier], [212.40], [61.75], [274.15],
    [Ferry slip], [38.00], [12.20], [50.20],
    [Middle Stairs], [0.00], [6.85], [6.85],
    [Coal berth], [190.10], [44.00], [234.10],
    [Outer Skerry], [96.60], [381.35], [477.95],
    [*Total*], [*537.10*], [*506.15*], [*1043.25*],
  ),
  kind: table,
  caption: [What each gauge has cost, on average of the years 1974 to 1978.],
)

The result is that the cheapest gauge is the staff, which costs a pot of paint in two years, and the dearest the gauge on the skerry. The three drums are alike. None of these costs is large beside that of a single survey of the harbour, which the records make unnecessary.

== Hours
The hours were harder to come by, for nobody had written them down. Every keeper was therefore asked to keep a log for ten weeks. It showed that the reading of charts takes longer than everything else together, and that nearly half of it is done twice: once by the keeper, who needs the heights for the board at the harbour office, and once by the computer, who does not trust them.

#figure(
  table(
    columns: 5,
    align: (x, y) => if y < 2 { center } else if x == 0 { left } else { right },
    stroke: none,
    inset: (x: 5pt, y: 2.5pt),
    table.hline(),
    table.cell(rowspan: 2, align: left)[*Work*], table.cell(colspan: 2)[*Keeper*], table.cell(colspan: 2)[*Office*],
    [*hours*], [*of it twice*], [*hours*], [*of it twice*],
    table.hline(stroke: 0.4pt),
    [Reading charts], [61.5], [28.0], [74.0], [28.0],
    [Clocks and ink], [18.5], [0.0], [2.0], [0.0],
    [The way there], [44.0], [12.5], [9.5], [0.0],
    [Letters], [3.0], [1.0], [31.0], [6.5],
    table.hline(),
  ),
  kind: table,
  caption: [Hours in ten weeks, all keepers together.],
)

_The way there._ A keeper walks or rows for nearly as long as he reads. Nothing can be done about the distance, but two visits a week are enough for a drum that runs for eight days, and most keepers go five times.

_Reading twice._ The heights for the board at the harbour office could be taken from the computer's sheet of the day before. That would save each keeper half an hour a day, and the pilots would not notice.

_Letters._ More than half of the letters that the office writes to its keepers ask for a chart that is late. A box at the ferry slip, emptied with the post, would make them unnecessary.

= What should be done
== To be kept
The North Pier gauge, the staff and the gauge on the skerry should be kept. Together they cover the harbour, the river and the open sea, and each of them can stand in for one of the others. The ferry slip may be kept as long as its instrument lasts.

== To be given up
The gauge at the coal berth tells nothing that is not told better elsewhere. Its clock should go to the North Pier as a spare, and its hut to whoever will take it away.#footnote[The rowing club has asked for it, and would also take the stove.]

== To be bought
(a) A second clock for the North Pier, so that one can be cleaned while the other runs.

(b) Four hundred metres of wire, and the hire of the cable boat for two days.

(c) A level of the newer sort, since the old one has to be borrowed from the surveyor of roads.

= How the figures were found
== Levels
All heights in this review are above the chart datum of 1951, which lies 2.431 m below the mean level of that year. The bolts were levelled twice, out and back, in calm weather, and the mean of both ways was taken. Where the two ways differed by more than two millimetres, the line was levelled a third time; that happened at the coal berth only.#footnote[The quay there moves under the crane. The third line was levelled on a Sunday.]

== Charts
Of each gauge every tenth chart of the five years was read again, by somebody who had not read it before, and the two readings were set side by side. They agree within a centimetre on nineteen charts in twenty. What is left are mostly charts on which the ink ran, or the clock stood still for an hour and was set going again without a word.

== Days without a record
A day was counted as lost if more than six of its hours have no trace. Of the days that were lost, two in three were lost to clocks, one in five to ice and mussels in the wells, and the rest to all other causes together: gales, cables, a fire, and once a goat.

= Thanks
The office thanks the keepers, who answered every question with more patience than was to be expected of men whose charts are being read by strangers; the pilots, who lent their boat; and the observatory for its signal. What is wrong in this review is the fault of the office alone.
