#set document(title: "The keepers' rounds in summer", author: "Tide Gauge Office")
#set page(paper: "a4", margin: (x: 27mm, top: 24mm, bottom: 24mm))
#set text(font: "Libertinus Serif", size: 11.5pt, lang: "en", tracking: -0.36pt)
#set par(leading: 0.82em, spacing: 1.05em)
#align(right)[
  *Skerrin Harbour Board* \
  Tide Gauge Office \
  Lower Quay 4, Skerrin

  21 May 1992
]
#v(2mm)
To the keepers of all gauges
#v(2mm)
*The keepers' rounds in summer*

From the first of June until the last of September the drums are changed on Mondays and on Thursdays, not on Mondays alone. The light evenings bring visitors to the piers, and last year three charts were lost because a hut had been left open and somebody had turned the drum to see how it worked.

Please keep to the following order on each round. Wind the clock first, before the hut has warmed up with the door open, and note how many turns it took. Lift the pen, take the old chart off, and write the day, the hour and your name on its back while it is still in your hand; a chart without a name has to be sent back to you, which helps nobody. Lay the new chart on so that the pen falls off the overlap and does not climb it, lower the pen, and wait until it has drawn for as long as it takes to fill a pipe.

Then read the staff, and read it three times. Write all three readings down, the one that you believe to be wrong as well: the office has found more than once that the odd one out was right, and that the swell had fooled the reader twice in the same way. In a north-easterly swell wait for the seventh wave and read between the crests.

The well at the ferry slip has been cleaned and its inlet widened to forty-one millimetres. For the first weeks its curve will be livelier than you are used to, with small teeth on the flood. That is the harbour and not the pen, and it need not be reported.

Weed is to be cut from the staffs at each spring tide and not only when the figures can no longer be seen. The divers will come on the second and the fourth Wednesday of each month; whoever wants them to look at something hangs a red cloth from the rail on the evening before, where they can see it from the boat.

Ink has been ordered from a new maker, since the old one has closed his shop. It flows more freely, above all in warm weather. Fill the pen to the second mark and no further, and if it blots, move the weight one notch outwards. The old ink must not be mixed with the new one: it curdles, and the pen has to be boiled.

Those who have their leave in July name somebody who will stand in for them, by letter and before the middle of June. Nobody goes out alone to the Outer Skerry, in whatever weather, and nobody goes there at all when the glass has fallen by more than six millibars since the morning.

Oil for the lamps is fetched from the Lower Quay as before, on Fridays, and signed for in the book that hangs beside the door. Whoever takes the last can says so at the desk, so that nobody rows in for nothing.

The office is grateful for a winter in which not a single day of the record was lost.

Ailsa Morvane \
Superintendent of Gauges
