"""Words by which a wording betrays what kind of answer it asks for, by language.

Common practice of questionnaire writing, kept as tables so that a language is added without code. Clues are looked
for at the beginning of the wording where they open a question (OPENING), anywhere in it otherwise.
"""

from __future__ import annotations

import re
from dataclasses import dataclass


@dataclass(frozen=True)
class Clue:
    """A wording that matches `pattern` asks for an answer of `kind`; `unit` goes with a quantity."""

    kind: str
    pattern: re.Pattern[str]
    unit: str = ""


def _opening(kind: str, *words: str) -> Clue:
    return Clue(kind, re.compile(rf"^\W*(?:{'|'.join(words)})(?!\w)"))


def _anywhere(kind: str, *words: str, unit: str = "") -> Clue:
    return Clue(kind, re.compile(rf"(?<!\w)(?:{'|'.join(words)})(?!\w)"), unit)


# The first that matches counts: what is measured goes before the question word that opens the sentence.
CLUES: dict[str, list[Clue]] = {
    "en": [
        _anywhere("photo", "photo(?:graph)?s?", "take a picture"),
        _anywhere("signature", "sign(?:ature)? (?:here|of)", "please sign"),
        _anywhere("scanned code", "bar ?code", "qr code", "scan the"),
        _anywhere("point", "position of", "coordinates", "gps"),
        _anywhere("quantity", "kilograms?", "kilos?", "kg", "by weight", "how heavy", unit="kg"),
        _anywhere("quantity", "lit(?:re|er)s?", unit="l"),
        _anywhere("quantity", "hectares?", unit="ha"),
        _anywhere("quantity", "kilomet(?:re|er)s?", "how far", unit="km"),
        _anywhere("whole number", "(?:which|what) year", "year of birth", "how old", "how many", "number of", "age in years"),
        _anywhere("decimal", "how much", "per ?cent(?:age)?", "what share", "how long", "how often a"),
        _anywhere("date", "(?:what|which) (?:date|day)", "date of", "on what day"),
        _anywhere("time", "(?:what|which) time"),
        _opening("date", "when"),
        _opening("decimal", "hours", "minutes"),
        _anywhere("multiple answer", "which of (?:these|the following)", "tick all", "select all", "choose all", "all that apply"),
        _opening(
            "yes/no", "do", "does", "did", "is", "are", "was", "were", "has", "have", "had", "may i", "can", "could",
            "will", "would", "shall", "should", "in the last [^,]+, (?:did|have|has|were|was)",
        ),
    ],
    "fr": [
        _anywhere("photo", "photo(?:graphie)?s?", "prenez une image"),
        _anywhere("signature", "signature", "signez"),
        _anywhere("scanned code", "code[- ]barres?", "code qr"),
        _anywhere("point", "coordonnées", "position gps", "gps"),
        _anywhere("quantity", "kilogrammes?", "kilos?", "kg", unit="kg"),
        _anywhere("quantity", "litres?", unit="l"),
        _anywhere("quantity", "hectares?", unit="ha"),
        _anywhere("quantity", "kilomètres?", unit="km"),
        _anywhere("whole number", "quelle année", "année de naissance", "quel âge", "combien de", "combien d['’]", "nombre de"),
        _anywhere("whole number", "combien sont", "combien ont"),
        _anywhere("decimal", "combien", "pour ?cent(?:age)?", "quelle part"),
        _anywhere("date", "quelle date", "date de", "quel jour"),
        _anywhere("time", "quelle heure"),
        _opening("date", "quand"),
        _anywhere("multiple answer", "(?:lesquels|lesquelles)", "cochez tou(?:t|tes)", "plusieurs réponses"),
        _opening("yes/no", "est-ce", "avez-vous", "êtes-vous", "y a-t-il", "puis-je", "pouvez-vous", "voulez-vous", "a-t-(?:il|elle)",
                 "est-(?:il|elle)", "sont-(?:ils|elles)", "faites-vous", "savez-vous", "allez-vous"),
    ],
    "es": [
        _anywhere("photo", "fotos?", "fotografías?"),
        _anywhere("signature", "firma", "firme"),
        _anywhere("scanned code", "código de barras", "código qr"),
        _anywhere("point", "coordenadas", "gps"),
        _anywhere("quantity", "kilogramos?", "kilos?", "kg", unit="kg"),
        _anywhere("quantity", "litros?", unit="l"),
        _anywhere("quantity", "hectáreas?", unit="ha"),
        _anywhere("quantity", "kilómetros?", unit="km"),
        _anywhere("whole number", "qué año", "año de nacimiento", "qué edad", "cuánt[oa]s", "número de"),
        _anywhere("decimal", "cuánt[oa]", "por ?ciento", "porcentaje"),
        _anywhere("date", "qué fecha", "fecha de", "qué día"),
        _anywhere("time", "qué hora"),
        _opening("date", "cuándo"),
        _anywhere("multiple answer", "cuáles de", "marque todas", "seleccione todas"),
        _opening("yes/no", "tiene", "ha", "hay", "es", "está", "puedo", "puede", "quiere", "sabe", "hace", "usa"),
    ],
    "pt": [
        _anywhere("photo", "fotos?", "fotografias?"),
        _anywhere("signature", "assinatura", "assine"),
        _anywhere("scanned code", "código de barras", "código qr"),
        _anywhere("point", "coordenadas", "gps"),
        _anywhere("quantity", "quilogramas?", "quilos?", "kg", unit="kg"),
        _anywhere("quantity", "litros?", unit="l"),
        _anywhere("quantity", "hectares?", unit="ha"),
        _anywhere("quantity", "quil[oô]metros?", unit="km"),
        _anywhere("whole number", "que ano", "ano de nascimento", "que idade", "quant[oa]s", "número de"),
        _anywhere("decimal", "quant[oa]", "por ?cento", "percentagem", "porcentagem"),
        _anywhere("date", "que data", "data de", "que dia", "em que dia"),
        _anywhere("time", "que horas?"),
        _opening("date", "quando"),
        _anywhere("multiple answer", "quais d(?:estes|estas|os|as)", "marque todas", "selecione todas"),
        _opening("yes/no", "tem", "há", "é", "está", "posso", "pode", "quer", "sabe", "faz", "usa", "já"),
    ],
    "ar": [
        _anywhere("photo", "صورة"),
        _anywhere("signature", "توقيع", "التوقيع"),
        _anywhere("point", "إحداثيات", "الموقع"),
        _anywhere("whole number", "كم عدد", "كم عمر", "في أي سنة", "أي عام", "عدد"),
        _anywhere("quantity", "كيلوغرام", "كغ", unit="kg"),
        _anywhere("quantity", "لتر", unit="l"),
        _anywhere("date", "تاريخ", "أي يوم", "في أي يوم"),
        _opening("date", "متى"),
        _opening("yes/no", "هل"),
        _opening("decimal", "كم"),
    ],
}  # fmt: skip

# What may be left empty, said in the wording itself.
OPTIONAL: dict[str, re.Pattern[str]] = {
    "en": re.compile(r"\b(?:if any|optional|anything else|remarks?|comments?)\b"),
    "fr": re.compile(r"\b(?:s['’]il y en a|facultati(?:f|ve)|autre chose à|remarques?|commentaires?)\b"),
    "es": re.compile(r"\b(?:si (?:hay|tiene) algun[oa]|opcional|algo más|comentarios?|observaciones)\b"),
    "pt": re.compile(r"\b(?:se houver|opcional|algo mais|comentários?|observações)\b"),
    "ar": re.compile(r"(?:اختياري|ملاحظات|شيء آخر)"),
}


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


# Words that say nothing about what is asked: left out of a variable.
EMPTY_WORDS: dict[str, frozenset[str]] = {
    "en": _words(
        """a about all also am an and any are as at be been being by can could did do does each ever every for from
        had has have he her here him his how i if in include included including into is it its last many may me most
        mostly much my of on or other our own please she should since so some such than that the their them there
        these they this those to too us was we were what when where which while who whom whose why will with would
        you your yours tell take kind did now one usually"""
    ),
    "fr": _words(
        """a à au aux avec avez avez-vous au ce ces cet cette combien comme d dans de des du elle elles en est est-ce
        et êtes eu il ils je l la le les leur leurs lui ma mais me mes mon n ne nos notre nous on ont ou où par pas
        pour pouvez puis qu quand que quel quelle quelles quels qui quoi s sa se ses si son sont sur t ta te tes ton
        tous tout toute toutes un une vos votre vous y ici compris actuellement plus trouve situe ce"""
    ),
    "es": _words(
        """a al algo con cuál cuáles cuándo cuánta cuántas cuánto cuántos de del desde donde dónde el ella ellas ellos
        en es esta está este esto ha han hay la las le les lo los más me mi mis no o para pero por que qué quién se
        ser si sí sin sobre son su sus también tiene tienen tu tus un una uno usted ustedes y ya aquí"""
    ),
    "pt": _words(
        """a à ao aos as às aqui como com da das de do dos e é ela elas ele eles em entre esta está este eu foi há
        isso já lhe mais mas me meu minha na não nas no nos nós o onde os ou para pela pelo por qual quais quando
        quanta quantas quanto quantos que quem se sem seu seus sua suas também tem têm um uma você vocês"""
    ),
    "ar": _words("هل كم ما ماذا متى أين من في على إلى عن أي هذا هذه التي الذي كل عدد هو هي أو و"),
}
