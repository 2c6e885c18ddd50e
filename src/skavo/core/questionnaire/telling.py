"""What respondents are told about what the phone notes of itself, worded from what is chosen."""

from __future__ import annotations

from skavo.core.questionnaire.script import NotedByPhone, Texts

# Each sentence begins alike and is read aloud; what is always noted comes first, what is chosen follows in this order.
_BEGINS: Texts = {
    "en": "While we talk, this phone also notes when the interview begins and ends, and who asks",
    "fr": "Pendant que nous parlons, ce téléphone note aussi quand l’entretien commence et finit, et qui pose les questions",
    "es": "Mientras hablamos, este teléfono anota también cuándo empieza y termina la entrevista, y quién pregunta",
    "pt": "Enquanto falamos, este telefone também anota quando a entrevista começa e termina, e quem pergunta",
    "ar": "أثناء حديثنا يسجّل هذا الهاتف أيضًا متى تبدأ المقابلة ومتى تنتهي، ومن يطرح الأسئلة",
}
_MORE: dict[str, Texts] = {
    "device": {
        "en": "with which phone", "fr": "avec quel téléphone", "es": "con qué teléfono", "pt": "com que telefone",
        "ar": "وبأي هاتف",
    },
    "place": {
        "en": "where it begins", "fr": "où il commence", "es": "dónde empieza", "pt": "onde começa", "ar": "وأين تبدأ",
    },
    "timing": {
        "en": "how long each question takes", "fr": "combien de temps prend chaque question",
        "es": "cuánto dura cada pregunta", "pt": "quanto tempo leva cada pergunta", "ar": "وكم يستغرق كل سؤال",
    },
}  # fmt: skip
_ENDS: Texts = {
    "en": "It serves to check the quality of our work.",
    "fr": "Cela sert à vérifier la qualité de notre travail.",
    "es": "Sirve para comprobar la calidad de nuestro trabajo.",
    "pt": "Serve para verificar a qualidade do nosso trabalho.",
    "ar": "ويفيد ذلك في التحقق من جودة عملنا.",
}


def telling(paradata: NotedByPhone, languages: list[str]) -> Texts:
    """The statement by language; empty in languages that there are no words in, to be translated.

    A language with a region is told in its own one: fr-CA in fr.
    """
    return {tag: _told(paradata, tag.split("-")[0]) for tag in languages}


def _told(paradata: NotedByPhone, tag: str) -> str:
    if tag not in _BEGINS:
        return ""
    chosen = [texts[tag] for name, texts in _MORE.items() if getattr(paradata, name)]
    comma = "، " if tag == "ar" else ", "
    return f"{comma.join([_BEGINS[tag], *chosen])}. {_ENDS[tag]}"
