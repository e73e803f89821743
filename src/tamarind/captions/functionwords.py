"""Function words of some languages, by the neighbour that they must not be parted from.

They are closed classes, so that they can be listed: articles and other determiners, prepositions,
conjunctions, pronouns, particles and auxiliary verbs. A line that ends with one of them is read
with a stumble.
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import cache


@dataclass(frozen=True, slots=True)
class FunctionWords:
    """Words by the side they lean to: most to the next word, ``objects`` (pronouns that are never
    subjects) and ``particles`` to the one before; ``conjunctions`` open a phrase and may well begin
    a line."""

    determiners: frozenset[str] = frozenset()
    prepositions: frozenset[str] = frozenset()
    conjunctions: frozenset[str] = frozenset()
    pronouns: frozenset[str] = frozenset()
    auxiliaries: frozenset[str] = frozenset()
    titles: frozenset[str] = frozenset()
    objects: frozenset[str] = frozenset()
    particles: frozenset[str] = frozenset()

    @property
    def every(self) -> frozenset[str]:
        """All words of all classes."""
        return frozenset().union(*(getattr(self, one.name) for one in fields(self)))


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


_TABLES = {
    "en": FunctionWords(
        determiners=_words(
            "a an the my your his its our their this these those every each no some any another "
            "both either neither which what whose such her many few several all half much more "
            "most other very too quite rather so as"
        ),
        prepositions=_words(
            "of to in on at by for from with into onto over under about after before between "
            "through without within upon among across along around against behind below beneath "
            "beside besides beyond during except inside near off out outside since toward towards "
            "until till up down via per despite like than"
        ),
        conjunctions=_words(
            "and or but nor if because although though while whereas unless when where who whom "
            "that which how why whether once yet"
        ),
        pronouns=_words("i you he she it we they who there i'm you're he's she's it's we're "
                        "they're i've you've we've they've i'll you'll he'll she'll it'll we'll "
                        "they'll i'd you'd he'd she'd we'd they'd that's there's"),
        auxiliaries=_words(
            "is are was were be been being am have has had having will would shall should can "
            "could may might must do does did don't doesn't didn't isn't aren't wasn't weren't "
            "haven't hasn't hadn't won't wouldn't can't couldn't shouldn't mustn't cannot not "
            "never let's"
        ),
        titles=_words("mr mrs ms dr prof st sir lady lord mr. mrs. ms. dr. prof. st."),
        objects=_words("me him us them myself himself herself itself ourselves themselves"),
        particles=_words("up out off down away back over"),
    ),
    "es": FunctionWords(
        determiners=_words("el la los las un una unos unas mi mis tu tus su sus nuestro nuestra "
                           "nuestros nuestras este esta estos estas ese esa esos esas aquel "
                           "aquella cada todo toda todos todas algún alguna ningún ninguna otro "
                           "otra otros otras muy más tan lo al del"),
        prepositions=_words("a ante bajo con contra de desde durante en entre hacia hasta para "
                            "por según sin sobre tras"),
        conjunctions=_words("y e o u pero ni que si porque aunque cuando donde como quien cual "
                            "mientras pues sino"),
        pronouns=_words("yo tú él ella nosotros ellos ellas usted ustedes me te se nos le les"),
        auxiliaries=_words("es son era eran fue fueron ha han había habían he hemos está están "
                           "estaba estaban ser estar haber no"),
        titles=_words("sr sra dr dra don doña sr. sra. dr. dra."),
    ),
    "fr": FunctionWords(
        determiners=_words("le la les un une des du de mon ma mes ton ta tes son sa ses notre nos "
                           "votre vos leur leurs ce cet cette ces chaque tout toute tous toutes "
                           "quelque quelques aucun aucune très plus si au aux"),
        prepositions=_words("à en dans sur sous pour par avec sans chez vers entre contre depuis "
                            "pendant avant après jusque dès selon"),
        conjunctions=_words("et ou mais ni car donc que qui quand si comme où lorsque puisque "
                            "quoique dont"),
        pronouns=_words("je tu il elle on nous vous ils elles me te se y"),
        auxiliaries=_words("est sont était étaient a ont avait avaient ai as avons avez suis es "
                           "sommes êtes sera seront ne pas"),
        titles=_words("m mme mlle dr m. mme. dr."),
    ),
    "de": FunctionWords(
        determiners=_words("der die das den dem des ein eine einen einem einer eines mein meine "
                           "meinen dein deine sein seine ihr ihre unser unsere euer kein keine "
                           "keinen dieser diese dieses diesen diesem jeder jede jedes alle sehr "
                           "zu im am zum zur vom beim ins ans"),
        prepositions=_words("in an auf aus bei mit nach von vor über unter zwischen durch für "
                            "gegen ohne um bis seit während wegen trotz hinter neben"),
        conjunctions=_words("und oder aber denn sondern dass weil wenn ob als obwohl damit bevor "
                            "nachdem während sobald wie wo"),
        pronouns=_words("ich du er sie es wir man"),
        auxiliaries=_words("ist sind war waren hat haben hatte hatten wird werden wurde wurden "
                           "kann können muss müssen soll sollen will wollen nicht"),
        titles=_words("herr frau dr prof dr. prof."),
    ),
    "it": FunctionWords(
        determiners=_words("il lo la i gli le un uno una del dello della dei degli delle al allo "
                           "alla ai agli alle dal dalla nel nella sul sulla mio mia tuo sua suo "
                           "nostro nostra questo questa quel quella ogni molto più"),
        prepositions=_words("di a da in con su per tra fra senza verso dopo prima durante"),
        conjunctions=_words("e ed o ma né che se perché quando dove come mentre chi cui"),
        pronouns=_words("io tu lui lei noi voi loro mi ti si ci vi"),
        auxiliaries=_words("è sono era erano ha hanno aveva avevano ho abbiamo non"),
        titles=_words("sig sig.ra dott sig. dott."),
    ),
    "pt": FunctionWords(
        determiners=_words("o a os as um uma uns umas do da dos das no na nos nas ao à aos às meu "
                           "minha seu sua nosso nossa este esta esse essa aquele aquela cada todo "
                           "toda muito mais"),
        prepositions=_words("de em com por para sem sob sobre entre até desde contra após"),
        conjunctions=_words("e ou mas nem que se porque quando onde como embora enquanto quem"),
        pronouns=_words("eu tu ele ela nós eles elas você vocês me te se"),
        auxiliaries=_words("é são era eram foi foram tem têm tinha está estão estava não"),
        titles=_words("sr sra dr dra sr. sra. dr. dra."),
    ),
    "ca": FunctionWords(
        determiners=_words("el la els les un una uns unes del dels al als pel pels meu meva seu "
                           "seva nostre nostra aquest aquesta aquell aquella cada tot tota molt "
                           "més"),
        prepositions=_words("a amb de des en entre fins per sense sobre sota cap contra"),
        conjunctions=_words("i o però ni que si perquè quan on com mentre qui"),
        pronouns=_words("jo tu ell ella nosaltres ells elles em et es ens us"),
        auxiliaries=_words("és són era eren ha han havia va van està estan no"),
        titles=_words("sr sra dr dra sr. sra."),
    ),
}  # fmt: skip

UNITS = frozenset(
    "% ° °c mm cm m km g kg t l ml ha ms s min h kwh mw ppm pm am percent degrees degree metres "
    "metre meters meter centimetres centimetre centimeters centimeter millimetres millimetre "
    "millimeters millimeter kilometres kilometre kilometers kilometer miles mile feet foot inches "
    "inch yards yard acres acre hectares hectare litres litre liters liter grams gram kilos "
    "kilograms kilogram tonnes tonne tons ton pounds pound euros euro dollars dollar pence "
    "seconds second minutes minute hours hour days day weeks week months month years year "
    "thousand million billion times o'clock metros metro años año grados por días horas minutos "
    "segundos hectáreas mètres ans heures jours meter jahre stunden tage".split()
)
"""What a number is counted in; a line does not end between the two."""

NUMBER_WORDS = frozenset(
    "one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen "
    "sixteen seventeen eighteen nineteen twenty thirty forty fifty sixty seventy eighty ninety "
    "hundred thousand million billion".split()
)


@cache
def function_words(language: str) -> FunctionWords:
    """Return the function words of a language (a BCP 47 tag); empty classes for unknown ones."""
    return _TABLES.get(language.partition("-")[0].casefold(), FunctionWords())
