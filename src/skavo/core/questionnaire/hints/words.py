"""Words that hints go by, in the languages that they are known in; a language more is an entry in each table."""

from __future__ import annotations

import re


def _any(*words: str) -> re.Pattern[str]:
    return re.compile(r"(?<!\w)(?:" + "|".join(words) + r")(?!\w)", re.IGNORECASE)


# Answers that tell who or where somebody is: a name, a number to ring, an address.
PERSONAL = {
    "en": _any(r"names? of", r"(?:full|first|last|your|his|her) names?", r"phones?(?: numbers?)?", r"telephones?",
               r"on which number", r"e-?mail", r"address(?:es)?", r"date of birth", r"identity (?:card|number)"),
    "fr": _any(r"(?:pré)?noms? (?:de|du)", r"votre (?:pré)?nom", r"téléphones?", r"quel numéro", r"courriel", r"e-?mail",
               r"adresses?", r"date de naissance", r"carte d.identité"),
    "es": _any(r"nombres? (?:de|del)", r"su nombre", r"apellidos?", r"teléfonos?", r"correo", r"direcci[óo]n(?:es)?",
               r"fecha de nacimiento"),
    "pt": _any(r"nomes? (?:de|do|da)", r"seu nome", r"telefones?", r"e-?mail", r"endereços?", r"data de nascimento"),
    "ar": _any("اسم", "الاسم", "هاتف", "الهاتف", "رقم الهاتف", "عنوان", "العنوان", "البريد", "تاريخ الميلاد"),
}  # fmt: skip
# Something by which a thing is found again; a wrong sign in it and it is lost.
IDENTIFIER = {
    "en": _any(r"codes?", r"serial", r"(?:identity|registration|meter|plate|card|file) numbers?", r"\bID\b"),
    "fr": _any(r"codes?", r"numéro (?:de série|d.identité|d.enregistrement|de compteur|de carte|de dossier)"),
    "es": _any(r"código", r"número de (?:serie|identidad|registro|medidor|tarjeta)"),
    "pt": _any(r"código", r"número de (?:série|identidade|registro|medidor|cartão)"),
    "ar": _any("رمز", "الرقم التسلسلي", "رقم الهوية", "رقم التسجيل"),
}
# Two things asked in one: only questions that are answered by yes and no or on a scale are looked at.
TWO_IN_ONE = {
    "en": _any("and", "as well as"), "fr": _any("et", "ainsi que"), "es": _any("y"), "pt": _any("e"),
    "ar": _any("و", "وكذلك"),
}  # fmt: skip
# Wordings that say which answer is expected.
LEADING = {
    "en": _any("don.t you", "isn.t it", "wouldn.t you", "shouldn.t", "surely", "obviously", "of course", "do you agree that",
               "as everyone knows", "most people"),
    "fr": _any("n.est-ce pas", "ne pensez-vous pas", "n.êtes-vous pas", "évidemment", "bien sûr", "tout le monde sait",
               "la plupart des gens"),
    "es": _any("¿?no cree usted", "¿?verdad\\?", "por supuesto", "como todos saben", "la mayoría de la gente"),
    "pt": _any("não acha que", "não é verdade", "é claro", "como todos sabem", "a maioria das pessoas"),
    "ar": _any("ألا تعتقد", "أليس كذلك", "بالطبع", "كما يعلم الجميع"),
}  # fmt: skip
# What a number is counted in, when the wording says it; "in orins" does as well.
COUNTED_IN = {
    "en": _any(r"kilo\w*", r"kg", r"grams?", r"tons?", r"tonnes?", r"lit(?:re|er)s?", r"met(?:re|er)s?", r"km", r"cm", r"hectares?",
               r"acres?", r"hours?", r"days?", r"weeks?", r"months?", r"years?", r"minutes?", r"per ?cent", r"%", r"share",
               r"degrees?", r"times", r"in [a-z]{3,}"),
    "fr": _any(r"kilos?\w*", r"kg", r"grammes?", r"tonnes?", r"litres?", r"mètres?", r"km", r"cm", r"hectares?", r"heures?",
               r"jours?", r"semaines?", r"mois", r"ans?", r"années?", r"minutes?", r"pour cent", r"%", r"part", r"degrés?",
               r"fois", r"en [a-zà-ÿ]{3,}"),
}  # fmt: skip
# Wordings that ask for one thing out of many, where somebody may have another one in mind.
OPEN_ENDED = {
    "en": _any(r"(?:main|mainly|mostly|most often|worst|best|usual|usually)", r"what kind", r"which of these"),
    "fr": _any(r"(?:principal\w*|surtout|le plus|pire|d.habitude)", r"quel genre", r"lesquel\w*"),
}
# The sides of a scale, by what its labels say.
GOOD_SIDE = {
    "en": re.compile(
        r"(?<!\w)(?:agree|satisfied|good|likely|important|easy|safe|often|always|better|more)(?!\w)", re.I
    ),
    "fr": re.compile(
        r"(?<!\w)(?:d.accord|satisfait|bon|probable|important|facile|souvent|toujours|mieux|plus)(?!\w)", re.I
    ),
}
BAD_SIDE = {
    "en": re.compile(
        r"(?<!\w)(?:disagree|dissatisfied|unsatisfied|bad|unlikely|unimportant|difficult|hard|unsafe|rarely|never|worse|less)(?!\w)",
        re.I,
    ),
    "fr": re.compile(
        r"(?<!\w)(?:pas d.accord|insatisfait|mauvais|improbable|difficile|rarement|jamais|pire|moins|ni .* ni)(?!\w)",
        re.I,
    ),
}
NEITHER_SIDE = {
    "en": re.compile(r"(?<!\w)(?:neither|neutral|sometimes|same|fair|average)(?!\w)", re.I),
    "fr": re.compile(r"(?<!\w)(?:ni|neutre|parfois|pareil|moyen)(?!\w)", re.I),
}


def said(table: dict[str, re.Pattern[str]], texts: dict[str, str]) -> re.Match[str] | None:
    """The first match of a table in texts by language; None in languages that it does not know."""
    for tag, text in texts.items():
        pattern = table.get(tag.split("-")[0])
        if pattern is not None and (match := pattern.search(text)):
            return match
    return None


def knows(table: dict[str, re.Pattern[str]], texts: dict[str, str]) -> bool:
    """Whether any of the texts is in a language that the table knows."""
    return any(tag.split("-")[0] in table and text.strip() for tag, text in texts.items())
