"""What comes in and how much of it: sources of income, quantities in the units people use."""

from __future__ import annotations

from skavo.core.modules.writing import codes, line, module, texts
from skavo.core.questionnaire.script import UnitList, UnitOfMeasure

INCOME = module(
    "income",
    ("Sources of income", "Sources de revenu", "مصادر الدخل"),
    (
        "What the household lived from in the last month, with an amount for each source that was named.",
        "De quoi le ménage a vécu le mois dernier, avec un montant pour chaque source nommée.",
        "مم عاشت الأسرة في الشهر الماضي، مع مبلغ لكل مصدر مذكور.",
    ),
    [
        line(1, "section", "income", ("Income", "Revenus", "الدخل")),
        line(
            2, "multiple answer", "sources",
            (
                "From what did money come in during the last month?", "D’où est venu l’argent le mois dernier ?",
                "من أين جاء المال خلال الشهر الماضي؟",
            ),
            code_list="source", answer_needed="yes",
        ),
        line(2, "roster", "source", ("{source}", "{source}", "{source}"), repeated="for each code in sources"),
        line(
            3, "decimal", "amount",
            (
                "How much came in from: {source}?", "Combien est venu de : {source} ?", "كم جاء من: {source}؟",
            ),
            answer_needed="yes", least=0, special_answers=["dont_know", "refused"],
        ),
        line(2, "derived value", "income_total", ("", "", ""), derived="sum(source.amount)"),
        line(
            2, "decimal", "spent",
            (
                "And how much was spent in the same month?", "Et combien a été dépensé le même mois ?",
                "وكم أُنفق في الشهر نفسه؟",
            ),
            least=0, special_answers=["dont_know", "refused"],
            should=[
                (
                    "spent <= income_total * 2",
                    (
                        "More than twice of what came in.", "Plus du double de ce qui est entré.", "أكثر من ضعف ما دخل.",
                    ),
                )
            ],
        ),
    ],
    lists=[
        codes(
            "source",
            ("wages", ("Wages", "Salaires", "أجور")), ("trade", ("Own trade", "Métier propre", "حرفة خاصة")),
            ("fields", ("Fields or animals", "Champs ou bêtes", "حقول أو ماشية")),
            ("fishing", ("Fishing", "Pêche", "صيد السمك")), ("rent", ("Rent", "Loyers", "إيجار")),
            ("sent", ("Money sent by others", "Argent envoyé", "أموال مرسلة")),
            ("other", ("Other", "Autre", "غير ذلك")), ("none", ("Nothing came in", "Rien", "لا شيء")),
            specify="other", exclusive="none",
        )
    ],
)  # fmt: skip

QUANTITIES = module(
    "quantities",
    ("Quantities in local units", "Quantités en unités locales", "كميات بوحدات محلية"),
    (
        "How much was brought in, in the unit people count in; the size of that unit is asked, not assumed.",
        "Combien a été récolté, dans l’unité que les gens emploient ; la taille de l’unité est demandée.",
        "كم جُمع، بالوحدة التي يعد بها الناس؛ ويُسأل عن حجم الوحدة ولا يُفترض.",
    ),
    [
        line(1, "section", "harvest", ("Harvest", "Récolte", "المحصول")),
        line(
            2, "decimal", "sack_weight",
            (
                "How many kilograms does a full sack hold here?", "Combien de kilogrammes contient un sac plein ici ?",
                "كم كيلوغراما يسع الكيس الممتلئ هنا؟",
            ),
            answer_needed="yes", least=5, most=150,
        ),
        line(
            2, "quantity", "brought_in",
            ("How much was brought in this season?", "Combien a été récolté cette saison ?", "كم جُمع هذا الموسم؟"),
            unit="harvest_unit", answer_needed="yes", special_answers=["dont_know"],
            should=[("brought_in <= 20 t", ("More than 20 tonnes?", "Plus de 20 tonnes ?", "أكثر من 20 طنا؟"))],
        ),
        line(
            2, "quantity", "sold",
            ("How much of it was sold?", "Combien en a été vendu ?", "كم بيع منه؟"), unit="harvest_unit",
            asked_when="brought_in > 0 kg", answer_needed="yes", special_answers=["dont_know"],
            must=[
                (
                    "sold <= brought_in",
                    ("Only {brought_in} were brought in.", "Seulement {brought_in} récoltés.", "جُمع {brought_in} فقط."),
                )
            ],
        ),
        line(2, "derived value", "kept", ("", "", ""), derived="brought_in - sold"),
    ],
    units=[
        UnitList(
            name="harvest_unit",
            units=[
                UnitOfMeasure(unit="kg", dimension="mass", factor="1", label=texts(("kg", "kg", "كغ"))),
                UnitOfMeasure(unit="sack", dimension="mass", factor="sack_weight", label=texts(("sack", "sac", "كيس"))),
                UnitOfMeasure(unit="cart", dimension="mass", factor="12 sack", label=texts(("cart", "charrette", "عربة"))),
            ],
        )
    ],
)  # fmt: skip
