"""Making the demo study: people, questionnaire, release, then a fleet of phones that hands in over HTTP."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.estimation.tables import TABLE
from skavo.core.fieldwork.profile import FieldProfile
from skavo.core.permissions import granted
from skavo.core.questionnaire.script import Script
from skavo.demo.answers import add_links_and_papers
from skavo.demo.cleaning import make_plan
from skavo.demo.combining import combine_tables, round_by_round
from skavo.demo.isles import isles_map
from skavo.demo.people import ENUMERATORS, PASSWORD, REASONS, STAFF, SUPERVISES, TOLD, Enumerator, Told
from skavo.demo.questionnaire import demo_media, demo_script, questionnaire_of
from skavo.demo.register import build_register, draw_sample, workshop_names
from skavo.demo.respondents import Workshop, unit_code
from skavo.demo.unit_changes import UnitsFound, carry_register
from skavo.demo.visits import VisitsOfRound, close_first_round, plan_visits
from skavo.jobs.mail import Mail
from skavo.jobs.runner import Jobs
from skavo.jobs.works import kinds_of
from skavo.services.desk import Desk
from skavo.services.drafts import make_questionnaire, save_script
from skavo.services.maps import bring_in_sheet
from skavo.services.media import bring_in
from skavo.services.profiles import ProfileChange, ProfileIn, change_profile, list_profiles, make_profile
from skavo.services.registers import list_kinds
from skavo.services.releases import make_release
from skavo.standins.phone import Phone
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import (
    Device,
    Event,
    Interview,
    Membership,
    PairingCode,
    Person,
    SavedTable,
    Study,
    Team,
    now,
)
from skavo.store.people import join
from skavo.store.recipes import own_set
from skavo.store.secrets import hash_of, new_code, plain_code
from skavo.web.passphrases import hash_passphrase

SEED = 2027
INTERVIEWS = 152
# The share of them that the first round brought.
_FIRST_ROUND = 0.8
TITLE = "Mending Trades Survey"
ZONE = "Etc/GMT+8"
Say = Callable[[str], None]


def demo_exists(store: Store) -> bool:
    with store.reading() as session:
        return session.scalar(select(Study).where(Study.title == TITLE)) is not None


def build_study(store: Store, script: Script | None = None) -> int:
    """People, study, questionnaire (the demo's, or `script`) and its first release; return the study's id."""
    with store.session() as session:
        study = Study(
            title=TITLE,
            purpose="To know how many people live from mending, what they earn and lack, and what is saved from the scrap heap.",
            population="All workshops in the Ostrel Isles that repair things for a living.",
            time_zone=ZONE,
            rounds=[
                {"name": "Round 1", "begins": str((now() - timedelta(days=13)).date())},
                {"name": "Round 2", "begins": str((now() - timedelta(days=4)).date())},
            ],
        )
        session.add(study)
        session.flush()
        study_id = study.id
        _take_in_people(session, study_id)
    desk = _desk(store)
    _set_profiles(desk, study_id, [] if script else [_bring_in_map(desk, study_id)])
    _write_questionnaire(desk, study_id, script or demo_script(), {} if script else demo_media())
    if script is None:
        build_register(desk, study_id, demo_script())
        carry_register(desk, study_id)
        plan_visits(desk, study_id, draw_sample(desk, study_id))
    return study_id


def _desk(store: Store) -> Desk:
    """The desk of the data manager."""
    with store.reading() as session:
        manager = session.scalars(select(Person).where(Person.login == STAFF[0][0])).one().id
    sets = DataSets(store.files)
    return Desk(store, sets, Jobs(store, sets, kinds_of(Mail)), STAFF[0][1], manager, granted(["data_manager"]))


def _bring_in_map(desk: Desk, study_id: int) -> int:
    with TemporaryDirectory() as scratch:
        sent = Path(scratch) / "isles.geojson"
        sent.write_bytes(isles_map(demo_script()))
        return bring_in_sheet(desk, study_id, "Ostrel Isles", sent).id


def _set_profiles(desk: Desk, study_id: int, sheets: list[int]) -> None:
    """The ordinary profile names whom to ring; the outer islands, where a network costs, have another one."""
    (ordinary,) = list_profiles(desk, study_id)
    settings = FieldProfile(help_name="Sela Brack", help_phone="555 0100", map_sheets=sheets)
    change_profile(
        desk, study_id, ordinary.id,
        ProfileChange(name=ordinary.name, settings=settings, version=ordinary.version),
    )  # fmt: skip
    with desk.store.reading() as session:
        outer = session.scalars(select(Team.id).where(Team.study_id == study_id, Team.name == "Tarrow and Vint")).one()
    settings = FieldProfile(
        sends="unmetered", photo_pixels=1280, keeps="all", keeps_days=7, lock_minutes=10, help_name="Orrin Vale",
        help_phone="555 0101", map_sheets=sheets,
    )  # fmt: skip
    make_profile(desk, study_id, ProfileIn(name="outer islands", settings=settings, teams=[outer]))


def _write_questionnaire(desk: Desk, study_id: int, script: Script, media: dict[str, bytes]) -> None:
    """What a data manager does at the questionnaire station: fill the shelf, bring the script in, release it."""
    for name, content in media.items():
        bring_in(desk, study_id, name, content)
    draft = make_questionnaire(desk, study_id, script.title[script.languages[0]], script.languages)
    saved = save_script(desk, draft.id, script, draft.version)
    make_release(desk, draft.id, saved.version, "For the first round")


def _take_in_people(session: Session, study_id: int) -> None:
    """Staff who sign in, and enumerators who only carry a phone, in two teams."""
    teams = {name: Team(study_id=study_id, name=name) for name in {e.team for e in ENUMERATORS}}
    session.add_all(teams.values())
    session.flush()
    team_of = {e.name: teams[e.team].id for e in ENUMERATORS}
    hashed = hash_passphrase(PASSWORD)
    for login, name, role in STAFF:
        person = session.scalar(select(Person).where(Person.login == login)) or Person(
            login=login, name=name, email=f"{login}@crafts.example", password_hash=hashed,
            is_administrator=role == "data_manager",
        )  # fmt: skip
        session.add(person)
        session.flush()
        supervised = [teams[team].id for team in SUPERVISES.get(login, [])]
        join(session, study_id, person, [role], team_of.get(name), supervised)
    for name in sorted({*team_of} - {name for _, name, _ in STAFF}):
        person = Person(name=name)
        session.add(person)
        session.flush()
        join(session, study_id, person, ["enumerator"], team_of[name])


def run_fleet(store: Store, study_id: int, address: str, *, interviews: int = INTERVIEWS, say: Say = print) -> None:
    """Eight phones pair and hand in `interviews` interviews between them, through the server at `address`."""
    rng = random.Random(SEED)
    phones = [(e, Phone(address, pairing_code(store, study_id, e.name), e.device)) for e in ENUMERATORS]
    first_day = datetime.now(ZoneInfo(ZONE)).replace(hour=8, minute=0, second=0, microsecond=0) - timedelta(days=12)
    rounds = [VisitsOfRound(phone) for _, phone in phones]
    for number in range(interviews):
        enumerator, phone = phones[number % len(phones)]
        visits = rounds[number % len(phones)]
        is_second = number >= interviews * _FIRST_ROUND
        plate = (visits.next_plate() if is_second else "") or unit_code(enumerator.island, number)
        door = visits.door_of(plate)
        visits.take(one_interview(rng, enumerator, phone, number, first_day, plate, door), plate)
        if (number + 1) % 50 == 0:
            say(f"  {number + 1} of {interviews} interviews handed in")
    for visits in rounds:
        visits.finish(first_day)
    _find_units(store, study_id, [phone for _, phone in phones], first_day)
    for enumerator, phone in phones:
        _tell(store, phone, TOLD[enumerator.device])


def _find_units(store: Store, study_id: int, phones: list[Phone], first_day: datetime) -> None:
    """What the phones find otherwise in the register, where they carry any of it."""
    desk = _desk(store)
    if not list_kinds(desk, study_id):
        return
    for number, phone in enumerate(phones):
        found = UnitsFound(phone)
        found.find(first_day)
        if number % 3 == 0:
            found.differ(desk, first_day)


_GIGABYTE = 10**9


def _tell(store: Store, phone: Phone, told: Told) -> None:
    """The last contact of a phone; one that has been silent since had it some days ago."""
    phone.tell(
        in_hand=told.in_hand, packed=told.packed, files=told.files, battery=told.battery, persisted=True, locked=True,
        storage_used=round(told.gigabytes * _GIGABYTE), storage_quota=32 * _GIGABYTE,
        clock=(now() + timedelta(hours=told.clock_hours)).isoformat(),
    )  # fmt: skip
    if told.silent_days:
        with store.session() as session:
            device = session.scalars(select(Device).where(Device.name == phone.name)).one()
            device.last_heard = now() - timedelta(days=told.silent_days)


def one_interview(
    rng: random.Random, enumerator: Enumerator, phone: Phone, number: int, first_day: datetime, plate: str = "",
    door: tuple[float, float] | None = None,
) -> dict[str, Any]:  # fmt: skip
    """What an enumerator brings home from the workshop of `plate` at `door`, or from the one of that number."""
    turn = number // len(ENUMERATORS)
    started = first_day + timedelta(days=turn * 12 // 20, hours=(turn % 5) * 1.7, minutes=rng.randrange(40))
    workshop = Workshop(rng, enumerator, number, started)
    if door is not None:
        workshop.lives_at(plate, door)
    workshop.called = workshop_names().get(workshop.unit_code, workshop.called)
    minutes = rng.uniform(9, 13) if enumerator.hasty else rng.gauss(26 + 4 * workshop.people, 4)
    return phone.interview(
        workshop,
        rng=rng,
        started=started,
        minutes=round(max(8.0, minutes), 1),
        language=rng.choices(["en", "fr", "ar"], [7, 2, 1])[0],
        break_off_at="tools" if rng.random() < 0.03 else "",
        keep_reason=lambda variable: rng.choice(REASONS.get(variable, ["Asked again, it is so"])),
    )


def pairing_code(store: Store, study_id: int, enumerator: str) -> str:
    """A code for a phone of an enumerator, who becomes a member where the study has none of that name."""
    code = new_code()
    with store.session() as session:
        member = session.scalar(
            select(Membership).where(Membership.study_id == study_id, Membership.name == enumerator)
        )
        if member is None:
            person = Person(name=enumerator)
            session.add(person)
            session.flush()
            member = join(session, study_id, person, ["enumerator"])
        session.add(
            PairingCode(
                study_id=study_id, code_hash=hash_of(plain_code(code)), enumerator=enumerator,
                person_id=member.person_id, expires_at=now() + timedelta(minutes=30),
            )
        )  # fmt: skip
    return code


def add_desk_work(store: Store, study_id: int) -> None:
    """What the desk did with the interviews: some decided, an outside table joined, a cleaning plan, two tables."""
    with store.session() as session:
        questionnaire = questionnaire_of(session, study_id)
        interviews = list(
            session.scalars(select(Interview).where(Interview.study_id == study_id).order_by(Interview.number))
        )
        _decide(session, interviews)
        for title, request in _TABLES:
            session.add(
                SavedTable(
                    data_set_id=own_set(session, questionnaire.id).id,
                    title=title,
                    request=TABLE.write(request),
                    created_by="Anna Rolt",
                )
            )
    earnings = next(part.id for part in demo_script().parts if part.variable == "earnings")
    make_plan(_desk(store), questionnaire.id, interviews, earnings)
    combine_tables(_desk(store), questionnaire.id)
    round_by_round(_desk(store), study_id, questionnaire.id)
    add_links_and_papers(store, study_id)
    close_first_round(_desk(store), study_id)


_TABLES: list[tuple[str, dict[str, Any]]] = [
    ("Hours by role across islands", {"show": "mean", "variable": "hours", "by": "role", "across": "island"}),
    ("Trades across islands", {"show": "share", "variable": "trades", "across": "island"}),
]


def _decide(session: Session, interviews: list[Interview]) -> None:
    for interview in interviews[:96]:
        interview.read_at = now()
        state = "accepted"
        if interview.hard_findings or (interview.minutes is not None and interview.minutes < 11):
            state = "sent back"
        interview.state = state
        remark = "Too quick: was everything asked?" if state == "sent back" else ""
        session.add(
            Event(
                study_id=interview.study_id,
                interview_id=interview.id,
                kind=state,
                by="Sela Brack",
                detail={"remark": remark},
            )
        )
