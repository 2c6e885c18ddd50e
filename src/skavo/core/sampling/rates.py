"""Outcome rates by published formulas, from how many visits ended in which class."""

from __future__ import annotations

from dataclasses import dataclass, fields
from math import nan

from skavo.core.errors import DataError


@dataclass(frozen=True)
class Outcomes:
    """How many of the sample ended how, by the standard classes.

    `interview` (I) and `partial` (P); `refusal` (R, break-offs included), `non_contact` (NC) and `other` (O) of those who
    are eligible; `unknown_place` (UH) and `unknown_other` (UO), of whom it is not known whether they are; `not_eligible`.
    """

    interview: int = 0
    partial: int = 0
    refusal: int = 0
    non_contact: int = 0
    other: int = 0
    unknown_place: int = 0
    unknown_other: int = 0
    not_eligible: int = 0

    def __post_init__(self) -> None:
        for one in fields(self):
            if getattr(self, one.name) < 0:
                raise DataError("wrong_outcomes", f"There cannot be {getattr(self, one.name)} of “{one.name}”.")

    @property
    def reached(self) -> int:
        return self.interview + self.partial

    @property
    def known(self) -> int:
        """All who are known to be eligible."""
        return self.reached + self.refusal + self.non_contact + self.other

    @property
    def unknown(self) -> int:
        return self.unknown_place + self.unknown_other

    @property
    def eligible_share(self) -> float:
        """e: the share of eligible among those of whom it is known, taken for the unknown as well; nan of none.

        Source: the proportional way (CASRO, 1982), which the Standard Definitions name as one among several.
        """
        judged = self.known + self.not_eligible
        return self.known / judged if judged else nan


@dataclass(frozen=True)
class Rates:
    """Rates between 0 and 1, nan where there is nothing to divide by; named as the Standard Definitions number them."""

    response: tuple[float, float, float, float, float, float]
    cooperation: tuple[float, float, float, float]
    refusal: tuple[float, float, float]
    contact: tuple[float, float, float]
    eligible_share: float


def outcome_rates(found: Outcomes, eligible_share: float | None = None) -> Rates:
    """All rates of RR1–6, COOP1–4, REF1–3 and CON1–3; `eligible_share` (e) is estimated where it is not given.

    Source: American Association for Public Opinion Research, Standard Definitions: Final Dispositions of Case Codes and
    Outcome Rates for Surveys (9th ed. 2016; the formulas are the same in the 10th of 2023).
    """
    e = found.eligible_share if eligible_share is None else eligible_share
    if not (e != e or 0 <= e <= 1):
        raise DataError("wrong_outcomes", f"The share of eligible is {e:g}; it lies between 0 and 1.")
    full, all_known, some_known = (
        found.interview,
        found.known + found.unknown,
        found.known + (e * found.unknown if found.unknown else 0),
    )
    spoken = found.reached + found.refusal + found.other
    return Rates(
        response=(
            _share(full, all_known), _share(found.reached, all_known),
            _share(full, some_known), _share(found.reached, some_known),
            _share(full, found.known), _share(found.reached, found.known),
        ),
        cooperation=(
            _share(full, spoken), _share(found.reached, spoken),
            _share(full, found.reached + found.refusal), _share(found.reached, found.reached + found.refusal),
        ),
        refusal=(_share(found.refusal, all_known), _share(found.refusal, some_known), _share(found.refusal, found.known)),
        contact=(_share(spoken, all_known), _share(spoken, some_known), _share(spoken, found.known)),
        eligible_share=e,
    )  # fmt: skip


def _share(part: float, whole: float) -> float:
    return part / whole if whole else nan
