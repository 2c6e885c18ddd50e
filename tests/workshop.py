"""A questionnaire of 24 questions in two languages, for tests that want one of ordinary size."""

from __future__ import annotations

from typing import Any

from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck

HARD = list[tuple[str, str, str]]
ISLANDS = {"kesk": "Kesk", "luma": "Luma", "tarrow": "Tarrow", "vint": "Vint"}
WARDS = {
    "kesk": ["Harbour", "Hill", "Green", "Wall"],
    "luma": ["Mid", "North", "Sound", "Mill"],
    "tarrow": ["Landing", "Fen", "Head"],
    "vint": ["Quay", "Rise", "Cove"],
}


def part(level: int, kind: str, variable: str, en: str, fr: str, **more: Any) -> Part:
    """One line; `must` and `should` are (rule, message en, message fr), `say` an instruction (en, fr)."""
    say = more.pop("say", None)
    return Part(
        id=f"p_{variable}",
        level=level,
        kind=kind,
        variable=variable,
        wording={"en": en, "fr": fr} if en else {},
        instruction={"en": say[0], "fr": say[1]} if say else {},
        must_hold=_checks(more.pop("must", [])),
        should_hold=_checks(more.pop("should", [])),
        **more,
    )


def _checks(checks: HARD) -> list[ScriptCheck]:
    return [ScriptCheck(rule=rule, message={"en": en, "fr": fr}) for rule, en, fr in checks]


def codes(name: str, *entries: tuple[str, str, str], specify: str = "", exclusive: str = "") -> CodeList:
    return CodeList(
        name=name,
        codes=[
            Code(code=code, label={"en": en, "fr": fr}, specify=code == specify, exclusive=code == exclusive)
            for code, en, fr in entries
        ],
    )


def workshop_script() -> Script:
    return Script(
        name="workshop",
        title={"en": "Workshop interview", "fr": "Entretien d’atelier"},
        languages=["en", "fr"],
        parts=_parts(),
        code_lists=_code_lists(),
    )


def _code_lists() -> list[CodeList]:
    ward_codes = [
        Code(code=f"{island}_{ward.lower()}", label={"en": name, "fr": name}, attributes={"island": island})
        for island, wards in WARDS.items()
        for ward in wards
        for name in [f"{ISLANDS[island]} {ward}"]
    ]
    return [
        codes("island", *[(code, name, name) for code, name in ISLANDS.items()]),
        CodeList(name="ward", codes=ward_codes),
        codes(
            "trade",
            ("bicycle", "Bicycles", "Vélos"),
            ("phone", "Phones", "Téléphones"),
            ("radio", "Radios", "Radios"),
            ("shoe", "Shoes", "Chaussures"),
            ("furniture", "Furniture", "Meubles"),
            ("sail", "Sails", "Voiles"),
            ("other", "Something else", "Autre chose"),
            specify="other",
        ),
        codes(
            "tool",
            ("vice", "Bench vice", "Étau"),
            ("drill", "Power drill", "Perceuse"),
            ("solder", "Soldering iron", "Fer à souder"),
            ("sewing", "Sewing machine", "Machine à coudre"),
            ("grinder", "Grinder", "Meuleuse"),
            ("other", "Another tool", "Un autre outil"),
            ("none", "None of these", "Aucun de ceux-ci"),
            specify="other",
            exclusive="none",
        ),
        codes(
            "role",
            ("owner", "Owner", "Propriétaire"),
            ("mender", "Skilled mender", "Réparateur qualifié"),
            ("apprentice", "Apprentice", "Apprenti"),
            ("family", "Family, helps out", "Famille, aide"),
            ("counter", "Sells at the counter", "Vente au comptoir"),
            ("other", "Something else", "Autre chose"),
            specify="other",
        ),
        codes(
            "problem",
            ("parts", "Spare parts are hard to get", "Pièces difficiles à trouver"),
            ("power", "Power cuts", "Coupures de courant"),
            ("rent", "The rent", "Le loyer"),
            ("custom", "Too few customers", "Trop peu de clients"),
            ("skills", "No skilled menders to be found", "Manque de réparateurs qualifiés"),
        ),
    ]


def _parts() -> list[Part]:
    return [
        part(1, "section", "arrival", "Arrival", "Arrivée"),
        part(
            2,
            "statement",
            "greeting",
            "We are asking everyone who mends things for a living on the isles. It takes about half an hour.",
            "Nous interrogeons tous ceux qui vivent de la réparation sur les îles. Il faut une demi-heure environ.",
            say=("Read aloud.", "Lire à haute voix."),
        ),
        part(
            2,
            "yes/no",
            "consent",
            "May I ask you some questions about this workshop?",
            "Puis-je vous poser quelques questions sur cet atelier ?",
            answer_needed="yes",
            say=("Do not go on without a yes.", "Ne pas continuer sans un oui."),
        ),
        part(1, "section", "workshop", "Workshop", "L’atelier", asked_when="consent is yes"),
        part(
            2,
            "single answer",
            "island",
            "Which island is this workshop on?",
            "Sur quelle île se trouve l’atelier ?",
            code_list="island",
            answer_needed="yes",
        ),
        part(
            2,
            "single answer",
            "ward",
            "Which ward of {island}?",
            "Quel quartier de {island} ?",
            code_list="ward",
            code_filter="ward.island is island",
            answer_needed="yes",
        ),
        part(
            2,
            "whole number",
            "opened",
            "In what year did it open?",
            "En quelle année a-t-il ouvert ?",
            special_answers=["dont_know"],
            must=[
                (
                    "opened between 1920 and year(today)",
                    "It cannot have opened in {opened}. Enter a year from 1920 to {year(today)}.",
                    "Il ne peut pas avoir ouvert en {opened}. Entrez une année de 1920 à {year(today)}.",
                )
            ],
        ),
        part(
            2,
            "text",
            "unit_code",
            "Unit code on the door plate",
            "Code sur la plaque de la porte",
            mask="****_999999",
            answer_needed="yes",
            say=("Copy it letter by letter.", "Copier lettre par lettre."),
            must=[
                (
                    'unit_code matches "****_999999"',
                    "Four letters or digits, underscore, six digits; here is {unit_code}.",
                    "Quatre lettres ou chiffres, tiret bas, six chiffres ; ici {unit_code}.",
                )
            ],
        ),
        part(
            2,
            "single answer",
            "trade",
            "What is mostly mended here?",
            "Que répare-t-on surtout ici ?",
            code_list="trade",
            answer_needed="yes",
        ),
        part(1, "section", "people", "People", "Les personnes", asked_when="consent is yes"),
        part(
            2,
            "whole number",
            "workers",
            "How many people work here, you included?",
            "Combien de personnes travaillent ici, vous compris ?",
            answer_needed="yes",
            must=[
                (
                    "workers between 1 and 40",
                    "{workers} people: between 1 and 40 is possible.",
                    "{workers} personnes : entre 1 et 40 est possible.",
                )
            ],
        ),
        part(2, "roster", "staff", "Each of them", "Chacune d’elles", repeated="workers times"),
        part(
            3,
            "text",
            "name",
            "First name of person {row}",
            "Prénom de la personne {row}",
            answer_needed="yes",
            sensitive=True,
        ),
        part(
            3,
            "whole number",
            "age",
            "How old is {name}?",
            "Quel âge a {name} ?",
            special_answers=["dont_know", "refused"],
            must=[
                (
                    "age between 8 and 99",
                    "{age} years: between 8 and 99 is possible.",
                    "{age} ans : entre 8 et 99 est possible.",
                )
            ],
            should=[("age >= 14", "{name} is {age}: a child at work?", "{name} a {age} ans : un enfant au travail ?")],
        ),
        part(
            3,
            "single answer",
            "role",
            "What does {name} do here?",
            "Que fait {name} ici ?",
            code_list="role",
            answer_needed="yes",
            say=("Read the list aloud only if needed.", "Ne lire la liste que si nécessaire."),
        ),
        part(
            3,
            "decimal",
            "hours",
            "Hours {name} worked in an ordinary week",
            "Heures de travail de {name} dans une semaine ordinaire",
            special_answers=["dont_know"],
            must=[
                (
                    "hours between 0 and 112",
                    "{hours} hours: a week has 168, and people sleep.",
                    "{hours} heures : une semaine en a 168, et il faut dormir.",
                )
            ],
            should=[
                ("hours <= 84", "More than 12 hours a day, every day?", "Plus de 12 heures par jour, tous les jours ?")
            ],
        ),
        part(
            2,
            "whole number",
            "paid",
            "How many of the {workers} are paid?",
            "Combien des {workers} sont payées ?",
            must=[
                (
                    "paid <= workers",
                    "{paid} paid of {workers} in all: one of the two is wrong.",
                    "{paid} payées sur {workers} : l’un des deux est faux.",
                )
            ],
        ),
        part(
            2,
            "derived value",
            "full_time",
            "Full-time posts",
            "Équivalents plein temps",
            derived="round(sum(staff.hours) / 40, 2)",
        ),
        part(1, "section", "work", "Work and earnings", "Travail et revenus", asked_when="consent is yes"),
        part(
            2,
            "multiple answer",
            "tools",
            "Which of these tools does the workshop have?",
            "Lesquels de ces outils l’atelier a-t-il ?",
            code_list="tool",
            answer_needed="yes",
            least=1,
        ),
        part(
            2,
            "yes/no",
            "bought_tool",
            "Was any of them bought in the last 12 months?",
            "L’un d’eux a-t-il été acheté ces 12 derniers mois ?",
            asked_when="not (tools includes none)",
        ),
        part(
            2,
            "decimal",
            "tool_cost",
            "What did that cost, in orins?",
            "Combien cela a-t-il coûté, en orins ?",
            asked_when="bought_tool is yes",
            special_answers=["dont_know", "refused"],
            must=[("tool_cost > 0", "It cannot have cost {tool_cost}.", "Cela ne peut pas avoir coûté {tool_cost}.")],
        ),
        part(
            2,
            "decimal",
            "days_open",
            "On how many days was the workshop open last week?",
            "Combien de jours l’atelier a-t-il été ouvert la semaine dernière ?",
            must=[
                (
                    "days_open between 0 and 7",
                    "A week has seven days; here are {days_open}.",
                    "Une semaine a sept jours ; ici {days_open}.",
                )
            ],
        ),
        part(
            2,
            "decimal",
            "earnings",
            "What did the workshop take in last week, in orins?",
            "Combien l’atelier a-t-il encaissé la semaine dernière, en orins ?",
            special_answers=["dont_know", "refused"],
            asked_when="days_open > 0",
            must=[
                ("earnings >= 0", "Earnings cannot be below nothing.", "Les recettes ne peuvent pas être négatives.")
            ],
            should=[
                (
                    "earnings <= 900 * workers",
                    "{earnings} orins with {workers} people is far more than usual.",
                    "{earnings} orins avec {workers} personnes est bien plus que d’habitude.",
                )
            ],
        ),
        part(
            2,
            "decimal",
            "scrap",
            "How many kilograms were thrown away last week?",
            "Combien de kilos ont été jetés la semaine dernière ?",
            special_answers=["dont_know"],
            must=[
                (
                    "scrap between 0 and 2000",
                    "{scrap} kg: between 0 and 2000 is possible.",
                    "{scrap} kg : entre 0 et 2000 est possible.",
                )
            ],
        ),
        part(
            2,
            "single answer",
            "worst_problem",
            "What is the worst problem?",
            "Quel est le plus grand problème ?",
            code_list="problem",
        ),
        part(
            2,
            "single answer",
            "second_problem",
            "And the second worst?",
            "Et le deuxième ?",
            code_list="problem",
            asked_when="worst_problem is answered",
            must=[
                (
                    "second_problem is not worst_problem",
                    "That was named as the worst already.",
                    "C’est déjà le premier nommé.",
                )
            ],
        ),
        part(1, "section", "closing", "Closing", "Pour finir"),
        part(
            2,
            "yes/no",
            "call_back",
            "May we call you back with a few questions?",
            "Pouvons-nous vous rappeler pour quelques questions ?",
            asked_when="consent is yes",
        ),
        part(
            2,
            "text",
            "phone_number",
            "On which number?",
            "À quel numéro ?",
            asked_when="call_back is yes",
            sensitive=True,
            answer_needed="yes",
        ),
        part(
            2,
            "date",
            "come_again",
            "On which day may we come again?",
            "Quel jour pouvons-nous revenir ?",
            asked_when="consent is no",
            must=[("come_again >= today", "That day is over: {come_again}.", "Ce jour est passé : {come_again}.")],
        ),
        part(2, "text", "remarks", "Anything else?", "Autre chose ?"),
    ]
