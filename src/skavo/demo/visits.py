"""The demo's visits: a first round to a part of the roll, done, and a second one to a sample, under way."""

from __future__ import annotations

import random
from collections import defaultdict
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import select

from skavo.core.visits.assigning import by_area
from skavo.core.visits.outcomes import AttemptRules
from skavo.demo.people import ENUMERATORS
from skavo.demo.questionnaire import questionnaire_of
from skavo.demo.respondents import unit_code
from skavo.services.desk import Desk
from skavo.services.ground import GroundQuery
from skavo.services.registers import list_kinds
from skavo.services.saved_layers import LayerIn, keep_layer
from skavo.services.visit_giving import GiveIn, Share, give
from skavo.services.visit_lists import (
    UnitsByKey,
    VisitListChange,
    VisitListIn,
    VisitListOut,
    change_list,
    list_lists,
    make_list,
    show_list,
)
from skavo.services.visits import VisitLine, VisitsQuery, list_visits
from skavo.standins.phone import Phone
from skavo.store.models import Membership, now

FIRST_ROUND = 152
_SEED = 190
# How the first attempts of workshops ended at which nobody was asked.
_LOST = (["refused", "locked", "nobody", "gone", "not_found", "moved"], [9, 8, 6, 4, 4, 3])
_PAGE = 500


def plan_visits(desk: Desk, study_id: int, sample_id: int) -> None:
    """Both rounds, given out: the first by number as phones went, the second by ward; some are given to nobody yet."""
    with desk.store.reading() as session:
        questionnaire = questionnaire_of(session, study_id).id
        members = select(Membership.name, Membership.person_id).where(Membership.study_id == study_id)
        people = dict(session.execute(members).tuples().all())
    workshop = next(kind for kind in list_kinds(desk, study_id) if kind.name == "workshop")
    keys = [unit_code(ENUMERATORS[n % len(ENUMERATORS)].island, n) for n in range(FIRST_ROUND)]
    first = make_list(
        desk, study_id,
        VisitListIn(
            name="Round 1", questionnaire_id=questionnaire, named=UnitsByKey(kind=workshop.id, keys=keys),
            rules=AttemptRules(most=3),
        ),
    )  # fmt: skip
    went = {key: people[ENUMERATORS[number % len(ENUMERATORS)].name] for number, key in enumerate(keys)}
    _give(desk, first, {visit.id: went[visit.key] for visit in _all(desk, first)})
    due = str((now() + timedelta(days=9)).date())
    second = make_list(
        desk, study_id, VisitListIn(name="Round 2", questionnaire_id=questionnaire, sample_id=sample_id, due=due)
    )
    _give(desk, second, _by_ward(people, [visit for visit in _all(desk, second) if visit.id % 16]))
    keep_layer(desk, study_id, LayerIn(name="Round 2 so far", query=GroundQuery(of="visits", named=second.id)))


def _all(desk: Desk, made: VisitListOut) -> list[VisitLine]:
    return list_visits(desk, made.id, VisitsQuery(limit=_PAGE)).lines


def _by_ward(people: dict[str, int], visits: list[VisitLine]) -> dict[int, int]:
    """Each ward to one of the two who work on its island; a workshop's plate begins as its island does."""
    of_island: dict[str, list[VisitLine]] = defaultdict(list)
    for visit in visits:
        of_island[visit.key[:2]].append(visit)
    given: dict[int, int] = {}
    for island, there in of_island.items():
        here = [people[one.name] for one in ENUMERATORS if one.island[:2].upper() == island]
        given |= zip([visit.id for visit in there], by_area([visit.area for visit in there], here), strict=True)
    return given


def _give(desk: Desk, made: VisitListOut, person_of: dict[int, int]) -> None:
    shares: dict[int, list[int]] = defaultdict(list)
    for visit, person in person_of.items():
        shares[person].append(visit)
    wanted = [Share(person_id=person, visits=visits) for person, visits in shares.items()]
    give(desk, made.id, GiveIn(shares=wanted, version=made.version))


def close_first_round(desk: Desk, study_id: int) -> None:
    """What a data manager does when a round is over."""
    first = next((one for one in list_lists(desk, study_id) if one.name == "Round 1"), None)
    if first is not None:
        now_is = show_list(desk, first.id)
        change = VisitListChange(name=now_is.name, rules=now_is.rules, closed=True, version=now_is.version)
        change_list(desk, first.id, change)


class VisitsOfRound:
    """What one simulated phone does with its visits: interviews belong to those of the first round, some at a second
    attempt; where nobody was asked, it says why; the second round has begun."""

    def __init__(self, phone: Phone) -> None:
        self.phone, self.rng = phone, random.Random(f"{_SEED} {phone.name}")
        held = phone.visits()
        name_of = {one["id"]: one["name"] for one in held["lists"]}
        self.taken = 0
        self.first = {v["key"]: v for v in held["visits"] if name_of[v["list_id"]] == "Round 1"}
        self.second = [visit for visit in held["visits"] if name_of[visit["list_id"]] == "Round 2"]

    def next_plate(self) -> str:
        """The plate of a workshop that the second round visits, and nobody has been to yet; "" where there is none."""
        return str(self.rng.choice(self.second)["key"]) if self.second else ""

    def door_of(self, plate: str) -> tuple[float, float] | None:
        """Where a workshop lies, as the phone knows it."""
        visit = self.first.get(plate) or next((one for one in self.second if one["key"] == plate), None)
        return None if visit is None or visit["place"] is None else (visit["place"][0], visit["place"][1])

    def take(self, document: dict[str, Any], plate: str) -> None:
        """Hand in an interview on the visit to the workshop of a plate, and tell the attempts that led to it."""
        visit = self.first.pop(plate, None)
        if visit is None:
            visit = next((one for one in self.second if one["key"] == plate), None)
            self.second = [one for one in self.second if one is not visit]
        if visit is not None:
            document |= {"visit": visit["visit"], "known": visit["known"]}
        self.phone.hand_in(document)
        if visit is None:
            return
        self.taken += 1
        ended = datetime.fromisoformat(document["paradata"]["ended"])
        if self.rng.random() < 0.18:
            self._try(
                visit, self.rng.choice(["locked", "nobody"]), ended - timedelta(days=1, hours=self.rng.randrange(4))
            )
        # Where the phone was: with whoever makes interviews up that is not at the door.
        there = document["answers"].get("position") or {}
        self._try(visit, _outcome_of(document), ended, interview=document["uuid"], **there)

    def finish(self, first_day: datetime) -> None:
        """What became of the other visits of the first round, and the first days of the second."""
        for visit in list(self.first.values())[: 1 + self.taken // 4]:
            (outcome,) = self.rng.choices(*_LOST)
            days = 1 if outcome in ("gone", "refused") else 3
            for attempt in range(days):
                hours = self.rng.choice([1.5, 4, 7, 9.5])
                self._try(
                    visit, outcome, first_day + timedelta(days=2 + 3 * attempt + self.rng.randrange(2), hours=hours)
                )
        today = now().astimezone(ZoneInfo("Etc/GMT+8")).replace(minute=10, second=0, microsecond=0)
        for visit in self.second:
            if self.rng.random() < 0.2:
                outcome = self.rng.choice(["locked", "locked", "nobody", "refused", "appointment", "gone", "not_found"])
                at = today - timedelta(days=1, hours=self.rng.randrange(5))
                when = (today + timedelta(days=self.rng.randrange(1, 4))).replace(
                    hour=self.rng.choice([9, 11, 14, 16]), minute=0
                )
                self._try(visit, outcome, at, **({"appointment": when.isoformat()} if outcome == "appointment" else {}))

    def _try(self, visit: dict[str, Any], outcome: str, at: datetime, **more: Any) -> None:
        place = visit["place"]
        if place is not None and "latitude" not in more:
            # Somewhere at the door: within some metres.
            more |= {"latitude": place[0] + self.rng.gauss(0, 4e-5), "longitude": place[1] + self.rng.gauss(0, 6e-5)}
            more["accuracy"] = self.rng.randrange(4, 16)
        self.phone.attempt(visit["visit"], outcome, at, rng=self.rng, **more)


def _outcome_of(document: dict[str, Any]) -> str:
    """How a visit ended that an interview was made on."""
    answers = document["answers"]
    if answers.get("outcome") in ("nobody", "closed"):
        return "nobody"
    if answers.get("consent") is False:
        return "refused"
    return "partly" if document["unfinished"] or answers.get("outcome") == "later" else "completed"
