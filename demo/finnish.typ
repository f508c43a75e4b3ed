#set page(paper: "a4", margin: (x: 27mm, y: 26mm))
#set text(font: "Libertinus Serif", size: 11.5pt, lang: "fi")
#set par(leading: 0.7em, spacing: 1.15em, justify: true)
Kallioniemen satamakonttori \
Vedenkorkeuden havaintoasema

#align(right)[Kallioniemi, 4. huhtikuuta 1979]

Skerrinin satamahallitukselle \
Vuorovesimittarien toimisto

*Vertailu kevään vedenkorkeuksista*

Arvoisat virkaveljet,

kiitämme kirjeestänne, jonka saimme viime viikolla yhdessä maaliskuun havaintojen kanssa. Olemme verranneet lukemianne omiimme ja todenneet, että mittarien ero pysyi koko kuukauden alle kahden senttimetrin. Ainoastaan myrskypäivänä, yhdeksäntenätoista maaliskuuta, ero kasvoi hetkeksi yhdeksään senttimetriin.

Arvelemme syyn löytyvän meidän mittaristamme. Kaivon putki on vanha, ja jäätyvä vesi on ilmeisesti hidastanut uimurin liikettä juuri silloin, kun vesi nousi nopeimmin. Putki vaihdetaan kesäkuussa, kun sukeltajat ovat saaneet satamalaiturin työt valmiiksi.

Pyydämme teitä ystävällisesti lähettämään myös huhtikuun havainnot heti, kun ne on kirjoitettu puhtaaksi. Tarvitsemme niitä vuorovesitaulukkojen laskemiseen ensi vuotta varten.
#pagebreak()
Samalla tiedustelemme, olisiko teillä mahdollista lainata meille kannettavaa vertailumittaria kahdeksi viikoksi elokuussa. Oma laitteemme on korjattavana, eikä sen valmistumisesta ole varmaa tietoa.

Lopuksi haluamme kertoa, että uusi havaintokirja on otettu käyttöön. Siihen merkitään vedenkorkeuden lisäksi tuulen suunta, ilmanpaine ja jäätilanne kolme kertaa päivässä.

Kunnioittaen

Aune Särkilahti \
havaintoaseman hoitaja
