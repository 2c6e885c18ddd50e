"""Built-in texts of the interview in the languages Skavo speaks; a questionnaire brings all other texts itself."""

from __future__ import annotations

from collections.abc import Mapping

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
    "text_too_long": {
        "en": "The text is too long to be kept as an answer. Shorten it.",
        "fr": "Le texte est trop long pour être gardé comme réponse. Raccourcissez-le.",
        "ar": "النص أطول من أن يُحفظ جوابا. اختصره.",
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
    "not_a_quantity": {
        "en": "Enter an amount and its unit.",
        "fr": "Entrez une quantité et son unité.",
        "ar": "أدخل الكمية ووحدتها.",
    },
    "no_unit": {"en": "Choose the unit.", "fr": "Choisissez l’unité.", "ar": "اختر الوحدة."},
    "no_such_unit_of_measure": {
        "en": "This unit of measure is not offered here.",
        "fr": "Cette unité de mesure n’est pas proposée ici.",
        "ar": "وحدة القياس هذه غير متاحة هنا.",
    },
    "no_such_unit": {
        "en": "This is not in the register.",
        "fr": "Ceci ne figure pas dans le registre.",
        "ar": "هذا غير موجود في السجل.",
    },
    "not_a_date_time": {
        "en": "Enter a date and a time.",
        "fr": "Entrez une date et une heure.",
        "ar": "أدخل تاريخا ووقتا.",
    },
    "no_offset": {
        "en": "Enter a date and a time, with the offset from UTC.",
        "fr": "Entrez une date et une heure, avec le décalage UTC.",
        "ar": "أدخل تاريخا ووقتا مع فرق التوقيت.",
    },
    "not_a_point": {"en": "Take the position again.", "fr": "Reprenez la position.", "ar": "حدد الموقع مرة أخرى."},
    "not_a_path": {
        "en": "A path has at least two points.",
        "fr": "Un tracé a au moins deux points.",
        "ar": "للمسار نقطتان على الأقل.",
    },
    "not_an_area": {
        "en": "An area has at least three points.",
        "fr": "Une surface a au moins trois points.",
        "ar": "للمساحة ثلاث نقاط على الأقل.",
    },
    "not_a_file": {"en": "Take it again.", "fr": "Recommencez la prise.", "ar": "أعد الالتقاط."},
    "below_least": {
        "en": "The least is {least}.",
        "fr": "Le minimum est {least}.",
        "ar": "الحد الأدنى هو {least}.",
    },
    "above_most": {"en": "The most is {most}.", "fr": "Le maximum est {most}.", "ar": "الحد الأقصى هو {most}."},
    "too_short": {
        "en": "At least {least} characters.",
        "fr": "Au moins {least} caractères.",
        "ar": "{least} أحرف على الأقل.",
    },
    "too_long": {
        "en": "At most {most} characters.",
        "fr": "Au plus {most} caractères.",
        "ar": "{most} أحرف على الأكثر.",
    },
    "no_match": {
        "en": "Write it like this: {example}",
        "fr": "Écrivez-le ainsi : {example}",
        "ar": "اكتبه هكذا: {example}",
    },
    "read_back_wrong": {
        "en": "Go back and correct the answer.",
        "fr": "Revenez en arrière et corrigez la réponse.",
        "ar": "ارجع وصحح الإجابة.",
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


# Words that a questionnaire brings for a language that there are none in here: messages by `engine.` and their code,
# the words of buttons by `interview.` and their name.
OwnWords = Mapping[str, str]


def message(code: str, language: str, own: OwnWords, **values: object) -> str:
    """What is wrong with an answer; `own` words stand in for a language that there are none in here."""
    code = code if code in MESSAGES else "wrong"
    text = own.get(f"engine.{code}") or MESSAGES[code].get(language, MESSAGES[code]["en"])
    try:
        return text.format(**values)
    except (KeyError, IndexError, ValueError):
        # A translator's braces that name nothing.
        return MESSAGES[code]["en"].format(**values)


def word(name: str, language: str, own: OwnWords) -> str:
    texts = WORDS[name]
    return own.get(f"interview.{name}") or texts.get(language, texts["en"])
