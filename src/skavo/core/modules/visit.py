"""The frame of every visit: arriving, asking for consent, leaving."""

from __future__ import annotations

from skavo.core.modules.writing import codes, line, module

ARRIVAL = module(
    "arrival",
    ("Arrival and outcome", "Arrivée et résultat", "الوصول والنتيجة"),
    (
        "Where the visit took place and how it ended, so that response rates can be worked out.",
        "Où la visite a eu lieu et comment elle s’est terminée, pour calculer les taux de réponse.",
        "أين تمت الزيارة وكيف انتهت، لحساب معدلات الاستجابة.",
    ),
    [
        line(1, "section", "arrival", ("Arrival", "Arrivée", "الوصول")),
        line(
            2, "point", "place", ("Position of the entrance", "Position de l’entrée", "موقع المدخل"),
            say=(
                "Stand at the entrance under open sky and wait until the position is good.",
                "Placez-vous à l’entrée, à ciel ouvert, et attendez une bonne position.",
                "قف عند المدخل تحت السماء المكشوفة وانتظر حتى يصبح الموقع دقيقا.",
            ),
            read_aloud=False,
        ),
        line(
            2, "single answer", "outcome",
            ("What came of the visit?", "Quel est le résultat de la visite ?", "ما نتيجة الزيارة؟"),
            code_list="outcome", answer_needed="yes", read_aloud=False,
        ),
        line(
            2, "date", "come_back",
            ("On which day will you come back?", "Quel jour reviendrez-vous ?", "في أي يوم ستعود؟"),
            asked_when="outcome is one of (nobody, later)", answer_needed="yes", read_aloud=False,
            must=[("come_back >= today", ("That day is over.", "Ce jour est passé.", "لقد مضى ذلك اليوم."))],
        ),
        line(
            2, "text", "refusal",
            ("Reason given for refusing", "Raison du refus", "سبب الرفض"),
            asked_when="outcome is declined", read_aloud=False,
        ),
    ],
    lists=[
        codes(
            "outcome",
            ("answers", ("Somebody answers", "Quelqu’un répond", "هناك من يجيب")),
            ("nobody", ("Nobody is there", "Il n’y a personne", "لا أحد هناك")),
            ("later", ("Asked to come later", "On demande de revenir", "طُلب العودة لاحقا")),
            ("declined", ("Refused", "Refus", "رفض")),
            ("empty", ("Empty or pulled down", "Vide ou démoli", "خال أو مهدوم")),
            ("not_found", ("Not found", "Introuvable", "لم يُعثر عليه")),
        )
    ],
)  # fmt: skip

CONSENT = module(
    "consent",
    ("Consent and contact", "Consentement et contact", "الموافقة والاتصال"),
    (
        "That the respondent knows what is asked and agrees, and whether they may be called back.",
        "Que la personne sait ce qui est demandé et accepte, et si l’on peut la rappeler.",
        "أن المستجيب يعرف ما يُسأل عنه ويوافق، وهل يمكن الاتصال به مرة أخرى.",
    ),
    [
        line(1, "section", "consent_section", ("Consent", "Consentement", "الموافقة")),
        line(
            2, "statement", "",
            (
                "Your answers are kept apart from your name and are used for statistics only. You may stop at any time.",
                "Vos réponses sont gardées sans votre nom et ne servent qu’aux statistiques. Vous pouvez arrêter à tout moment.",
                "تُحفظ إجاباتك منفصلة عن اسمك وتُستخدم للإحصاء فقط. يمكنك التوقف في أي وقت.",
            ),
        ),
        line(
            2, "yes/no", "consent",
            ("Do you agree to answer?", "Acceptez-vous de répondre ?", "هل توافق على الإجابة؟"), answer_needed="yes",
        ),
        line(
            2, "signature", "consent_signed",
            ("Please sign here", "Veuillez signer ici", "الرجاء التوقيع هنا"), asked_when="consent is yes", sensitive=True,
        ),
        line(
            2, "yes/no", "may_call",
            (
                "May we call you again with a few questions?", "Pouvons-nous vous rappeler pour quelques questions ?",
                "هل يمكننا الاتصال بك مرة أخرى لبعض الأسئلة؟",
            ),
            asked_when="consent is yes", answer_needed="yes",
        ),
        line(
            2, "text", "phone",
            ("Under which number?", "À quel numéro ?", "على أي رقم؟"), asked_when="may_call is yes", answer_needed="yes",
            sensitive=True,
            must=[
                (
                    'phone matches pattern "\\+?[0-9 ]{6,20}"',
                    (
                        "Digits and blanks only, with a + before the country if need be.",
                        "Chiffres et espaces seulement, avec un + devant le pays au besoin.",
                        "أرقام ومسافات فقط، مع + قبل رمز البلد عند الحاجة.",
                    ),
                )
            ],
        ),
        line(
            2, "read-back", "phone_right",
            ("I have {phone}. Is that right?", "J’ai noté {phone}. Est-ce exact ?", "سجلت {phone}. هل هذا صحيح؟"),
            asked_when="phone is answered", reads_back="phone",
        ),
    ],
)  # fmt: skip

CLOSING = module(
    "closing",
    ("Closing of the visit", "Fin de la visite", "نهاية الزيارة"),
    (
        "How the interview went, as the interviewer saw it; what the respondent wants to add.",
        "Comment l’entretien s’est passé, vu par l’enquêteur ; ce que la personne veut ajouter.",
        "كيف جرت المقابلة كما رآها المحاور، وما يود المستجيب إضافته.",
    ),
    [
        line(1, "section", "closing", ("Closing", "Fin", "الختام")),
        line(
            2, "text", "wishes",
            (
                "Is there anything else you would like to say?", "Souhaitez-vous ajouter autre chose ?",
                "هل هناك شيء آخر تود قوله؟",
            ),
        ),
        line(2, "statement", "", ("Thank you for your time.", "Merci pour votre temps.", "شكرا على وقتك.")),
        line(
            2, "multiple answer", "present",
            ("Who else was present?", "Qui d’autre était présent ?", "من كان حاضرا أيضا؟"),
            code_list="present", answer_needed="yes", read_aloud=False,
        ),
        line(
            2, "single answer", "went",
            ("How did the interview go?", "Comment l’entretien s’est-il passé ?", "كيف جرت المقابلة؟"),
            code_list="went", answer_needed="yes", read_aloud=False,
        ),
        line(
            2, "text", "difficulty",
            ("What was difficult?", "Qu’est-ce qui a été difficile ?", "ما الذي كان صعبا؟"),
            asked_when="went is badly", answer_needed="yes", read_aloud=False,
        ),
        line(2, "photo", "front", ("Photo of the front", "Photo de la façade", "صورة الواجهة"), read_aloud=False),
    ],
    lists=[
        codes(
            "present",
            ("nobody", ("Nobody", "Personne", "لا أحد")), ("family", ("Family", "Famille", "العائلة")),
            ("neighbours", ("Neighbours", "Voisins", "الجيران")), ("others", ("Others", "D’autres", "آخرون")),
            exclusive="nobody",
        ),
        codes(
            "went",
            ("well", ("Well", "Bien", "جيدا")), ("so_so", ("Not always well", "Moyennement", "ليس جيدا دائما")),
            ("badly", ("Badly", "Mal", "بشكل سيئ")),
        ),
    ],
)  # fmt: skip
