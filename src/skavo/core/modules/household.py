"""Who lives there and how: people, dwelling and equipment."""

from __future__ import annotations

from skavo.core.modules.writing import codes, line, module

PEOPLE = module(
    "people",
    ("People of the household", "Membres du ménage", "أفراد الأسرة"),
    (
        "Everybody who lives in the household, with sex, age, schooling and work, and checks between them.",
        "Toutes les personnes du ménage, avec sexe, âge, scolarité et travail, et les contrôles entre elles.",
        "كل من يعيش في الأسرة، مع الجنس والعمر والدراسة والعمل، والتحققات بينهم.",
    ),
    [
        line(1, "section", "household", ("People", "Personnes", "الأفراد")),
        line(
            2, "whole number", "people",
            (
                "How many people usually live here, children included?",
                "Combien de personnes vivent habituellement ici, enfants compris ?",
                "كم عدد الأشخاص الذين يعيشون هنا عادة، بمن فيهم الأطفال؟",
            ),
            answer_needed="yes", least=1, most=60,
        ),
        line(
            2, "roster", "person", ("Person {row}", "Personne {row}", "الشخص {row}"), repeated="people times",
            must=[
                (
                    "count(person where relation is head) <= 1",
                    ("There is only one head.", "Il n’y a qu’un chef.", "هناك رب أسرة واحد فقط."),
                )
            ],
            should=[
                (
                    "any(person where age >= 15)",
                    ("Nobody is older than 14.", "Personne n’a plus de 14 ans.", "لا أحد أكبر من 14 سنة."),
                )
            ],
        ),
        line(
            3, "text", "first_name", ("First name of person {row}", "Prénom de la personne {row}", "اسم الشخص {row}"),
            answer_needed="yes", sensitive=True,
        ),
        line(
            3, "single answer", "relation",
            (
                "How is {first_name} related to the head of the household?",
                "Quel est le lien de {first_name} avec le chef du ménage ?", "ما صلة {first_name} برب الأسرة؟",
            ),
            code_list="relation", answer_needed="yes",
        ),
        line(
            3, "single answer", "sex", ("Sex of {first_name}", "Sexe de {first_name}", "جنس {first_name}"),
            code_list="sex", answer_needed="yes",
        ),
        line(
            3, "whole number", "age", ("How old is {first_name}?", "Quel âge a {first_name} ?", "كم عمر {first_name}؟"),
            answer_needed="yes", least=0, most=120, special_answers=["dont_know"],
            should=[
                (
                    "relation is not head or age >= 15",
                    ("A head younger than 15?", "Un chef de moins de 15 ans ?", "رب أسرة أصغر من 15 سنة؟"),
                )
            ],
        ),
        line(
            3, "yes/no", "school",
            ("Does {first_name} go to school?", "{first_name} va-t-il à l’école ?", "هل يذهب {first_name} إلى المدرسة؟"),
            asked_when="age between 5 and 24", answer_needed="yes",
        ),
        line(
            3, "yes/no", "works",
            (
                "Did {first_name} work for pay or profit in the last seven days?",
                "{first_name} a-t-il travaillé contre paiement ces sept derniers jours ?",
                "هل عمل {first_name} مقابل أجر أو ربح في الأيام السبعة الأخيرة؟",
            ),
            asked_when="age >= 10", answer_needed="yes",
        ),
        line(2, "derived value", "workers_known", ("", "", ""), derived="count(person where works is yes)"),
        line(
            2, "whole number", "earners",
            (
                "How many of the {people} bring in money?", "Combien des {people} rapportent de l’argent ?",
                "كم من الـ {people} يجلبون المال؟",
            ),
            answer_needed="yes", least=0,
            must=[
                (
                    "earners <= people",
                    ("There are only {people} people.", "Il n’y a que {people} personnes.", "هناك {people} أشخاص فقط."),
                )
            ],
        ),
    ],
    lists=[
        codes(
            "relation",
            ("head", ("Head", "Chef", "رب الأسرة")), ("spouse", ("Wife or husband", "Conjoint", "الزوج أو الزوجة")),
            ("child", ("Child", "Enfant", "ابن أو ابنة")), ("parent", ("Parent", "Parent", "والد أو والدة")),
            ("relative", ("Other relative", "Autre parenté", "قريب آخر")),
            ("none", ("Not related", "Sans lien", "لا صلة قرابة")),
        ),
        codes(
            "sex",
            ("1", ("Male", "Masculin", "ذكر")), ("2", ("Female", "Féminin", "أنثى")),
            ("0", ("Not known", "Inconnu", "غير معروف")), ("9", ("Not applicable", "Sans objet", "لا ينطبق")),
        ),
    ],
    source="Common practice of household surveys, worded anew for Skavo; sexes by ISO/IEC 5218.",
)  # fmt: skip

DWELLING = module(
    "dwelling",
    ("Dwelling and equipment", "Logement et équipement", "المسكن والتجهيزات"),
    (
        "What the dwelling is built of, its rooms, light and water, and what the household owns.",
        "De quoi le logement est fait, ses pièces, la lumière et l’eau, et ce que le ménage possède.",
        "مم بُني المسكن، وغرفه والإضاءة والماء، وما تملكه الأسرة.",
    ),
    [
        line(1, "section", "dwelling", ("Dwelling", "Logement", "المسكن")),
        line(
            2, "single answer", "walls",
            ("What are the walls made of?", "De quoi sont faits les murs ?", "مم صُنعت الجدران؟"),
            code_list="material", answer_needed="yes", read_aloud=False,
        ),
        line(
            2, "single answer", "roof", ("And the roof?", "Et le toit ?", "والسقف؟"), code_list="material",
            answer_needed="yes", read_aloud=False,
        ),
        line(
            2, "whole number", "rooms",
            ("How many rooms are slept in?", "Dans combien de pièces dort-on ?", "كم عدد الغرف المخصصة للنوم؟"),
            answer_needed="yes", least=0, most=40,
            should=[("rooms <= 12", ("More than twelve?", "Plus de douze ?", "أكثر من اثنتي عشرة؟"))],
        ),
        line(
            2, "single answer", "light",
            ("What gives light in the evening?", "Qu’est-ce qui éclaire le soir ?", "ما مصدر الإضاءة مساء؟"),
            code_list="light", answer_needed="yes",
        ),
        line(
            2, "single answer", "water",
            ("Where does drinking water come from?", "D’où vient l’eau à boire ?", "من أين يأتي ماء الشرب؟"),
            code_list="water", answer_needed="yes",
        ),
        line(
            2, "whole number", "water_minutes",
            (
                "How many minutes does it take to fetch it, there and back?",
                "Combien de minutes faut-il pour la chercher, aller et retour ?",
                "كم دقيقة يستغرق جلبه ذهابا وإيابا؟",
            ),
            asked_when="water is not piped", answer_needed="yes", least=0, most=600, special_answers=["dont_know"],
        ),
        line(
            2, "multiple answer", "owns",
            ("Which of these does the household own?", "Que possède le ménage ?", "ماذا تملك الأسرة من هذه؟"),
            code_list="equipment", answer_needed="yes",
        ),
    ],
    lists=[
        codes(
            "material",
            ("stone", ("Stone or brick", "Pierre ou brique", "حجر أو طوب")), ("wood", ("Wood", "Bois", "خشب")),
            ("metal", ("Metal sheets", "Tôle", "صفائح معدنية")), ("earth", ("Earth", "Terre", "طين")),
            ("leaves", ("Leaves or straw", "Feuilles ou paille", "أوراق أو قش")),
            ("other", ("Other", "Autre", "غير ذلك")), specify="other",
        ),
        codes(
            "light",
            ("grid", ("Electricity of the grid", "Électricité du réseau", "كهرباء الشبكة")),
            ("own", ("Own panels or generator", "Panneaux ou groupe", "ألواح أو مولد خاص")),
            ("lamp", ("Lamp or candle", "Lampe ou bougie", "مصباح أو شمعة")), ("none", ("Nothing", "Rien", "لا شيء")),
        ),
        codes(
            "water",
            ("piped", ("Tap in the dwelling", "Robinet au logement", "صنبور في المسكن")),
            ("tap", ("Tap outside", "Robinet dehors", "صنبور خارجي")), ("well", ("Well", "Puits", "بئر")),
            ("rain", ("Rain", "Pluie", "مطر")), ("cart", ("Bought from a cart", "Achetée au porteur", "تُشترى من عربة")),
            ("other", ("Other", "Autre", "غير ذلك")), specify="other",
        ),
        codes(
            "equipment",
            ("radio", ("Radio", "Radio", "راديو")), ("phone", ("Phone", "Téléphone", "هاتف")),
            ("bicycle", ("Bicycle", "Vélo", "دراجة")), ("boat", ("Boat", "Bateau", "قارب")),
            ("fridge", ("Refrigerator", "Réfrigérateur", "ثلاجة")), ("none", ("None of these", "Rien de cela", "لا شيء منها")),
            exclusive="none",
        ),
    ],
)  # fmt: skip
