#set document(title: "The Tide Bell", author: "Skerrin Harbour Board")
#set page(paper: "a4", margin: (x: 20mm, top: 22mm, bottom: 24mm), footer: [
  #set text(8pt)
  The Tide Bell, harbour newsletter #h(1fr) Autumn 1978 #h(1fr) #context counter(page).display()
])
#set text(font: "Libertinus Serif", size: 10.5pt, lang: "en")
#set par(justify: true, leading: 0.62em, spacing: 0.62em, first-line-indent: 1.2em)
#show heading: it => block(above: 1.3em, below: 0.6em, it)
#show heading.where(level: 2): set text(12.5pt)

#align(center)[
  #text(34pt, weight: "bold")[The Tide Bell]

  #text(11pt, style: "italic")[News from the Skerrin Harbour Board for all who live by the water]
]
#v(2mm)
#line(length: 100%, stroke: 0.8pt)
#v(1mm)
#columns(2, gutter: 8mm)[
== A new bell for the Middle Stairs
The old bell at the Middle Stairs has been silent since the February gale took its clapper. From the first of October a new one will strike whenever the water stands at four metres and rising. It was cast at Ardling from the metal of the old one, to which the pilots added the bronze of two worn-out propellers, and it is said to be heard as far as the Outer Skerry when the wind is in the west.

The bell is worked by the float of the gauge itself. A cam on the drum lifts a small weight, and the weight trips the hammer; there is nothing in it that needs a battery, and nothing that a keeper could forget. The superintendent asks all owners of boats at the lower wharf to listen for it during the first fortnight and to report if it strikes late.

#figure(image("hut.jpg", width: 100%), caption: [The hut on the North Pier, where the bell waits for its beam.])

== Who reads the staff on Sundays?
For eleven years the wooden staff at the ferry slip was read on Sundays by Hesketh Brannow, who never missed a tide and never took a fee. He has now moved inland to his daughter's, and the Board is looking for somebody to follow him.

What is wanted:
- a good pair of eyes, and a lamp;
- two readings on each Sunday, within ten minutes of high water;
- a clear hand for the log.

The office lends oilskins and a bicycle. Names may be given at the signal station before the end of the month.

== The harbour walk
The walk from the ferry slip to the coal berth is open again. It had been closed since the slipway was relaid, because the new stones were higher than the old ones and the gate would not shut. The gate has been cut down by a hand's breadth; whoever remembers the gale knows why there must be a gate.

Along the walk there are now seven small plates that show how high the water stood in the great surges. The highest of them, of 1869, is at the height of a tall man's hat. It was found by levelling from bench mark 7, not by memory, and those who remember it otherwise are kindly asked to argue with the level.

== Letters
A reader at Tarrow asks why the tide table for his landing is twelve minutes wrong on most days and right on some. The answer is the bar: at low water the ebb must go round it, and at high water it need not. The office prints a second table for the landing from January on.
]
