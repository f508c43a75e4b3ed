"""How letters begin and end, by language; ``{}`` is a name."""

OPENINGS = {
    "en": (
        "Dear {},",
        "Dear Mr {},",
        "Dear Mrs {},",
        "Dear Sir or Madam,",
        "Sir,",
        "To whom it may concern:",
        "Dear colleagues,",
    ),
    "de": (
        "Sehr geehrte Frau {},",
        "Sehr geehrter Herr {},",
        "Sehr geehrte Damen und Herren,",
        "Liebe Kolleginnen und Kollegen,",
        "Liebe {}!",
    ),
    "fr": ("Madame, Monsieur,", "Monsieur {},", "Madame la Directrice,", "Chère {},"),
    "es": ("Estimada señora {}:", "Muy señor mío:", "Estimados señores:", "Querida {}:"),
    "it": ("Gentile signora {},", "Egregio dottor {},", "Spett.le ditta,", "Cara {},"),
    "pt": ("Exma. Senhora {},", "Prezado Senhor {},", "Caros colegas,"),
    "nl": ("Geachte mevrouw {},", "Geachte heer {},", "Beste {},"),
    "sv": ("Bästa {},", "Hej {}!", "Till {}"),
    "da": ("Kære {},", "Kære kolleger"),
    "cs": ("Vážená paní {},", "Vážení,"),
    "ca": ("Benvolguda {},", "Senyors,"),
    "ro": ("Stimată doamnă {},", "Stimate domnule {},"),
    "ru": ("Уважаемый {}!", "Уважаемая {},"),
}

CLOSINGS = {
    "en": (
        "Yours sincerely,",
        "Yours faithfully",
        "With kind regards,",
        "I remain, Sir, your obedient servant,",
        "Best wishes",
    ),
    "de": ("Mit freundlichen Grüßen", "Hochachtungsvoll", "Herzliche Grüße"),
    "fr": ("Veuillez agréer, Madame, l’expression de mes sentiments distingués.", "Cordialement,", "Bien à vous"),
    "es": ("Atentamente,", "Un cordial saludo", "Reciba un cordial saludo,"),
    "it": ("Distinti saluti", "Cordiali saluti,", "Con osservanza"),
    "pt": ("Atenciosamente,", "Com os melhores cumprimentos"),
    "nl": ("Met vriendelijke groet,", "Hoogachtend,"),
    "sv": ("Med vänlig hälsning", "Högaktningsfullt"),
    "da": ("Med venlig hilsen", "Venlig hilsen"),
    "cs": ("S pozdravem", "S úctou"),
    "ca": ("Atentament,", "Cordialment"),
    "ro": ("Cu stimă,", "Cu respect"),
    "ru": ("С уважением,", "Искренне ваш"),
}
