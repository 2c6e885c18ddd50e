"""Built-in texts of the interview in the languages Skavo speaks; a questionnaire brings all other texts itself."""

from __future__ import annotations

MESSAGES: dict[str, dict[str, str]] = {
    "needed": {
        "en": "An answer is needed here.",
        "fr": "Une réponse est nécessaire ici.",
        "ar": "الإجابة مطلوبة هنا.",
    },
    "must_hold": {
        "en": "This cannot be right: {rule}",
        "fr": "Ceci ne peut pas être juste : {rule}",
        "ar": "لا يمكن أن يكون هذا صحيحا: {rule}",
    },
    "should_hold": {
        "en": "This is unusual: {rule}",
        "fr": "Ceci est inhabituel : {rule}",
        "ar": "هذا غير معتاد: {rule}",
    },
    "not_a_number": {"en": "Enter a number.", "fr": "Entrez un nombre.", "ar": "أدخل رقما."},
    "not_whole": {"en": "Enter a whole number.", "fr": "Entrez un nombre entier.", "ar": "أدخل رقما صحيحا."},
    "not_a_date": {"en": "Enter a date.", "fr": "Entrez une date.", "ar": "أدخل تاريخا."},
    "not_a_time": {"en": "Enter a time of day.", "fr": "Entrez une heure.", "ar": "أدخل وقتا."},
    "no_such_code": {
        "en": "This code is not in the list.",
        "fr": "Ce code n’est pas dans la liste.",
        "ar": "هذا الرمز ليس في القائمة.",
    },
    "code_not_offered": {
        "en": "This code does not go with an earlier answer.",
        "fr": "Ce code ne va pas avec une réponse précédente.",
        "ar": "هذا الرمز لا يتوافق مع إجابة سابقة.",
    },
    "exclusive": {
        "en": "This answer goes with no other.",
        "fr": "Cette réponse exclut les autres.",
        "ar": "هذه الإجابة لا تجتمع مع غيرها.",
    },
    "too_few": {
        "en": "Choose at least {least}.",
        "fr": "Choisissez-en au moins {least}.",
        "ar": "اختر {least} على الأقل.",
    },
    "too_many": {
        "en": "Choose at most {most}.",
        "fr": "Choisissez-en au plus {most}.",
        "ar": "اختر {most} على الأكثر.",
    },
    "no_special_answer": {
        "en": "Don’t know and refused are not allowed here.",
        "fr": "Ne sait pas et refus ne sont pas admis ici.",
        "ar": "لا يعرف ورفض غير مسموح بهما هنا.",
    },
    "wrong": {
        "en": "This answer does not fit.",
        "fr": "Cette réponse ne convient pas.",
        "ar": "هذه الإجابة غير مناسبة.",
    },
}
WORDS: dict[str, dict[str, str]] = {
    "yes": {"en": "Yes", "fr": "Oui", "ar": "نعم"},
    "no": {"en": "No", "fr": "Non", "ar": "لا"},
    "dont_know": {"en": "Don’t know", "fr": "Ne sait pas", "ar": "لا يعرف"},
    "refused": {"en": "Refused", "fr": "Refus", "ar": "رفض"},
}


def message(code: str, language: str, **values: object) -> str:
    texts = MESSAGES.get(code, MESSAGES["wrong"])
    return texts.get(language, texts["en"]).format(**values)


def word(name: str, language: str) -> str:
    texts = WORDS[name]
    return texts.get(language, texts["en"])
