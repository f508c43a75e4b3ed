"""Where the sentences of a text begin: by its signs, the words that are shortened in its language, and what follows."""

from __future__ import annotations

import re

from evenquill.core.model.inline import OBJECT

SHORTENED = {
    "en": "approx art cf chap co corp dept dr ed eds eq eqs est fig figs gen gov hon inc jr ltd messrs mr mrs ms mt op pl "
    "pp prof rev sec sr st ver viz vol vols vs p",
    "de": "abb abs anm art aufl bd bde bzgl bzw ca dr evtl fa fr ggf hr hrsg inkl kap lt max min mio mrd nr prof rd sog st str "
    "tab tel u usw vgl z zzgl",
    "fr": "art p av boul cf ch chap dr ed env etc fig hab max min mlle mm mme no nos op pp prof st ste tab tel vol",
    "es": "art p av cap cf dr dra ed etc fig gral lic max min num núm pag pág pp prof sr sra srta tel vol",
    "it": "art p avv cap cfr dott dr ecc ed fig ing max min n nn pag pagg prof sig sigg st tab tel vol",
    "pt": "art p av cap cf dr dra ed etc fig max min n nº núm pag pág pp prof sr sra tel vol",
    "nl": "afb art bijv blz ca dhr dr drs enz evt fig hfdst incl ing max mevr min mr nr o p prof resp st t tel vgl z",
    "sv": "bl ca dvs e ex fig forts i jfr kap kl max min nr o resp s st t tel tr ung",
    "fi": "eli em esim fil ks kpl l mm n nk no nro ns os p puh s so t tms toim v vrt yms",
    "da": "ang bl ca dr e el evt f fig hhv inkl jf kap kl maks min mio nr o osv p pga s st t tlf vedr",
    "nb": "ang bl ca d dr e evt f fig inkl jf kap kl maks min mill nr o osv p pga s st t tlf",
    "pl": "al art dr fig gen godz im inż itd itp j lek max mgr min mjr np nr ok os pkt por prof r rozdz rys s św tab tel tj tys "
    "tzn ul ust w z zob",
    "cs": "apod atd bc cca č čl dr fig gen hod ing j kap kpt mgr mj mjr např nám obr odst p popř prof př r resp s str sv tab tel "
    "tj tř tzn tzv ul v vyd zvl",
}  # fmt: skip
"""Words that end in a dot within a sentence, by language (two letters), in small letters and without their dots."""

ORDINAL = frozenset({"de", "nl", "da", "nb", "fi", "cs", "pl"})
"""Languages that write ordinal numbers, and days, with a dot."""

NUMBERED = frozenset({"no", "nos", "art", "pt"})
"""Words that are shortened before a number, and whole words elsewhere."""

_END = re.compile(rf"(?P<before>\S*?)(?P<sign>[.!?…]+)[\"'”’»)\]{OBJECT}]*\s+(?=(?P<next>\S))")
"""The end of a word, the signs that may end a sentence, what may stand close behind them (the mark of a note too), and what follows."""


def sentence_starts(text: str, language: str) -> list[int]:
    """The places at which sentences begin that are not the first one. A sign ends none where a small letter follows, or, if it is a dot,
    where the word before it is shortened, a single letter, or an ordinal number."""
    shortened = frozenset(SHORTENED.get(language, SHORTENED["en"]).split())
    starts = []
    for match in _END.finditer(text):
        following = match["next"]
        if following.islower() or following in ",;:)]":
            continue
        word = match["before"].lstrip("([\"'“„«‘")
        counted = following.isdigit() and word.lower() in NUMBERED
        if match["sign"] == "." and (counted or _is_within(word, shortened, language)):
            continue
        starts.append(match.end())
    return starts


def _is_within(word: str, shortened: frozenset[str], language: str) -> bool:
    """Whether the dot behind a word may stand within a sentence."""
    if word.isdigit():
        return language in ORDINAL and len(word) < 3
    letters = word.split(".")
    if len(letters) > 1 and all(len(one) == 1 and one.isalpha() for one in letters):  # i.e, z.B
        return True
    return (len(word) == 1 and word.isupper()) or word.lower() in shortened
