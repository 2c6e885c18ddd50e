"""Kinds of unit to begin with: their fields, in English, French and Arabic, and how they usually hang together."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from skavo.core.modules.module import Module
from skavo.core.modules.writing import Three, codes, line, module
from skavo.core.questionnaire.script import CodeList, Part
from skavo.core.register.settings import Carried, How, KindSettings

_SOURCE = "Common practice of registers of premises, assets and plots; worded anew for Skavo."


@dataclass(frozen=True)
class ReadyKind:
    """`fields` is what units of this kind hold; `settings` names no other kinds: those of a study have numbers of their
    own."""

    fields: Module
    settings: KindSettings


_CONDITION = codes(
    "condition",
    ("good", ("Good", "Bon", "جيدة")),
    ("fair", ("Fair", "Passable", "مقبولة")),
    ("poor", ("Poor", "Mauvais", "سيئة")),
    ("broken", ("Broken", "Hors d’usage", "معطلة")),
)


def _condition(wording: Three) -> Part:
    return line(1, "single answer", "condition", wording, code_list="condition")


def _kind(
    name: str, title: Three, measures: Three, parts: list[Part], *, glyph: str, label: str, key: str,
    carried: tuple[tuple[str, How], ...] = (), alone: bool = True, lists: list[CodeList] | None = None,
) -> ReadyKind:  # fmt: skip
    return ReadyKind(
        module(name, title, measures, parts, lists=lists, source=_SOURCE),
        KindSettings(
            glyph=glyph, label=label, key_named=key, stands_alone=alone,
            carried=[Carried(part_id=part_id, how=how) for part_id, how in carried],
        ),
    )  # fmt: skip


_NAME: Three = ("Name", "Nom", "الاسم")
_PLACE: Three = ("Place", "Lieu", "المكان")
_PICTURE: Three = ("Picture", "Photo", "صورة")
_REMARK: Three = ("Remark", "Remarque", "ملاحظة")


def _dated(**more: Any) -> Part:
    return line(1, "date", "condition_seen", ("Condition seen on", "État constaté le", "تاريخ معاينة الحالة"), **more)


_NOT_AHEAD = [
    (
        "condition_seen <= today",
        ("This day has not come yet.", "Ce jour n’est pas encore venu.", "هذا اليوم لم يأت بعد."),
    )
]

PREMISES = _kind("premises",
    ("Premises", "Locaux", "مبان"),
    ("A building or a part of one, with its use, place and yard.", "Un bâtiment ou une partie, avec son usage, son lieu et sa cour.", "مبنى أو جزء منه، مع استعماله ومكانه وفنائه."),
    [
        line(1, "text", "name", _NAME),
        line(1, "text", "address", ("Address", "Adresse", "العنوان")),
        line(1, "single answer", "use", ("Use", "Usage", "الاستعمال"), code_list="use"),
        _condition(("Condition", "État", "الحالة")),
        line(1, "point", "place", _PLACE),
        line(1, "area", "yard", ("Yard", "Cour", "الفناء")),
        line(1, "derived value", "yard_m2", ("Size of the yard", "Surface de la cour", "مساحة الفناء"), derived="size(yard)"),
        line(1, "photo", "picture", _PICTURE),
        line(1, "text", "remark", _REMARK),
    ],
    glyph="⌂", label="name", key="Number", lists=[
        _CONDITION,
        codes("use",
            ("dwelling", ("Dwelling", "Habitation", "سكن")), ("trade", ("Trade", "Commerce ou atelier", "تجارة")),
            ("both", ("Both", "Les deux", "كلاهما")), ("public", ("Public", "Public", "عام")),
            ("empty", ("Empty", "Vide", "فارغ")),
        ),
    ],
)  # fmt: skip

HOUSEHOLD = _kind("household",
    ("Household", "Ménage", "أسرة"),
    ("Those who live together, by whom they are known.", "Ceux qui vivent ensemble, et par qui on les connaît.", "من يعيشون معا، ومن يُعرفون به."),
    [
        line(1, "text", "head", ("Head", "Chef", "رب الأسرة"), sensitive=True),
        line(1, "whole number", "people", ("People", "Personnes", "الأفراد"), least=1, most=60),
        line(1, "text", "phone", ("Telephone", "Téléphone", "الهاتف"), sensitive=True),
        line(1, "point", "place", _PLACE, sensitive=True),
        line(1, "text", "remark", _REMARK, sensitive=True),
    ],
    glyph="◇", label="", key="Number", carried=(("people", "sum"),),
)  # fmt: skip

PERSON = _kind("person",
    ("Person", "Personne", "شخص"),
    ("Somebody who is met again in a later round.", "Quelqu’un que l’on revoit lors d’un passage suivant.", "شخص يُلتقى به مجددا في جولة لاحقة."),
    [
        line(1, "text", "name", ("Name", "Nom", "الاسم"), sensitive=True),
        line(1, "single answer", "sex", ("Sex", "Sexe", "الجنس"), code_list="sex"),
        line(
            1, "date", "born", ("Born on", "Né(e) le", "تاريخ الميلاد"), sensitive=True,
            must=[("born <= today", ("Nobody is born after today.", "Personne n’est né après aujourd’hui.", "لا أحد يولد بعد اليوم."))],
        ),
        line(1, "derived value", "age", ("Age in years", "Âge en années", "العمر بالسنوات"), derived="years(born, today)"),
        line(1, "text", "phone", ("Telephone", "Téléphone", "الهاتف"), sensitive=True),
    ],
    glyph="○", label="", key="Number",
    lists=[codes("sex", ("female", ("Female", "Femme", "أنثى")), ("male", ("Male", "Homme", "ذكر")))],
)  # fmt: skip

EQUIPMENT = _kind("equipment",
    ("Equipment", "Équipement", "معدات"),
    ("A machine, a tool or a piece of furniture: bought when, worth what, in what condition, good for how long.", "Une machine, un outil ou un meuble : acheté quand, de quelle valeur, en quel état, bon pour combien de temps.", "آلة أو أداة أو قطعة أثاث: متى اشتُريت، وكم تساوي، وما حالتها، وكم بقي لها."),
    [
        line(1, "text", "name", ("Name", "Nom", "الاسم")),
        line(
            1, "whole number", "bought", ("Bought in", "Acheté en", "سنة الشراء"), least=1850,
            must=[("bought <= year(today)", ("This year has not come yet.", "Cette année n’est pas encore venue.", "هذه السنة لم تأت بعد."))],
        ),
        line(1, "decimal", "value", ("Cost to replace", "Coût de remplacement", "كلفة الاستبدال"), least=0),
        line(1, "whole number", "useful_life", ("Useful life in years", "Durée utile en années", "العمر المفيد بالسنوات"), least=1, most=100),
        _condition(("Condition", "État", "الحالة")),
        _dated(must=_NOT_AHEAD),
        line(1, "derived value", "age", ("Age in years", "Âge en années", "العمر بالسنوات"), derived="year(today) - bought"),
        line(1, "derived value", "years_left", ("Years left", "Années restantes", "السنوات الباقية"), derived="if useful_life > age then useful_life - age else 0"),
        line(1, "photo", "picture", _PICTURE),
    ],
    glyph="⚙", label="name", key="Number", carried=(("value", "sum"), ("condition", "most"), ("bought", "least")), lists=[_CONDITION],
)  # fmt: skip

SERVICE_POINT = _kind("service_point",
    ("Service point", "Point de service", "نقطة خدمة"),
    ("A tap, a well, a pump or the like: does it work, for whom, since when.", "Un robinet, un puits, une pompe ou semblable : fonctionne-t-il, pour qui, depuis quand.", "صنبور أو بئر أو مضخة أو ما شابه: هل تعمل، ولمن، ومنذ متى."),
    [
        line(1, "text", "name", _NAME),
        line(1, "single answer", "source", ("Source", "Source", "المصدر"), code_list="source"),
        line(1, "yes/no", "works", ("Works", "Fonctionne", "تعمل")),
        _condition(("Condition", "État", "الحالة")),
        _dated(must=_NOT_AHEAD),
        line(1, "whole number", "opened", ("Opened in", "Ouvert en", "سنة الافتتاح"), least=1800),
        line(1, "whole number", "users", ("Households that use it", "Ménages usagers", "الأسر المستفيدة"), least=0),
        line(1, "point", "place", _PLACE),
        line(1, "photo", "picture", _PICTURE),
    ],
    glyph="◉", label="name", key="Number", carried=(("users", "sum"), ("condition", "most")), lists=[
        _CONDITION,
        codes("source",
            ("tap", ("Tap", "Robinet", "صنبور")), ("hand_pump", ("Hand pump", "Pompe à main", "مضخة يدوية")),
            ("motor_pump", ("Motor pump", "Pompe à moteur", "مضخة بمحرك")), ("well", ("Open well", "Puits ouvert", "بئر مفتوحة")),
            ("spring", ("Spring", "Source", "نبع")), ("other", ("Other", "Autre", "غير ذلك")), specify="other",
        ),
    ],
)  # fmt: skip

STRETCH = _kind("stretch",
    ("Road or pipe", "Route ou conduite", "طريق أو أنبوب"),
    ("A stretch of a road, a path or a pipe: its course, what it is made of, its condition.", "Un tronçon de route, de chemin ou de conduite : son tracé, sa matière, son état.", "جزء من طريق أو أنبوب: مساره ومادته وحالته."),
    [
        line(1, "text", "name", _NAME),
        line(1, "text", "made_of", ("Made of", "Matière", "المادة")),
        line(1, "decimal", "width", ("Width in metres", "Largeur en mètres", "العرض بالأمتار"), least=0),
        _condition(("Condition", "État", "الحالة")),
        line(1, "path", "course", ("Course", "Tracé", "المسار")),
        line(1, "derived value", "metres", ("Length", "Longueur", "الطول"), derived="length(course)"),
    ],
    glyph="∿", label="name", key="Number", carried=(("metres", "sum"), ("condition", "most")), lists=[_CONDITION],
)  # fmt: skip

PLOT = _kind("plot",
    ("Plot", "Parcelle", "قطعة أرض"),
    ("A piece of land: its outline, its use, who works it.", "Un terrain : son contour, son usage, qui le travaille.", "قطعة أرض: حدودها واستعمالها ومن يعمل فيها."),
    [
        line(1, "text", "name", _NAME),
        line(1, "text", "worked_by", ("Worked by", "Travaillée par", "من يعمل فيها"), sensitive=True),
        line(1, "single answer", "use", ("Use", "Usage", "الاستعمال"), code_list="plot_use"),
        line(1, "area", "outline", ("Outline", "Contour", "الحدود")),
        line(1, "derived value", "surface", ("Size", "Surface", "المساحة"), derived="size(outline)"),
    ],
    glyph="⬠", label="name", key="Number", carried=(("surface", "sum"),),
    lists=[
        codes("plot_use",
            ("crops", ("Crops", "Cultures", "محاصيل")), ("grazing", ("Grazing", "Pâturage", "مرعى")),
            ("trees", ("Trees", "Arbres", "أشجار")), ("fallow", ("Lying fallow", "Jachère", "بور")),
            ("built", ("Built upon", "Bâti", "مبنية")), ("other", ("Other", "Autre", "غير ذلك")), specify="other",
        )
    ],
)  # fmt: skip

AREA = _kind("area",
    ("Area", "Zone", "منطقة"),
    ("An island, a ward, a village: what others lie in.", "Une île, un quartier, un village : ce qui en contient d’autres.", "جزيرة أو حي أو قرية: ما يقع فيه غيره."),
    [
        line(1, "text", "name", _NAME),
        line(1, "area", "outline", ("Outline", "Contour", "الحدود")),
    ],
    glyph="▱", label="name", key="Code",
)  # fmt: skip

READY: tuple[ReadyKind, ...] = (AREA, PREMISES, HOUSEHOLD, PERSON, EQUIPMENT, SERVICE_POINT, STRETCH, PLOT)
