"""Visits at the desk and on phones: made from a sample, given out and taken back, tried, passed on, rated, carried along."""

from __future__ import annotations

import csv
import io
from collections import Counter
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from sqlalchemy import select

from skavo.core.sampling.plan import SamplePlan
from skavo.core.visits.outcomes import FIRST_OUTCOMES, AttemptRules, Outcome
from skavo.services.branch_shares import SharedWith, share_branch
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.frames import FrameIn, RegisterFrame
from skavo.services.logbook import show_logbook, show_stations
from skavo.services.reading import show_interview
from skavo.services.refusals import Refused
from skavo.services.samples import SampleIn, draw, list_samples, remove_sample
from skavo.services.unit_changes import UnitChange, change_unit
from skavo.services.units import show_unit
from skavo.services.visit_giving import GiveIn, Share, SharesWanted, give, propose
from skavo.services.visit_lists import (
    OutcomesIn,
    ReservesIn,
    UnitsByKey,
    VisitListChange,
    VisitListIn,
    VisitListOut,
    change_list,
    change_outcomes,
    list_lists,
    make_list,
    remove_list,
    show_list,
    show_outcomes,
    take_reserves,
)
from skavo.services.visit_rates import RatesQuery, file_of_list, show_rates
from skavo.services.visits import (
    AttemptIn,
    TakenBack,
    VisitLine,
    VisitsQuery,
    Which,
    add_attempt,
    list_points,
    list_visits,
    show_visit,
    take_back,
)
from skavo.services.visits_carried import AttemptTold, CarriedVisits, mark_of_visits, take_attempt, visits_for
from skavo.store.models import Device, Event, Interview, Membership, Person, Team, Visit, VisitAttempt
from skavo.store.sensitive import MASK
from tests.samples import code_list, part, script
from tests.services.conftest import desk_of
from tests.services.plan import Plan
from tests.store.study import SmallStudy, release_in

YESTERDAY = datetime.now(UTC) - timedelta(days=1)


class Field:
    """A register of three wards, a sample of nine of its workshops with reserves, visits to them, and two teams."""

    def __init__(self, desk: Desk, study: SmallStudy) -> None:
        self.desk, self.study, self.plan = desk, study, Plan(desk, study.study_id)
        lines = ["kind,key,above,name,condition,place_latitude,place_longitude"]
        for at, ward in enumerate(("LM", "LN", "LS")):
            lines.append(f"ward,{ward},,Ward {ward},,,")
            lines += [f"workshop,{ward}-{n:02},{ward},Shop {n},good,{10 * at + n / 1000},{n / 1000}" for n in range(6)]
        columns = {"kind": "#kind", "key": "#key", "above": "#above"} | {n: n for n in lines[0].split(",")[3:]}
        self.plan.bring("\n".join(lines), columns=columns)
        self.people = self._people()
        self.list = self.make("Round 1", sample_id=self._sample())

    def _people(self) -> dict[str, int]:
        with self.study.store.session() as session:
            teams = {name: Team(study_id=self.study.study_id, name=name) for name in ("North", "South")}
            session.add_all(teams.values())
            session.flush()
            found = {}
            for name, team in (("Ilse", "North"), ("Mira", "North"), ("Otto", "South")):
                person = Person(name=name)
                session.add(person)
                session.flush()
                known = {"study_id": self.study.study_id, "person_id": person.id, "team_id": teams[team].id}
                session.add(Membership(**known, name=name, roles=["enumerator"]))
                found[name] = person.id
            self.teams = {name: team.id for name, team in teams.items()}
            session.get_one(Device, self.study.device_id).person_id = found["Ilse"]
            return found

    def _sample(self) -> int:
        frame = FrameIn(units=RegisterFrame(kind=self.plan.shop.id))
        plan = SamplePlan(by="stratified", size=9, strata="ward", seed=3, reserves=1)
        return draw(self.desk, self.study.study_id, SampleIn(name="S", frame=frame, plan=plan)).id

    def make(self, name: str, **source: Any) -> VisitListOut:
        wanted = VisitListIn(name=name, questionnaire_id=self.study.questionnaire_id, **source)
        return make_list(self.desk, self.study.study_id, wanted)

    def visits(self, desk: Desk | None = None, **which: Any) -> list[VisitLine]:
        return list_visits(desk or self.desk, self.list.id, VisitsQuery(**which)).lines

    def told(self) -> VisitListOut:
        return show_list(self.desk, self.list.id)

    def give(self, desk: Desk | None = None, **people: list[int]) -> Any:
        shares = [Share(person_id=self.people.get(name, 0), visits=ids) for name, ids in people.items()]
        return give(desk or self.desk, self.list.id, GiveIn(shares=shares, version=self.told().version))

    def try_at(self, visit: VisitLine, outcome: str, at: datetime = YESTERDAY, **more: Any) -> Any:
        return add_attempt(self.desk, visit.id, AttemptIn(outcome=outcome, at=at, **more))

    def device(self) -> CarriedVisits:
        with self.study.store.reading() as session:
            device = session.get_one(Device, self.study.device_id)
            return visits_for(session, self.desk.sets.registers, device)

    def tell(self, visit: str, outcome: str, identity: str = "", **more: Any) -> bool:
        told = AttemptTold.model_validate({"visit": visit, "outcome": outcome, "at": YESTERDAY, **more})
        with self.study.store.session() as session:
            device = session.get_one(Device, self.study.device_id)
            return take_attempt(session, device, identity or str(uuid4()), told)


@pytest.fixture
def field(desk: Desk, study: SmallStudy) -> Field:
    return Field(desk, study)


def supervisor(field: Field, *teams: str) -> Desk:
    return desk_of(field.study.store, "supervisor").__class__(
        **{**vars(desk_of(field.study.store, "supervisor")), "teams": frozenset(field.teams[name] for name in teams)}
    )


# --- lists


def test_a_list_visits_who_was_drawn_and_says_what_they_lie_in(field: Field) -> None:
    assert (field.list.total, field.list.not_given, field.list.open, field.list.reserves) == (9, 9, 9, 3)
    assert [(one.name, one.visits) for one in field.list.areas] == [("Ward LM", 3), ("Ward LN", 3), ("Ward LS", 3)]
    first = field.visits()[0]
    assert first.area == "Ward LM" and first.key.startswith("LM-") and first.label.startswith("Shop")
    assert first.standing == "open" and first.has_place and first.person == ""
    assert [line.name for line in list_lists(field.desk, field.study.study_id)] == ["Round 1"]


def test_a_list_of_the_register_visits_all_that_the_sentence_and_the_rule_leave(field: Field) -> None:
    frame = RegisterFrame(kind=field.plan.shop.id, rule='name is "Shop 2"')
    assert field.make("Twos", units=frame).total == 3
    with pytest.raises(Refused, match="choose one of them"):
        field.make("None")
    with pytest.raises(Refused, match="already"):
        field.make("Twos ", units=frame)
    with pytest.raises(Refused, match="no such questionnaire"):
        make_list(
            field.desk,
            field.study.study_id,
            VisitListIn(name="x", questionnaire_id=field.plan.shop.questionnaire_id, units=frame),
        )


def test_a_list_of_keys_names_those_that_are_not_there(field: Field) -> None:
    keys = [" LM-02", "LM-02", "LS-04", ""]
    assert field.make("Two", named=UnitsByKey(kind=field.plan.shop.id, keys=keys)).total == 2
    with pytest.raises(Refused, match=r"\(2\): LM-99, LM$"):
        field.make("Three", named=UnitsByKey(kind=field.plan.shop.id, keys=[*keys, "LM-99", "LM"]))


def test_a_list_is_removed_only_while_nobody_has_gone_out(field: Field) -> None:
    attempt = field.try_at(field.visits()[0], "locked").attempts[0]
    with pytest.raises(Refused, match="close it instead"):
        remove_list(field.desk, field.list.id)
    take_back(field.desk, attempt.id, TakenBack())
    with pytest.raises(Refused, match="close it instead"):
        remove_list(field.desk, field.list.id)
    (sample,) = list_samples(field.desk, field.study.study_id)
    with pytest.raises(Refused, match="visits of “Round 1” go to this sample"):
        remove_sample(field.desk, sample.id)
    other = field.make("Twos", units=RegisterFrame(kind=field.plan.shop.id))
    remove_list(field.desk, other.id)
    assert [line.name for line in list_lists(field.desk, field.study.study_id)] == ["Round 1"]


def test_a_closed_list_is_on_no_phone_until_it_is_opened_again(field: Field) -> None:
    field.give(Ilse=[visit.id for visit in field.visits()])
    assert len(field.device().visits) == 9
    now = field.told()
    closed = VisitListChange(name="Round 1", rules=now.rules, closed=True, version=now.version)
    now = change_list(field.desk, field.list.id, closed)
    assert now.closed and field.device().visits == [] and mark_of_visits(field.device()) == ""
    with pytest.raises(Refused, match="Somebody else"):
        change_list(field.desk, field.list.id, closed)
    change_list(field.desk, field.list.id, closed.model_copy(update={"closed": False, "version": now.version}))
    assert len(field.device().visits) == 9


# --- giving


def test_what_is_proposed_is_given_and_given_back(field: Field) -> None:
    ilse, mira, otto = field.people.values()
    wanted = SharesWanted(which=Which(), people=[ilse, mira, otto], how="by area")
    proposal = propose(field.desk, field.list.id, wanted)
    assert sorted(len(share.visits) for share in proposal.shares) == [3, 3, 3] and proposal.over == 0
    done = give(field.desk, field.list.id, GiveIn(shares=proposal.shares, version=field.list.version))
    assert done.given == 9 and Counter(line.person for line in field.visits()) == {"Ilse": 3, "Mira": 3, "Otto": 3}
    for area in ("Ward LM", "Ward LN", "Ward LS"):
        assert len({line.person for line in field.visits(area=area)}) == 1
    again = give(field.desk, field.list.id, GiveIn(shares=done.before, version=done.version))
    assert again.given == 9 and field.told().not_given == 9


def test_somebody_leaves_and_what_they_had_open_is_shared_out_evenly(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[line.id for line in lines[:7]], Mira=[line.id for line in lines[7:]])
    field.try_at(lines[0], "completed")
    field.try_at(lines[1], "locked")
    assert [(one.name, one.open, one.done) for one in field.told().people] == [
        ("Ilse", 6, 1),
        ("Mira", 2, 0),
        ("Otto", 0, 0),
    ]
    ilse, mira, otto = field.people.values()
    proposal = propose(
        field.desk, field.list.id, SharesWanted(which=Which(person_id=ilse), people=[mira, otto], how="evenly")
    )
    # Six are open with Ilse; Mira has two already.
    assert {share.person_id: len(share.visits) for share in proposal.shares} == {mira: 2, otto: 4}
    assert lines[0].id not in {visit for share in proposal.shares for visit in share.visits}


def test_the_nearest_gets_no_more_than_is_said(field: Field) -> None:
    ilse, _, otto = field.people.values()
    with pytest.raises(Refused, match="nobody is near"):
        propose(field.desk, field.list.id, SharesWanted(which=Which(), people=[ilse], how="nearest"))
    north, south = field.visits(area="Ward LM"), field.visits(area="Ward LS")
    field.give(Ilse=[north[0].id], Otto=[south[0].id])
    wanted = SharesWanted(which=Which(person_id=0), people=[ilse, otto], how="nearest")
    shares = {s.person_id: set(s.visits) for s in propose(field.desk, field.list.id, wanted).shares}
    assert {line.id for line in north[1:]} <= shares[ilse] and {line.id for line in south[1:]} <= shares[otto]
    few = propose(field.desk, field.list.id, wanted.model_copy(update={"most": 3}))
    assert {s.person_id: len(s.visits) for s in few.shares} == {ilse: 2, otto: 2} and few.over == 3


def test_two_who_give_at_once_are_told_of_each_other_and_nobody_is_sent_who_has_left(field: Field) -> None:
    lines = field.visits()
    stale = field.told().version
    field.give(Ilse=[lines[0].id])
    with pytest.raises(Refused, match="Somebody else"):
        give(
            field.desk,
            field.list.id,
            GiveIn(shares=[Share(person_id=field.people["Mira"], visits=[lines[0].id])], version=stale),
        )
    with field.study.store.session() as session:
        session.scalars(select(Membership).where(Membership.name == "Otto")).one().left_at = datetime.now(UTC)
    with pytest.raises(Refused, match="has left"):
        field.give(Otto=[lines[1].id])
    assert field.visits(person_id=field.people["Ilse"])[0].id == lines[0].id


def test_a_supervisor_sees_and_gives_what_their_team_has(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[lines[0].id], Otto=[lines[1].id])
    north = supervisor(field, "North")
    assert [line.id for line in field.visits(north)] == [lines[0].id]
    assert show_list(north, field.list.id).total == 1
    assert {goer.name for goer in show_list(north, field.list.id).people} == {"Ilse", "Mira"}
    with pytest.raises(Refused, match="not of the teams"):
        show_visit(north, lines[1].id)
    with pytest.raises(Refused, match="not in your teams"):
        field.give(north, Otto=[lines[0].id])
    # What another team has stays where it is.
    assert field.give(north, Mira=[lines[0].id, lines[1].id]).given == 1
    for whole in (
        lambda: take_reserves(north, field.list.id, ReservesIn(instead_of=[lines[0].id], version=1)),
        lambda: remove_list(north, field.list.id),
    ):
        with pytest.raises(Refused, match="whole study"):
            whole()


# --- attempts


def test_attempts_lead_to_where_a_visit_stands(field: Field) -> None:
    line = field.visits()[0]
    field.give(Ilse=[line.id])
    tried = field.try_at(line, "locked", YESTERDAY - timedelta(days=3))
    assert (tried.standing, tried.outcome, tried.tried) == ("open", "locked", 1)
    tried = field.try_at(line, "refused", YESTERDAY - timedelta(days=2))
    # Dora entered it for Ilse, who was refused: somebody else goes.
    assert (tried.standing, tried.outcome, tried.attempts[0].by) == ("to pass on", "refused", "Ilse")
    when = datetime.now(UTC) + timedelta(days=2)
    tried = field.try_at(line, "appointment", YESTERDAY - timedelta(days=1), appointment=when)
    assert (tried.standing, tried.appointment, tried.outcome) == ("open", when, "refused")
    tried = field.try_at(line, "completed")
    assert (tried.standing, tried.outcome, tried.tried, tried.appointment) == ("ended", "completed", 4, None)
    assert [attempt.outcome for attempt in tried.attempts] == ["completed", "appointment", "refused", "locked"]
    back = take_back(field.desk, tried.attempts[0].id, TakenBack(why="Another workshop"))
    assert (back.standing, back.outcome, back.tried) == ("open", "refused", 3)
    assert back.attempts[0].taken_back.why == "Another workshop" and back.attempts[0].taken_back.by == "Dora Maine"


@pytest.mark.parametrize(
    ("outcome", "more", "told"),
    [
        ("asleep", {}, "no outcome “asleep”"),
        ("locked", {"at": datetime.now(UTC) + timedelta(hours=1)}, "in the future"),
        ("appointment", {}, "Say when"),
        ("appointment", {"appointment": YESTERDAY - timedelta(hours=1)}, "before the attempt"),
    ],
)
def test_an_attempt_that_cannot_be_is_refused(field: Field, outcome: str, more: dict[str, Any], told: str) -> None:
    line = field.visits()[0]
    with pytest.raises(Refused, match=told):
        field.try_at(line, outcome, **more)
    assert show_visit(field.desk, line.id).attempts == []


def test_rules_and_outcomes_that_change_are_reckoned_again(field: Field) -> None:
    line = field.visits()[0]
    for days in (4, 3):
        field.try_at(line, "locked", YESTERDAY - timedelta(days=days))
    now = field.told()
    change_list(
        field.desk, field.list.id, VisitListChange(name="Round 1", rules=AttemptRules(most=2), version=now.version)
    )
    assert show_visit(field.desk, line.id).standing == "tried enough"
    told = show_outcomes(field.desk, field.study.study_id)
    assert told.used == ["locked"] and [one.code for one in told.outcomes] == [one.code for one in FIRST_OUTCOMES]
    gone = [one for one in told.outcomes if one.code != "locked"]
    with pytest.raises(Refused, match="cannot be taken away"):
        change_outcomes(field.desk, field.study.study_id, OutcomesIn(outcomes=gone, version=told.version))
    ends = Outcome(code="locked", label={"en": "Shut"}, counts_as="not eligible", ends=True)
    change_outcomes(field.desk, field.study.study_id, OutcomesIn(outcomes=[*gone, ends], version=told.version))
    assert show_visit(field.desk, line.id).standing == "ended"


def test_reserves_stand_in_for_what_was_lost_in_their_own_stratum(field: Field) -> None:
    lost, still_open = field.visits(area="Ward LN")[:2]
    version = field.told().version
    with pytest.raises(Refused, match="still open"):
        take_reserves(field.desk, field.list.id, ReservesIn(instead_of=[still_open.id], version=version))
    field.try_at(lost, "gone")
    now = take_reserves(field.desk, field.list.id, ReservesIn(instead_of=[lost.id], version=version))
    assert (now.total, now.reserves) == (10, 2)
    (reserve,) = [line for line in field.visits() if line.reserve]
    assert reserve.area == "Ward LN"
    field.try_at(reserve, "gone")
    with pytest.raises(Refused, match="0 reserves left"):
        take_reserves(field.desk, field.list.id, ReservesIn(instead_of=[reserve.id], version=now.version))


# --- on phones


def test_a_phone_holds_its_persons_visits_and_tells_attempts_once(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[lines[0].id, lines[1].id], Mira=[lines[2].id])
    carried = field.device()
    assert [visit.key for visit in carried.visits] == [lines[0].key, lines[1].key]
    assert carried.visits[0].place is not None and len(carried.outcomes) == len(FIRST_OUTCOMES)
    before, identity = mark_of_visits(carried), str(uuid4())
    first = carried.visits[0].visit
    assert field.tell(first, "refused", identity, remark=" Come never ", latitude=0.0, longitude=0.5, accuracy=12)
    assert not field.tell(first, "refused", identity)
    after = field.device()
    assert mark_of_visits(after) != before
    assert [(a.outcome, a.by, a.own, a.remark) for a in after.visits[0].attempts] == [
        ("refused", "Ilse Varn", True, "Come never")
    ]
    told = show_visit(field.desk, lines[0].id)
    assert (told.standing, told.outcome, told.attempts[0].from_phone) == ("to pass on", "refused", True)
    assert told.attempts[0].metres_off is not None and told.attempts[0].metres_off > 50_000
    # Passed on to Mira, it is open again, and off Ilse's phone.
    field.give(Mira=[lines[0].id])
    assert show_visit(field.desk, lines[0].id).standing == "open" and len(field.device().visits) == 1


def test_a_clock_that_is_off_is_set_right_and_nothing_lies_in_the_future(field: Field) -> None:
    line = field.visits()[0]
    field.give(Ilse=[line.id])
    visit = field.device().visits[0].visit
    at = datetime.now(UTC) + timedelta(days=40)
    field.tell(visit, "locked", at=at, clock_ahead_seconds=41 * 86_400)
    field.tell(visit, "locked", at=at)
    field.tell(visit, "locked", at=datetime.max.replace(tzinfo=UTC), clock_ahead_seconds=-300_000_000)
    moments = [attempt.at for attempt in show_visit(field.desk, line.id).attempts]
    assert all(moment <= datetime.now(UTC) for moment in moments)
    assert abs(moments[-1] - (at - timedelta(days=41))) < timedelta(seconds=1)


def test_an_interview_ends_its_visit_also_where_no_attempt_is_told_and_what_the_phone_tells_counts(
    field: Field,
) -> None:
    line, other = field.visits()[:2]
    field.give(Ilse=[line.id, other.id])
    first, second = field.device().visits
    document = field.study.document(visit=first.visit)
    field.study.arrive(document)
    field.study.arrive(document)
    told = show_visit(field.desk, line.id)
    assert (told.standing, told.outcome, told.tried, told.attempts[0].interview) == ("ended", "completed", 1, "0001")
    assert told.attempts[0].from_phone
    # Its phone comes home later, and says it was a refusal in the end.
    assert field.tell(first.visit, "refused", document["uuid"], interview=document["uuid"])
    assert not field.tell(first.visit, "locked", document["uuid"], interview=document["uuid"])
    told = show_visit(field.desk, line.id)
    assert (told.standing, told.outcome, told.tried) == ("to pass on", "refused", 1)
    # What the phone told first is not undone by the interview.
    broken_off = field.study.document(visit=second.visit, unfinished="Had to go")
    field.tell(second.visit, "completed", broken_off["uuid"], interview=broken_off["uuid"])
    field.study.arrive(broken_off)
    assert [one.outcome for one in show_visit(field.desk, other.id).attempts] == ["completed"]
    practised = field.study.document(visit=second.visit, practice=True)
    field.study.arrive(practised)
    assert show_visit(field.desk, other.id).tried == 1


def test_an_attempt_at_a_visit_that_is_gone_is_told_and_not_lost(field: Field) -> None:
    assert field.tell("0" * 32, "locked", remark="Shutters down")
    with field.study.store.reading() as session:
        event = session.scalars(select(Event).where(Event.kind == "attempt without visit")).one()
        assert event.detail["remark"] == "Shutters down" and event.by == "Ilse Varn"
        assert session.scalars(select(VisitAttempt)).all() == []


ASKING = script(
    part(1, "yes/no", "consent"),
    part(1, "single answer", "condition", code_list="condition", default="earlier.condition"),
    part(1, "whole number", "workers", should=["workers >= earlier.workers"]),
    part(1, "derived value", "condition_before", derived="unit.condition"),
    part(1, "derived value", "plate", derived="unit.id"),
    lists=(code_list("condition", "good", "poor"),),
)


def test_a_phone_knows_of_a_unit_and_of_the_earlier_round_what_rules_ask_and_nothing_else(field: Field) -> None:
    study = field.study
    identity, digest = release_in(study.store, study.questionnaire_id, ASKING, 2)
    line = field.visits()[0]
    field.give(Ilse=[line.id])
    carried = field.device().visits[0]
    unit = carried.known.unit
    assert unit is not None and carried.known.earlier == {}
    assert carried.known.units == {
        unit: {
            "id": line.key,
            "label": line.label,
            "kind": "workshop",
            "register": "workshop",
            "condition": "good",
        }
    }
    answers = {"consent": True, "condition": "poor", "workers": 4}
    document = study.document(
        release=identity, release_hash=digest, answers=answers, visit=carried.visit, known=carried.known.model_dump()
    )
    study.arrive(document)
    with study.store.reading() as session:
        interview = session.scalars(select(Interview)).one()
        visit = session.scalars(select(Visit).where(Visit.identity == carried.visit)).one()
        assert (interview.visit_id, interview.unit_id, interview.problem) == (visit.id, visit.unit_id, "")
        (row,) = interview.laid_out[next(iter(interview.laid_out))]
        assert (row["values"]["id_condition_before"], row["values"]["id_plate"]) == ("good", line.key)
    # The next visit to the same unit knows what was answered; this one, which it was answered on, does not.
    assert field.device().visits[0].known.earlier == {}
    again = field.make("Round 2", named=UnitsByKey(kind=field.plan.shop.id, keys=[line.key]))
    (next_line,) = list_visits(field.desk, again.id, VisitsQuery()).lines
    share = Share(person_id=field.people["Ilse"], visits=[next_line.id])
    give(field.desk, again.id, GiveIn(shares=[share], version=again.version))
    (later,) = [visit for visit in field.device().visits if visit.list_id == again.id]
    assert later.known.earlier == {"condition": "poor", "workers": 4}
    assert show_visit(field.desk, line.id).interviews == [interview.id]


def test_an_interview_that_names_another_studys_visit_or_a_strange_unit_counts_all_the_same(field: Field) -> None:
    strange = {
        "unit": "no such",
        "units": {"no such": {"condition": ["not", {"a": "text"}], "label": 7}},
        "earlier": {"nowhere/1/x": {"a": []}},
    }
    identity, digest = release_in(field.study.store, field.study.questionnaire_id, ASKING, 2)
    field.study.arrive(field.study.document(release=identity, release_hash=digest, visit="f" * 32, known=strange))
    found = field.study.interview()
    assert (found.problem, found.visit_id, found.unit_id) == ("", None, None)


def test_what_a_questionnaire_tells_of_a_sensitive_field_of_a_unit_is_sensitive(field: Field) -> None:
    study = field.study
    identity, digest = release_in(study.store, study.questionnaire_id, ASKING, 2)
    field.give(Ilse=[field.visits()[0].id])
    carried = field.device().visits[0]
    study.arrive(
        study.document(
            release=identity, release_hash=digest, answers={"consent": True}, visit=carried.visit,
            known=carried.known.model_dump(),
        )
    )  # fmt: skip
    analyst = desk_of(study.store, "analyst")

    def told() -> list[str]:
        answers = {line.variable: line.answer for line in show_interview(analyst, study.interview().id).answers}
        return [answers["condition_before"], answers["plate"]]

    before = told()
    assert MASK not in before and before[0] != ""
    draft = show_draft(field.desk, field.plan.shop.questionnaire_id)
    parts = [one.model_copy(update={"sensitive": one.variable == "condition"}) for one in draft.script.parts]
    save_script(field.desk, draft.id, draft.script.model_copy(update={"parts": parts}), draft.version)
    assert told() == [MASK, before[1]]


def test_a_unit_that_is_renamed_is_called_so_everywhere(field: Field) -> None:
    line = field.visits()[0]
    field.give(Ilse=[line.id])
    assert line.unit_id is not None
    before = mark_of_visits(field.device())
    change_unit(field.desk, line.unit_id, UnitChange(changes={"workshop_name": [line.label, "The Lantern"]}))
    assert field.visits()[0].label == "The Lantern" == field.device().visits[0].label
    assert mark_of_visits(field.device()) != before


# --- rates


def test_rates_by_area_and_person_add_up_to_the_list(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[line.id for line in lines[:5]], Otto=[line.id for line in lines[5:]])
    for line, outcome in zip(lines, ["completed"] * 4 + ["refused", "gone", "locked"], strict=False):
        field.try_at(line, outcome)
    told = show_rates(field.desk, field.list.id, RatesQuery(by="person"))
    assert (told.whole.visits, told.whole.interview, told.whole.unseen) == (9, 4, 2)
    # RR1: 4 of 8 who may be eligible; e of RR3: 6 of 7 judged.
    assert told.whole.response[0] == 0.5 and told.eligible_share == pytest.approx(6 / 7)
    by_name = {line.name: line for line in told.lines}
    assert by_name["Ilse"].interview == 4 and by_name["Otto"].visits == 4
    for by in ("team", "area", "list"):
        split = show_rates(field.desk, field.list.id, RatesQuery(by=by)).lines
        assert sum(line.visits for line in split) == 9 and sum(line.interview for line in split) == 4
    assert sum(sum(day.outcomes.values()) for day in told.days) == 7
    now = field.told()
    assert (now.interviews, now.ended, now.forecast.left) == (4, 5, 4)


def test_the_file_has_every_unit_with_its_final_outcome_and_how_it_was_drawn(field: Field) -> None:
    lines = field.visits()
    field.try_at(lines[0], "gone")
    field.give(Ilse=[lines[1].id])
    field.study.arrive(field.study.document(visit=field.device().visits[0].visit))
    name, content = file_of_list(field.desk, field.list.id)
    rows = list(csv.DictReader(io.StringIO(content.decode("utf-8-sig"))))
    assert name == "Round 1.csv" and len(rows) == 9
    assert (rows[0]["unit"], rows[0]["outcome"], rows[0]["counts_as"]) == (lines[0].key, "gone", "not eligible")
    assert [row["counts_as"] for row in rows[1:]] == ["interview", *["unseen"] * 7]
    assert [row["interviews"] for row in rows[:3]] == ["", "0001", ""]
    assert sum(float(row["weight"]) for row in rows) == pytest.approx(18)


def test_where_visits_lie_is_told_with_what_became_of_them(field: Field) -> None:
    points = list_points(field.desk, field.list.id, Which(area="Ward LS"))
    assert len(points.ids) == 3 and points.without == 0 and all(19 < latitude < 21 for latitude in points.latitudes)


# --- elsewhere


def test_what_waits_of_visits_stands_in_the_logbook_and_at_the_unit(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[line.id for line in lines[:3]], Otto=[line.id for line in lines[3:6]])
    field.tell(field.device().visits[0].visit, "refused")
    kinds = {matter.kind: matter.count for matter in show_logbook(field.desk, field.study.study_id).matters}
    assert (kinds["visits_to_pass_on"], kinds["visits_of_nobody"]) == (1, 3)
    with field.study.store.session() as session:
        session.scalars(select(Membership).where(Membership.name == "Otto")).one().left_at = datetime.now(UTC)
    assert {m.kind: m.count for m in show_logbook(field.desk, field.study.study_id).matters}["visits_of_nobody"] == 6
    # The team of those who stay has nothing that nobody goes to.
    north = {m.kind: m.count for m in show_logbook(supervisor(field, "North"), field.study.study_id).matters}
    assert (north["visits_to_pass_on"], north.get("visits_of_nobody")) == (1, None)
    stations = show_stations(field.desk, field.study.study_id).stations
    assert (stations["plan"].state, stations["plan"].waiting) == ("waiting", 7)


def test_a_unit_and_an_interview_tell_of_the_visit_between_them(field: Field) -> None:
    line = field.visits()[0]
    field.give(Ilse=[line.id])
    carried = field.device().visits[0]
    assert carried.place is not None and line.unit_id is not None
    document = field.study.document(visit=carried.visit, known=carried.known.model_dump())
    field.study.arrive(document)
    north, east = carried.place
    field.tell(carried.visit, "completed", interview=document["uuid"], latitude=north + 0.01, longitude=east)
    interview = show_interview(field.desk, field.study.interview().id)
    assert interview.visit is not None and interview.visit.id == line.id
    assert interview.visit.metres_off == pytest.approx(1106, abs=3)
    unit = show_unit(field.desk, line.unit_id)
    assert [(one.list, one.person, one.outcome_label) for one in unit.visits] == [("Round 1", "Ilse", "Completed")]
    assert [one.key for one in unit.interviews] == ["0001"]
    # Of another team's work nothing is told.
    south = supervisor(field, "South")
    with pytest.raises(Refused):
        show_unit(south, line.unit_id)
    share_branch(field.desk, field.study.study_id, SharedWith(unit_id=line.unit_id, teams=[field.teams["South"]]))
    told = show_unit(south, line.unit_id)
    assert (told.visits, told.interviews) == ([], [])
