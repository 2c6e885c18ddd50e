"""Units on phones: what goes onto whose, and changes that come back: merged by field, waiting where somebody has to decide."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

import pytest
from sqlalchemy import select

from skavo.core.errors import DataError
from skavo.services.branch_carried import CarriedUnits, UnitsHeld, mark_of_units, units_for
from skavo.services.branch_shares import SharedWith, list_shares, share_branch
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.refusals import Refused
from skavo.services.registers import KindChange, UnitKindOut, change_kind, list_kinds
from skavo.services.unit_changes import CloseIn, MoveIn, UnitChange, close_unit, move_unit
from skavo.services.unit_changes import change_unit as change_at_desk
from skavo.services.unit_doubts import DecideIn, DoubtOut, decide, list_doubts
from skavo.services.units import UnitOut, show_unit
from skavo.store.handin import Source, read_arrival
from skavo.store.models import Device, Interview, Membership, Person, Release, Study, Team, Unit, UnitKind
from skavo.store.models import UnitChange as Kept
from skavo.store.sensitive import MASK
from tests.services.conftest import desk_of
from tests.services.plan import Plan
from tests.store.study import SmallStudy


class Ground:
    """A ward with two workshops and their tools, carried by Ilse's phone and changed there."""

    def __init__(self, desk: Desk, study: SmallStudy) -> None:
        self.desk, self.study, self.plan = desk, study, Plan(desk, study.study_id)
        for kind in (self.plan.ward, self.plan.shop, self.plan.tool):
            self.set(kind, on_phones="read" if kind is self.plan.ward else "change")
        self.ward = self.plan.make(self.plan.ward, "LM")
        self.shop = self.plan.make(self.plan.shop, "LM-1", self.ward, name="Tern", condition="good")
        self.other = self.plan.make(self.plan.shop, "LM-2", self.ward, name="Gull")
        self.lathe = self.plan.make(self.plan.tool, "L1", self.shop)
        self.elsewhere = self.plan.make(self.plan.ward, "LN")
        with study.store.session() as session:
            self.team = Team(study_id=study.study_id, name="North")
            session.add_all([self.team, ilse := Person(name="Ilse Varn"), otto := Person(name="Otto")])
            session.flush()
            self.team_id, self.ilse, self.otto = self.team.id, ilse.id, otto.id
            for person, team in ((ilse, self.team.id), (otto, None)):
                member = Membership(
                    study_id=study.study_id, person_id=person.id, name=person.name, roles=["enumerator"]
                )
                member.team_id = team
                session.add(member)
            session.get_one(Device, study.device_id).person_id = ilse.id
            others = Device(study_id=study.study_id, name="phone 02", enumerator="Otto", token_hash=uuid4().hex)
            others.person_id = otto.id
            session.add(others)
            session.flush()
            self.others = others.id

    def set(self, kind: UnitKindOut, **settings: Any) -> None:
        now = next(one for one in list_kinds(self.desk, self.study.study_id) if one.id == kind.id)
        wanted = now.settings.model_copy(update=settings)
        change_kind(self.desk, kind.id, KindChange(settings=wanted, version=now.version))

    def hide(self, name: str) -> str:
        """Make a field of workshops sensitive."""
        draft = show_draft(self.desk, self.plan.shop.questionnaire_id)
        parts = [one.model_copy(update={"sensitive": one.variable == name}) for one in draft.script.parts]
        save_script(self.desk, draft.id, draft.script.model_copy(update={"parts": parts}), draft.version)
        return f"workshop_{name}"

    def share(self, unit: UnitOut | None = None, **whom: Any) -> None:
        share_branch(self.desk, self.study.study_id, SharedWith(unit_id=unit.id if unit else 0, **whom))

    def carried(self, held: CarriedUnits | None = None, device_id: int | None = None) -> CarriedUnits:
        pieces = {} if held is None else {piece.name: piece.mark for piece in held.pieces}
        with self.study.store.reading() as session:
            device = session.get_one(Device, device_id or self.study.device_id)
            found = units_for(session, self.desk.sets.registers, device, UnitsHeld(pieces=pieces))
            assert found.mark == mark_of_units(session, self.desk.sets.registers, device)
            return found

    def under(self, device_id: int | None = None) -> dict[str, str]:
        """The keys of what is carried, each with that of what it lies under."""
        units = {u.unit: u for piece in self.carried(device_id=device_id).pieces for u in piece.units}
        return {unit.key: units[unit.above].key if unit.above else "" for unit in units.values()}

    def identity(self, unit: UnitOut) -> str:
        with self.study.store.reading() as session:
            return session.get_one(Unit, unit.id).identity

    def change(self, kind: UnitKindOut, before: dict[str, Any], after: dict[str, Any], **told: Any) -> dict[str, Any]:
        """The document of a change; `before` and `after` by the name of the field."""
        with self.study.store.reading() as session:
            mine = select(Release).where(Release.questionnaire_id == kind.questionnaire_id)
            release = session.scalars(mine.order_by(Release.number.desc())).first()
            assert release is not None
            named = {"release": release.identity, "release_hash": release.hash}
        about = {"before": {f"{kind.name}_{name}": value for name, value in before.items()}, **told}
        return {**self.study.document(answers=after), **named, "about": about}

    def hand_in(self, *args: Any, device_id: int | None = None, **told: Any) -> Kept:
        document = self.change(*args, **told)
        self.study.arrive(document, device_id=device_id)
        return self.kept(document["uuid"])

    def kept(self, uuid: str) -> Kept:
        with self.study.store.reading() as session:
            return session.scalars(select(Kept).where(Kept.uuid == uuid)).one()

    def held(self, unit: UnitOut) -> dict[str, Any]:
        with self.study.store.reading() as session:
            answers = session.get_one(Unit, unit.id).answers
        return {part_id.split("_", 1)[1]: value for part_id, value in answers.items()}

    def doubts(self, desk: Desk | None = None) -> list[DoubtOut]:
        return list_doubts(desk or self.desk, self.study.study_id).lines

    def at_desk(self, unit: UnitOut, field: str, before: Any, after: Any) -> None:
        change_at_desk(self.desk, unit.id, UnitChange(changes={f"workshop_{field}": [before, after]}))


@pytest.fixture
def ground(desk: Desk, study: SmallStudy) -> Ground:
    return Ground(desk, study)


def test_a_phone_carries_the_branches_that_were_given_to_it(ground: Ground) -> None:
    assert ground.under() == {}
    assert ground.carried().mark == ""
    ground.share(ground.shop, people=[ground.ilse])
    assert ground.under() == {"LM-1": "", "L1": "LM-1"}
    ground.share(ground.ward, teams=[ground.team_id])
    assert ground.under() == {"LM": "", "LM-1": "LM", "LM-2": "LM", "L1": "LM-1"}
    assert ground.under(ground.others) == {}
    ground.share(None, all=True)
    assert ground.under(ground.others).keys() == {"LM", "LM-1", "LM-2", "L1", "LN"}
    assert [(one.unit_id, one.label, one.team_id) for one in list_shares(ground.desk, ground.study.study_id).shares] == [
        (ground.shop.id, "Tern", 0), (ground.ward.id, "LM", ground.team_id), (0, "", 0),
    ]  # fmt: skip
    ground.share(None)
    assert ground.under(ground.others) == {}


def test_a_kind_that_stays_at_the_office_leaves_no_gap_in_the_tree(ground: Ground) -> None:
    ground.share(None, all=True)
    ground.set(ground.plan.shop, on_phones="no")
    assert ground.under() == {"LM": "", "L1": "LM", "LN": ""}


def test_only_the_pieces_that_changed_are_told_again(ground: Ground) -> None:
    ground.share(None, all=True)
    held = ground.carried()
    again = ground.carried(held)
    assert (again.pieces, again.gone, again.mark) == ([], [], held.mark)
    ground.at_desk(ground.shop, "condition", "good", "poor")
    (piece,) = ground.carried(held).pieces
    assert piece.name == ground.identity(ground.shop)[:2]
    assert ground.carried(held).mark != held.mark
    close_unit(ground.desk, ground.elsewhere.id, CloseIn(why="gone"))
    assert ground.identity(ground.elsewhere)[:2] in ground.carried(held).gone
    # What lies under something that was moved has moved as well.
    ground.share(None)
    ground.share(ground.ward, all=True)
    held = ground.carried()
    move_unit(ground.desk, ground.shop.id, MoveIn(above=ground.plan.make(ground.plan.ward, "LX").id))
    assert {ground.identity(ground.shop)[:2], ground.identity(ground.lathe)[:2]} <= {
        *ground.carried(held).gone, *(piece.name for piece in ground.carried(held).pieces),
    }  # fmt: skip


def test_sensitive_fields_stay_at_the_office_unless_the_kind_lets_them_go(ground: Ground) -> None:
    ground.share(None, all=True)
    field = ground.hide("name")

    def told() -> dict[str, Any]:
        units = [unit for piece in ground.carried().pieces for unit in piece.units if unit.key == "LM-1"]
        return units[0].answers

    assert told() == {"workshop_condition": "good"}
    ground.set(ground.plan.shop, sensitive_on_phones=True)
    assert told()[field] == "Tern"


def test_a_change_goes_in_with_its_trace_and_arrives_once(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    identity = ground.identity(ground.shop)
    before = {"name": "Tern", "condition": "good"}
    document = ground.change(ground.plan.shop, before, {"name": "Tern", "condition": "poor"}, identity=identity)
    first = ground.study.arrive(document)
    assert (first.outcome, first.number, ground.study.arrive(document).outcome) == ("arrived", 1, "known")
    assert ground.held(ground.shop)["condition"] == "poor"
    newest = show_unit(ground.desk, ground.shop.id).history[0]
    assert (newest.by, newest.origin, newest.detail["change"]) == ("Ilse Varn", "phone", 1)
    assert [(line.before, line.after) for line in newest.changes] == [("Good", "Poor")]
    assert ground.kept(document["uuid"]).raw == json.dumps(document).encode()
    with ground.study.store.reading() as session:
        assert session.scalars(select(Interview)).all() == []


def test_two_people_who_change_different_fields_both_win(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    ground.at_desk(ground.shop, "condition", "good", "fair")
    before = {"name": "Tern", "condition": "good"}
    kept = ground.hand_in(
        ground.plan.shop, before, {"name": "Old Tern", "condition": "good"}, identity=ground.identity(ground.shop)
    )
    assert kept.standing == "taken"
    assert (ground.held(ground.shop)["name"], ground.held(ground.shop)["condition"]) == ("Old Tern", "fair")


def test_the_same_field_changed_twice_is_for_somebody_to_decide(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    ground.at_desk(ground.shop, "condition", "good", "fair")
    before = {"name": "Tern", "condition": "good"}
    after = {"name": "Old Tern", "condition": "poor"}
    kept = ground.hand_in(ground.plan.shop, before, after, identity=ground.identity(ground.shop))
    assert (kept.standing, kept.why) == ("waits", "fields")
    assert (ground.held(ground.shop)["name"], ground.held(ground.shop)["condition"]) == ("Old Tern", "fair")
    (doubt,) = ground.doubts()
    (line,) = doubt.lines
    assert (line.before, line.present, line.present_by, line.wanted) == ("Good", "Fair", "Dora Maine", "Poor")
    assert decide(ground.desk, doubt.id, DecideIn(take=[line.part_id])).lines == []
    assert ground.held(ground.shop)["condition"] == "poor"
    newest = show_unit(ground.desk, ground.shop.id).history[0]
    assert (newest.by, newest.detail["of"]) == ("Dora Maine", "Ilse Varn")
    with pytest.raises(Refused, match="decided"):
        decide(ground.desk, doubt.id, DecideIn())


def test_what_stays_as_it_is_stays(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    ground.at_desk(ground.shop, "condition", "good", "fair")
    ground.hand_in(
        ground.plan.shop, {"condition": "good"}, {"condition": "poor"}, identity=ground.identity(ground.shop)
    )
    decide(ground.desk, ground.doubts()[0].id, DecideIn())
    assert ground.held(ground.shop)["condition"] == "fair"
    assert ground.doubts() == []


def test_a_field_that_was_emptied_is_emptied_and_one_that_did_not_travel_is_not(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    ground.hand_in(ground.plan.shop, {"name": "Tern"}, {}, identity=ground.identity(ground.shop))
    assert ground.held(ground.shop) == {"condition": "good"}


def test_what_a_field_cannot_hold_waits_and_cannot_be_taken(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    kept = ground.hand_in(
        ground.plan.shop, {"name": "Tern", "condition": "good"}, {"name": "Tern", "condition": ["no", "code"]},
        identity=ground.identity(ground.shop),
    )  # fmt: skip
    assert (kept.standing, kept.why, ground.held(ground.shop)["condition"]) == ("waits", "wrong_value", "good")
    (line,) = ground.doubts()[0].lines
    assert line.wrong
    with pytest.raises(DataError):
        decide(ground.desk, kept.id, DecideIn(take=[line.part_id]))
    decide(ground.desk, kept.id, DecideIn())


def test_a_unit_made_on_a_phone_waits_for_what_it_lies_under(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    shop, tool = uuid4().hex, uuid4().hex
    late = ground.hand_in(ground.plan.tool, {}, {}, identity=tool, made=True, above=shop)
    later = ground.hand_in(ground.plan.tool, {}, {"condition": "poor"}, identity=tool)
    assert [(one.standing, one.why) for one in (late, later)] == [("waits", "above_unknown"), ("waits", "unit_unknown")]
    made = {"identity": shop, "made": True, "above": ground.identity(ground.ward)}
    assert ground.hand_in(ground.plan.shop, {}, {"name": "Plover"}, **made).standing == "taken"
    assert [ground.kept(one.uuid).standing for one in (late, later)] == ["taken", "taken"]
    assert ground.under()["LM-3-1"] == "LM-3"
    with ground.study.store.reading() as session:
        made_tool = session.scalars(select(Unit).where(Unit.identity == tool)).one()
        assert made_tool.answers == {"tool_condition": "poor"}


def test_a_key_that_is_taken_keeps_nobody_away(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    made = {"identity": uuid4().hex, "made": True, "above": ground.identity(ground.ward), "key": "LM-2"}
    kept = ground.hand_in(ground.plan.shop, {}, {"name": "Plover"}, **made)
    assert (kept.standing, kept.why) == ("waits", "key_taken")
    assert "LM-2 (2)" in ground.under()
    decide(ground.desk, kept.id, DecideIn())
    assert ground.doubts() == []


def test_a_key_that_looks_otherwise_is_told_and_the_unit_is_there(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    ground.set(ground.plan.shop, key_mask="AA-9")
    made = {"made": True, "above": ground.identity(ground.ward)}
    for key, why in (("LM-7", ""), ("seven", "wrong_key"), ("", "wrong_key")):
        kept = ground.hand_in(ground.plan.shop, {}, {"name": "Plover"}, identity=uuid4().hex, key=key, **made)
        assert (kept.why, kept.unit_id is not None) == (why, True)


def test_the_identity_of_another_studys_unit_is_nobodys_here(ground: Ground, desk: Desk) -> None:
    ground.share(None, all=True)
    with ground.study.store.session() as session:
        other = Study(title="Other")
        session.add(other)
        session.flush()
        kind = session.get_one(UnitKind, ground.plan.ward.id)
        elsewhere = Unit(study_id=other.id, kind_id=kind.id, key="X", identity="f" * 32)
        session.add(elsewhere)
    kept = ground.hand_in(ground.plan.shop, {}, {}, identity="f" * 32, made=True, above=ground.identity(ground.ward))
    assert (kept.why, kept.unit_id) == ("unit_unknown", None)


@pytest.mark.parametrize(
    ("told", "why"),
    [
        ({"made": True}, "cannot_hang_there"),
        ({"made": True, "above": "0" * 32}, "above_unknown"),
        ({}, "unit_unknown"),
    ],
)
def test_what_cannot_go_in_waits_with_the_reason(ground: Ground, told: dict[str, Any], why: str) -> None:
    ground.share(None, all=True)
    kept = ground.hand_in(ground.plan.shop, {}, {"name": "Plover"}, identity=uuid4().hex, **told)
    assert (kept.standing, kept.why) == ("waits", why)
    (doubt,) = ground.doubts()
    assert [(line.wording, line.after) for line in doubt.told] == [("Name", "Plover")]
    with pytest.raises(Refused):
        decide(ground.desk, kept.id, DecideIn())
    decide(ground.desk, kept.id, DecideIn(set_aside=True))
    assert ground.doubts() == []


def test_closing_on_a_phone_closes_the_branch(ground: Ground) -> None:
    ground.share(ground.ward, people=[ground.ilse])
    same = {"name": "Tern", "condition": "good"}
    ground.hand_in(ground.plan.shop, same, same, identity=ground.identity(ground.shop), closed="Burnt down")
    assert show_unit(ground.desk, ground.shop.id).closed_why == "Burnt down"
    assert show_unit(ground.desk, ground.lathe.id).closed_at is not None
    assert ground.under() == {"LM": "", "LM-2": "LM"}


def test_a_unit_that_a_phone_does_not_carry_is_not_changed_without_a_decision(ground: Ground) -> None:
    kept = ground.hand_in(
        ground.plan.shop, {"name": "Tern"}, {"name": "Mine now"}, identity=ground.identity(ground.shop)
    )
    assert (kept.standing, kept.why, ground.held(ground.shop)["name"]) == ("waits", "not_carried", "Tern")
    (doubt,) = ground.doubts()
    assert (doubt.label, [(line.before, line.after) for line in doubt.told]) == ("Tern", [("Tern", "Mine now")])
    decide(ground.desk, kept.id, DecideIn())
    assert ground.held(ground.shop)["name"] == "Mine now"


def test_a_kind_that_is_looked_at_only_is_not_changed(ground: Ground) -> None:
    ground.share(None, all=True)
    ward = {"identity": ground.identity(ground.ward)}
    assert ground.hand_in(ground.plan.ward, {}, {"name": "North"}, **ward).why == "not_on_phones"


def test_own_units_are_their_owners_and_the_desks(ground: Ground) -> None:
    ground.set(ground.plan.shop, own=True, stands_alone=True)
    mine = uuid4().hex
    kept = ground.hand_in(ground.plan.shop, {}, {"name": "My market"}, identity=mine, made=True)
    assert kept.standing == "taken"
    assert ground.under() == {"1": ""}
    ground.share(None, all=True)
    assert "1" not in ground.under(ground.others)
    assert "1" in ground.under()
    theirs = ground.hand_in(
        ground.plan.shop, {"name": "My market"}, {"name": "Theirs"}, identity=mine, device_id=ground.others
    )
    assert theirs.why == "not_carried"


def test_whoever_answers_a_link_changes_no_unit(ground: Ground) -> None:
    document = ground.change(ground.plan.shop, {}, {"name": "x"}, identity=ground.identity(ground.shop))
    source = Source(ground.study.study_id, "a link", "a link", "link")
    with ground.study.store.reading() as session, pytest.raises(DataError):
        read_arrival(session, source, document["uuid"], json.dumps(document).encode())


def test_whoever_may_not_see_a_field_is_told_that_it_waits_and_not_what_it_is(ground: Ground) -> None:
    ground.share(None, all=True)
    ground.hide("name")
    ground.hand_in(ground.plan.shop, {}, {"name": "Plover"}, identity=ground.identity(ground.shop))
    (doubt,) = ground.doubts(desk_of(ground.study.store, "analyst"))
    (line,) = doubt.lines
    assert (doubt.label, line.before, line.present, line.wanted) == ("LM-1", "", MASK, MASK)
