#set document(title: "Notice to mariners 14", author: "Skerrin Harbour Board")
#set page(paper: "a5", margin: (x: 18mm, y: 20mm))
#set text(font: "Libertinus Serif", size: 10pt, lang: "en", hyphenate: true)
#set par(justify: true, leading: 0.62em, spacing: 1em)
#show heading.where(level: 1): it => block(below: 0.9em, text(16pt, fill: rgb("#7a1f1f"), it.body))
#show heading.where(level: 2): it => block(above: 1.3em, below: 0.7em, text(11.5pt, fill: rgb("#1f4d6b"), it.body))
= Notice to mariners 14
_Skerrin Harbour Board, 20 May 1992. This notice replaces number 11._

== Light on the outer mole
The light on the outer mole will be *dark from 1 to 9 June* while the lantern is renewed. A white lamp is shown in its place from the rail of the old light-house, four metres lower than usual. It can be seen for three miles in clear weather and should not be taken for the lamp of the ferry slip, which is yellow.

== Dredging in the inner channel
The dredger lies between the second and the third beacon on working days. She shows two black balls by day and two red lamps by night on the side that is foul. Vessels pass on the other side, slowly, and do not overtake one another.

- Draught above 2.5 m: wait for the signal of the dredger.
- Draught above 3.5 m: only within an hour of high water.
- Rowing boats: keep to the western side.

== Tide tables
The tables for the second half of the year are ready. They may be had at the counter of the Tide Gauge Office, or asked for in writing at #link("mailto:tables@gauges.skerrin.example")[tables\@gauges.skerrin.example]. Corrections are kept at #link("https://gauges.skerrin.example/corrections")[gauges.skerrin.example/corrections].

== Who to ask
Questions about this notice are answered by the harbour-master, and about heights and times by the super-intendent of gauges. The signal station answers both at night.

Printed in the office of the Board.
