"""What a wording proposes: common practice of questionnaire writing, in five languages."""

from __future__ import annotations

import pytest

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.clues import CLUES
from skavo.core.questionnaire.propose import Around, name_from, propose
from skavo.core.questionnaire.variables import VARIABLE


@pytest.mark.parametrize(
    ("language", "wording", "kind"),
    [
        ("en", "How many people work here, you included?", "whole number"),
        ("en", "In what year did it open?", "whole number"),
        ("en", "How old is {name}?", "whole number"),
        ("en", "Do you own this workshop?", "yes/no"),
        ("en", "May I ask you some questions?", "yes/no"),
        ("en", "In the last seven days, did you mend a pump?", "yes/no"),
        ("en", "How much did you earn last month?", "decimal"),
        ("en", "How many kilograms of fish did you dry?", "quantity"),
        ("en", "When did you last see a customer?", "date"),
        ("en", "At what time do you open?", "time"),
        ("en", "Take a photo of the front", "photo"),
        ("en", "Which of these do you own?", "multiple answer"),
        ("en", "First name", "text"),
        ("en", "Documents that were shown", "text"),
        ("en", "We ask everyone who mends things for a living. It takes half an hour.", "statement"),
        ("fr", "Combien de personnes travaillent ici ?", "whole number"),
        ("fr", "En quelle année a-t-il ouvert ?", "whole number"),
        ("fr", "Avez-vous l’électricité ?", "yes/no"),
        ("fr", "Combien gagnez-vous par mois ?", "decimal"),
        ("es", "¿Tiene usted electricidad?", "yes/no"),
        ("es", "¿Cuántas personas trabajan aquí?", "whole number"),
        ("pt", "Tem eletricidade?", "yes/no"),
        ("pt", "Quantas pessoas trabalham aqui?", "whole number"),
        ("ar", "هل لديك كهرباء؟", "yes/no"),
        ("ar", "كم عدد العمال؟", "whole number"),
        ("xx", "Wie viele?", "text"),
    ],
)
def test_the_kind(language: str, wording: str, kind: str) -> None:
    assert propose(Around([language]), {language: wording}).kind == kind


@pytest.mark.parametrize(
    ("language", "wording", "name"),
    [
        ("en", "How many people work here, you included?", "people_work"),
        ("en", "Unit code on the door plate", "unit_code"),
        ("en", "The {workers} people", "people"),
        ("fr", "Combien de personnes à l’atelier ?", "personnes_atelier"),
        ("fr", "Nom de l'élève", "nom_eleve"),
        ("ar", "هل لديك كهرباء؟", "ldyk_khrb"),
        ("en", "2nd phone", "q_2nd_phone"),
        ("en", "???", "q_1"),
        ("en", "Which is it?", "which_is"),
    ],
)
def test_the_name(language: str, wording: str, name: str) -> None:
    assert name_from(wording, language) == name
    assert VARIABLE.fullmatch(name)


def test_an_answer_is_needed_unless_the_wording_lets_it_be() -> None:
    around = Around(["en"])
    assert propose(around, {"en": "How many rooms?"}).answer_needed == "yes"
    assert propose(around, {"en": "Anything else you would like to say?"}).answer_needed == ""
    assert propose(around, {"en": "Please listen carefully to what I am going to say."}).answer_needed == ""


def test_a_list_that_is_named_is_taken() -> None:
    around = Around(["en"], lists=["island", "tool"])
    assert propose(around, {"en": "Which island is it on?"}).code_list == "island"
    tools = propose(around, {"en": "Which of these tools do you own?"})
    assert (tools.kind, tools.code_list) == ("multiple answer", "tool")
    assert propose(around, {"en": "How many tools do you own?"}).code_list == ""


def test_taken_and_reserved_names_are_not_proposed() -> None:
    assert propose(Around(["en"], taken=["rooms"]), {"en": "How many rooms?"}).variable == "rooms_2"
    assert propose(Around(["en"]), {"en": "Unit"}).variable == "unit_2"


def test_the_first_language_that_says_something_counts() -> None:
    around = Around(["en", "fr"])
    assert propose(around, {"en": " ", "fr": "Avez-vous un toit ?"}).kind == "yes/no"
    assert propose(around, {}).variable == ""


def test_a_quantity_comes_with_its_unit_and_a_section_with_a_name_only() -> None:
    assert propose(Around(["en"]), {"en": "How many litres of water?"}).unit == "l"
    section = propose(Around(["en"]), {"en": "How many people?"}, holds=True)
    assert (section.variable, section.kind, section.answer_needed) == ("people", "", "")


def test_every_clue_leads_to_a_kind_there_is() -> None:
    assert {clue.kind for clues in CLUES.values() for clue in clues} <= set(KINDS)
