"""How attempts at a visit end, and what a unit counts as in the end."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError
from skavo.core.sampling.rates import Outcomes
from skavo.core.visits.attempts import Attempt, Ways

# The standard classes of outcomes: what rates are made of.
Class = Literal["interview", "partial", "refusal", "non-contact", "other", "unknown", "not eligible"]
# Where attempts ended differently, the first of these that is among them is what the unit counts as: what was learnt
# once is not undone by nobody being there the next day. Within a class the newest attempt counts.
_PRECEDENCE: tuple[Class, ...] = (
    "interview", "partial", "not eligible", "refusal", "other", "non-contact", "unknown",
)  # fmt: skip
Code = Annotated[str, Field(min_length=1, max_length=32, pattern=r"^[a-z][a-z0-9_]*$")]


class Outcome(BaseModel):
    """One way in which an attempt ends; `counts_as` is its class, `label` what it is called by language. It `ends` the
    visits of a unit, or another attempt follows; it `passes_on` where that is better made by somebody else, and
    `names_moment` where it is an appointment."""

    model_config = ConfigDict(extra="forbid")
    code: Code
    label: dict[str, str]
    counts_as: Class
    ends: bool = False
    names_moment: bool = False
    passes_on: bool = False


def _outcome(code: str, counts_as: Class, en: str, fr: str, ar: str, **more: bool) -> Outcome:
    return Outcome.model_validate(
        {"code": code, "label": {"en": en, "fr": fr, "ar": ar}, "counts_as": counts_as, **more}
    )


# What a study begins with.
FIRST_OUTCOMES: tuple[Outcome, ...] = (
    _outcome("completed", "interview", "Completed", "Terminé", "مكتملة", ends=True),
    _outcome("partly", "partial", "Partly", "En partie", "جزئيا"),
    _outcome("locked", "non-contact", "Locked", "Fermé", "مقفل"),
    _outcome("nobody", "non-contact", "Nobody there", "Personne", "لا أحد هناك"),
    _outcome("refused", "refusal", "Refused", "Refus", "رفض", passes_on=True),
    _outcome("appointment", "other", "Appointment", "Rendez-vous", "موعد", names_moment=True),
    _outcome("moved", "other", "Moved away", "Déménagé", "انتقل"),
    _outcome("not_found", "unknown", "Not found", "Introuvable", "غير موجود"),
    _outcome("gone", "not eligible", "Gone", "Disparu", "زال", ends=True),
)


def check_outcomes(outcomes: Sequence[Outcome]) -> None:
    """Raise DataError where a list of outcomes has a code twice, or none that an interview ends with."""
    twice = next((code for code, times in Counter(one.code for one in outcomes).items() if times > 1), None)
    if twice is not None:
        raise DataError("twice", f"“{twice}” stands twice among the outcomes. Name each once.", {"code": twice})
    if not any(one.counts_as == "interview" for one in outcomes):
        raise DataError("no_interview", "No outcome counts as an interview. Let one do so, or no rate can be told.")


def counts_as(attempts: Iterable[Attempt], outcomes: Mapping[str, Outcome]) -> str | None:
    """The outcome, by code, that a unit counts as after these attempts; None where there was none yet.

    An outcome that the study no longer has counts as nothing.
    """
    known = sorted((one for one in attempts if one.outcome in outcomes), key=lambda one: one.at)
    for wanted in _PRECEDENCE:
        of_class = [one for one in known if outcomes[one.outcome].counts_as == wanted]
        if of_class:
            return of_class[-1].outcome
    return None


def tallied(final: Iterable[str | None], outcomes: Mapping[str, Outcome]) -> Outcomes:
    """The counts that rates are made of, from what each unit of a sample counts as.

    A unit that nobody has seen yet is one of whom it is not known whether it is eligible (UO of the Standard
    Definitions), and so is one whose place was not found (UH).
    """
    counts: Counter[str] = Counter()
    for code in final:
        found = outcomes.get(code) if code is not None else None
        counts["unseen" if found is None else found.counts_as] += 1
    return Outcomes(
        interview=counts["interview"], partial=counts["partial"], refusal=counts["refusal"],
        non_contact=counts["non-contact"], other=counts["other"], unknown_place=counts["unknown"],
        unknown_other=counts["unseen"], not_eligible=counts["not eligible"],
    )  # fmt: skip


class AttemptRules(BaseModel):
    """How often a unit is tried, `hours_apart` at least from one attempt to the next, and whether a later attempt goes to
    another part of the day than those before it."""

    model_config = ConfigDict(extra="forbid")
    most: int = Field(default=4, ge=1, le=50)
    hours_apart: int = Field(default=3, ge=0, le=24 * 30)
    other_parts_of_day: bool = True


def ways_of(outcomes: Iterable[Outcome]) -> Ways:
    """What follows after which of the outcomes."""
    known = list(outcomes)
    return Ways(
        ending=frozenset(one.code for one in known if one.ends),
        passing_on=frozenset(one.code for one in known if one.passes_on),
    )


def label_in(outcome: Outcome, language: str) -> str:
    """What an outcome is called in a language, in English where that is not said."""
    return outcome.label.get(language) or outcome.label.get("en") or outcome.code
