"""Secrets are planted in every sensitive field of a study; who lacks the right finds none in any byte of any answer."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from io import BytesIO
from typing import Any
from uuid import uuid4
from zipfile import ZipFile

import polars as pl
import pytest
from flask import Flask
from sqlalchemy import select

from skavo.core.cleaning.steps import Correct, Derive, MarkMissing, Recode, write_step
from skavo.core.permissions import ROLES, granted
from skavo.core.questionnaire.script import Script, ScriptCheck, write_script
from skavo.core.recipes.recipe import LeavesOut, Recipe, Source, write_recipe
from skavo.core.sampling.plan import SamplePlan
from skavo.jobs.extracts import write_extract
from skavo.jobs.runner import Progress
from skavo.services.desk import Desk as ServiceDesk
from skavo.services.frames import FrameIn, RegisterFrame
from skavo.services.registers import KindChange, KindIn, change_kind, make_kind
from skavo.services.samples import SampleIn, draw
from skavo.services.unit_changes import UnitChange, UnitIn, change_unit, make_unit
from skavo.services.visit_lists import VisitListIn, make_list
from skavo.store.database import Store
from skavo.store.files import keep_file, read_file
from skavo.store.models import (
    Batch,
    Event,
    Interview,
    Job,
    Keying,
    NamedDataSet,
    OutsideTable,
    PaperForm,
    Person,
    PlanStep,
    Questionnaire,
    Release,
    Sample,
    Unit,
    Visit,
    now,
)
from skavo.store.people import join
from tests.samples import part, script
from tests.store.study import SmallStudy, small_study
from tests.web.conftest import LOGINS, Desk
from tests.web.test_guard import in_study, routes_of

# Written so that no ordinary answer of the server could hold one by chance.
SECRETS = [f"qz{n:02d}secret" for n in range(1, 13)]
NAME, REASON, CLEANED, MAPPED, WHY, KEY_ROW, PLACE, SPECIFIED, REMARK, KEYED, UNIT, UNIT_BEFORE = SECRETS
AGE = 7_777_773


def asked() -> Script:
    """Marked questions, and what follows from them without a mark of its own."""
    return script(
        part(1, "text", "name", wording={"en": "Who is it?"}, sensitive=True),
        part(1, "whole number", "age", wording={"en": "How old?"}, sensitive=True, should=[
            ScriptCheck(rule="age < 100", message={"en": "{name} is {age}: is that so?"}),
        ]),
        part(1, "derived value", "twice", derived="age * 2"),
        part(1, "derived value", "greeting", derived='join("Dear ", name)'),
        part(1, "text", "echo", wording={"en": "Is {name} at home?"}, default="name"),
        part(1, "text", "open", wording={"en": "What does {name} say?"}, must=[
            ScriptCheck(rule="length(open) < 3", message={"en": "{name} said {open}."}),
        ]),
    )  # fmt: skip


@pytest.fixture
def planted(app: Any) -> SmallStudy:
    store: Store = app.extensions["skavo_store"]
    study = small_study(store, asked())
    answers = {"name": NAME, "age": AGE, "open": "plain words"}
    document = study.document(answers=answers, kept={"age#0": REASON}, remarks={"age": REMARK, "nowhere": REMARK})
    document["paradata"]["events"] = [{"kind": "answered", "path": "name", "at": document["paradata"]["started"]}]
    study.arrive(document)
    study.arrive(study.document(uuid=document["uuid"], answers={**answers, "name": PLACE}, basis="0" * 64))
    _key_a_paper(store, study)
    _register_a_person(app, study)
    cells = BytesIO()
    pl.DataFrame({"who": [KEY_ROW, NAME], "ward": ["far ward", SPECIFIED]}).write_parquet(cells)
    with store.session() as session:
        q, by = study.questionnaire_id, {"created_by": "x"}
        session.add(
            OutsideTable(
                questionnaire_id=q, name="people", file_name="p.csv", columns=["who", "ward"], rows=2,
                file_hash=keep_file(store.files, cells.getvalue()),
                joined={"variable": "name", "key": "who", "take": ["ward"]}, **by,
            )
        )  # fmt: skip
        for step in (
            Recode(variable="name", mapping={PLACE: MAPPED}, reason=WHY),
            Correct(variable="name", interview="0001", value=CLEANED, reason=WHY),
            MarkMissing(variable="open", rule=f'name is "{MAPPED}"', missing="refused", reason=WHY),
        ):
            session.add(PlanStep(questionnaire_id=q, body=write_step(step), **by))
        source = Source(questionnaire=q, names={"name": "who_is"}, called="Planted")
        recipe = Recipe(
            sources=[source], left_out=[LeavesOut(rule=f'who_is is "{WHY}"')],
            derived=[Derive(into="called", formula='join("Dear ", who_is)'), Derive(into="loud", formula="length(called)")],
        )  # fmt: skip
        session.add(NamedDataSet(study_id=study.study_id, title="Planted", recipe=write_recipe(recipe), **by))
        for role, login in LOGINS.items():
            join(session, study.study_id, session.scalars(select(Person).where(Person.login == login)).one(), [role])
        interview = session.scalars(select(Interview).where(Interview.study_id == study.study_id)).one()
        session.add(
            Event(
                study_id=study.study_id, interview_id=interview.id, kind="sent back", by="x",
                detail={"remark": "", "remarks": [{"path": "name", "text": f"Is it {NAME}?"}]},
            )
        )  # fmt: skip
    return study


def _key_a_paper(store: Store, study: SmallStudy) -> None:
    """A paper that somebody has keyed to its end, and that waits for a second keyer."""
    with store.session() as session:
        release = session.scalars(select(Release).where(Release.questionnaire_id == study.questionnaire_id)).one()
        batch = Batch(
            study_id=study.study_id, questionnaire_id=study.questionnaire_id, release_id=release.id, name="B",
            language="en", received=1, created_by="x",
        )  # fmt: skip
        session.add(batch)
        session.flush()
        form = PaperForm(batch_id=batch.id, number="1", uuid=str(uuid4()), is_twice=True)
        session.add(form)
        session.flush()
        content = {"answers": {"name": KEYED}, "path": "name"}
        session.add(Keying(form_id=form.id, turn=1, by="x", content=content, ended_at=now()))


def _register_a_person(app: Any, study: SmallStudy) -> None:
    """A unit that is called by a sensitive field, which has been changed, and a sample that it was drawn into."""
    held = app.extensions
    desk = ServiceDesk(
        held["skavo_store"], held["skavo_data_sets"], held["skavo_jobs"], "Dora", None, granted(["data_manager"])
    )  # fmt: skip
    person = make_kind(desk, study.study_id, KindIn(title="Person", ready="person"))
    settings = person.settings.model_copy(update={"label": "person_name"})
    change_kind(desk, person.id, KindChange(settings=settings, version=person.version))
    unit = make_unit(desk, study.study_id, UnitIn(kind_id=person.id, key="P1", answers={"person_name": UNIT_BEFORE}))
    change_unit(desk, unit.id, UnitChange(changes={"person_name": [UNIT_BEFORE, UNIT]}))
    frame, plan = FrameIn(units=RegisterFrame(kind=person.id)), SamplePlan(by="simple", size=1, seed=1)
    sample = draw(desk, study.study_id, SampleIn(name="S", frame=frame, plan=plan))
    wanted = VisitListIn(name="V", questionnaire_id=study.questionnaire_id, sample_id=sample.id)
    make_list(desk, study.study_id, wanted)


def numbers(app: Any, study: SmallStudy) -> dict[str, int]:
    with app.extensions["skavo_store"].reading() as session:
        interview = session.scalars(select(Interview).where(Interview.study_id == study.study_id)).one()
        outside = session.scalars(select(OutsideTable)).one()
        unit = session.scalars(select(Unit)).one()
        sample = session.scalars(select(Sample)).one()
        visit = session.scalars(select(Visit)).one()
        named = session.scalars(select(NamedDataSet).where(NamedDataSet.title == "Planted")).one()
    return {
        "study_id": study.study_id, "questionnaire_id": study.questionnaire_id, "interview_id": interview.id,
        "number": 1, "outside_id": outside.id, "step_id": 1, "device_id": study.device_id,
        "batch_id": 1, "form_id": 1, "unit_id": unit.id, "kind_id": unit.kind_id, "sample_id": sample.id,
        "list_id": visit.list_id, "visit_id": visit.id, "data_set_id": named.id,
    }  # fmt: skip


def told(text: bytes) -> list[str]:
    """The secrets that stand in some bytes."""
    return [s for s in [*SECRETS, str(AGE), str(2 * AGE)] if s.encode() in text]


def read(desk: Desk, method: str, address: str, body: Any = None) -> bytes:
    """The bytes of an answer; one that failed would hold no secret, and nothing else either."""
    response = desk.call(method, address, body)
    assert response.status_code < 500, address
    content: bytes = response.data
    return content


def answers(app: Flask, desk: Desk, named: dict[str, int], may: Any) -> Iterator[tuple[str, bytes]]:
    """Everything that a person may read in a study, and every table they may ask for."""
    for method, address, needs in in_study(routes_of(app, named)):
        if method == "GET" and needs in may and "/jobs/" not in address:
            yield address, read(desk, method, address)
    if "analyse.read" in may:
        at = f"/api/data-sets/{named['data_set_id']}"
        yield "rows", read(desk, "GET", f"{at}/rows?table=interviews")
        for variable in ("who_is", "called", "loud", "name", "age", "twice", "greeting", "echo", "open", "people_ward"):
            for show in ("share", "mean"):
                request = {"show": show, "variable": variable, "where": "", "by": None, "across": None}
                yield f"table {variable}", read(desk, "POST", f"{at}/table", request)
            asks = {"show": "share", "variable": "open", "where": f'{variable} is "{NAME}"'}
            yield f"where {variable}", read(desk, "POST", f"{at}/table", asks)
    if "interview.read" in may:
        for number in (1, 2):
            address = f"/api/interviews/{named['interview_id']}/revisions/{number}"
            yield address, read(desk, "GET", address)


@pytest.mark.parametrize("role", [role for role in ROLES if "sensitive.read" not in granted([role])])
def test_no_secret_reaches_whoever_lacks_the_right(
    app: Any, desk: Callable[[str], Desk], planted: SmallStudy, role: str
) -> None:
    found = {a: told(b) for a, b in answers(app, desk(role), numbers(app, planted), granted([role])) if told(b)}
    # What somebody asked for comes back in the words of the fault: that they knew before.
    assert {a: s for a, s in found.items() if not a.startswith("where ")} == {}


def test_the_secrets_are_there_for_whoever_has_the_right(
    app: Any, desk: Callable[[str], Desk], planted: SmallStudy
) -> None:
    """Else the test before would find nothing in an empty study."""
    named = numbers(app, planted)
    seen = {s for _, b in answers(app, desk("data_manager"), named, granted(["data_manager"])) for s in told(b)}
    assert seen >= {REASON, CLEANED, WHY, PLACE, MAPPED, KEY_ROW, str(AGE), str(2 * AGE)}


def test_marking_in_the_draft_counts_at_once_and_for_releases_made_before(
    app: Any, desk: Callable[[str], Desk], planted: SmallStudy
) -> None:
    store: Store = app.extensions["skavo_store"]
    address = f"/api/interviews/{numbers(app, planted)['interview_id']}"
    analyst = desk("analyst")
    assert "plain words" in analyst.call("GET", address).text
    marked = asked()
    marked.parts[-1].sensitive = True
    with store.session() as session:
        session.get_one(Questionnaire, planted.questionnaire_id).script = write_script(marked)
    assert "plain words" not in analyst.call("GET", address).text
    assert "plain words" in desk("data_manager").call("GET", address).text


def test_changes_findings_and_paradata_are_masked(app: Any, desk: Callable[[str], Desk], planted: SmallStudy) -> None:
    named = numbers(app, planted)
    plan = f"/api/questionnaires/{named['questionnaire_id']}/plan"
    analyst, manager = desk("analyst"), desk("data_manager")
    masked, whole = (who.answer("GET", f"{plan}/changes")["changes"] for who in (analyst, manager))
    assert [c["variable"] for c in masked] == [c["variable"] for c in whole] == ["name"]
    assert (masked[0]["before"], masked[0]["after"]) == ("•••", "•••")
    assert told(json.dumps(whole).encode()) != [] == told(json.dumps(masked).encode())
    address = f"/api/interviews/{named['interview_id']}"
    masked, whole = analyst.answer("GET", address), manager.answer("GET", address)
    assert len(masked["findings"]) == len(whole["findings"]) == 2
    assert {f["kept"] for f in masked["findings"]} == {"", "•••"}
    assert [f["message"] for f in masked["findings"]] == [f["code"] for f in masked["findings"]]
    assert any(told(json.dumps(f).encode()) for f in whole["findings"])
    for reading, words in ((masked, "•••"), (whole, REMARK)):
        assert [a["remark"] for a in reading["answers"] if a["remark"]] == [words]
        assert reading["remarks"] == [{"path": "nowhere", "text": words}]
    assert (masked["paradata"], [event["path"] for event in whole["paradata"]]) == ([], ["name"])


@pytest.mark.parametrize("form", ["csv", "xlsx", "sav", "script"])
@pytest.mark.parametrize("cleaned", [True, False])
def test_a_masked_extract_holds_no_sensitive_column_of_any_kind(
    app: Any, planted: SmallStudy, form: str, cleaned: bool
) -> None:
    store: Store = app.extensions["skavo_store"]
    sets = app.extensions["skavo_data_sets"]
    with store.session() as session:
        session.add(Job(study_id=planted.study_id, kind="extract", order={}, created_by="x", state="running"))
    whole = {"questionnaire_id": planted.questionnaire_id, "options": {"format": form}, "cleaned": cleaned}
    named = {"data_set_id": numbers(app, planted)["data_set_id"], "options": {"format": form}, "cleaned": cleaned}
    pieces: list[bytes] = []
    for order in [whole] if form == "script" else [whole, named]:
        content = read_file(store.files, write_extract(store, sets, order, Progress(store, 1))["file"])
        pieces += _pieces(content)
    assert [told(piece) for piece in pieces if told(piece)] == []
    if form == "csv" and not cleaned:
        assert any(b"plain words" in piece for piece in pieces)


def _pieces(content: bytes) -> list[bytes]:
    """A file, and what is packed in it."""
    pieces = [content]
    if content[:2] == b"PK":
        with ZipFile(BytesIO(content)) as packed:
            pieces += [packed.read(name) for name in packed.namelist()]
    return pieces


def test_what_was_seen_and_taken_out_is_on_record(app: Any, desk: Callable[[str], Desk], planted: SmallStudy) -> None:
    named, dora = numbers(app, planted), desk("data_manager")
    for _ in range(2):
        dora.answer("GET", f"/api/interviews/{named['interview_id']}")
    dora.call("GET", f"/api/interviews/{named['interview_id']}/revisions/1/raw")
    desk("analyst").answer("GET", f"/api/interviews/{named['interview_id']}")
    record = dora.answer("GET", f"/api/studies/{named['study_id']}/record")
    assert [(line["name"], line["what"], line["interview"]) for line in record["lines"]] == [
        ("Dora Maine", "raw", "0001"), ("Dora Maine", "interview", "0001"),
    ]  # fmt: skip
    assert dora.answer("GET", f"/api/studies/{named['study_id']}/record?what=raw")["total"] == 1
