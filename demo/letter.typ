#set document(title: "Staff gauge at the Middle Stairs", author: "Tide Gauge Office")
#set page(paper: "a4", margin: (x: 26mm, top: 28mm, bottom: 24mm))
#set text(font: "Libertinus Serif", size: 11pt, lang: "en")
#set par(leading: 0.68em, spacing: 1.1em)
#align(right)[
  *Skerrin Harbour Board* \
  Tide Gauge Office \
  Lower Quay 4 \
  Skerrin

  3 March 1992
]
#v(8mm)
Captain Osric Vane \
Pilots' Association \
Beacon House \
Skerrin
#v(6mm)
Dear Captain Vane,

*Staff gauge at the Middle Stairs*

Thank you for your letter of 24 February. You write that the staff at the Middle Stairs can hardly be read at low water, and that two of your members have taken the painted figure 3 for an 8. We have been to see it, and we are sorry to say that they are right: the lower half metre is worn to the bare wood.

A new staff was ordered on the same day. It is cut from larch, with brass figures let into the wood, so that neither weed nor the fenders of the ferry can rub them off. The carpenter has promised it for the third week of the month, and the divers will fix it at the next spring tide.

Until then, please ask your members to read the *upper* staff by the ladder and to subtract 1.42 m. The readings are sure to two centimetres in calm weather, _but not in a north-easterly swell_.

Yours sincerely,

#image("signature.png", width: 42mm)

Ailsa Morvane \
Superintendent of Gauges
