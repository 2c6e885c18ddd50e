"""What arrived is in the data, or it is said why not: hostile but valid documents take nothing and nobody down."""

from __future__ import annotations

import json
import uuid
from pathlib import Path
from tempfile import mkdtemp
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select

from skavo.core.dataset.layout import INTERVIEWS
from skavo.store.database import Store, open_store
from skavo.store.datasets import DataSets
from skavo.store.interview_document import FLAGS
from skavo.store.laying import PROBLEMS
from skavo.store.models import Interview, Release, Revision
from tests.samples import part, script, staff_script
from tests.store.study import SmallStudy, release_in, small_study


@pytest.fixture
def study(store: Store) -> SmallStudy:
    return small_study(store)


def every_kind() -> Any:
    return script(
        part(1, "text", "word"), part(1, "whole number", "whole"), part(1, "decimal", "share"), part(1, "date", "day"),
        part(1, "time", "clock"), part(1, "date-time", "moment"), part(1, "yes/no", "sure"), part(1, "point", "spot"),
        part(1, "area", "yard"), part(1, "photo", "front"), part(1, "derived value", "cube", derived="share * share * share"),
        part(1, "derived value", "years", derived="years(day, today)"), part(1, "roster", "rows", repeated="whole times"),
        part(2, "text", "row_word"),
    )  # fmt: skip


def in_data_set(study: SmallStudy) -> list[str]:
    with study.store.reading() as session:
        prepared = DataSets(study.store.files).of(session, study.questionnaire_id)
        return list(prepared.raw[INTERVIEWS].frame["interview.key"])


def account(study: SmallStudy) -> tuple[int, int, int]:
    """Arrived, in the data set, not laid out."""
    with study.store.reading() as session:
        arrived = session.scalar(select(func.count(Interview.id)).where(Interview.practice.is_(False))) or 0
        failed = session.scalar(select(func.count(Interview.id)).where(Interview.problem != "")) or 0
        prepared = DataSets(study.store.files).of(session, study.questionnaire_id)
    return arrived, prepared.raw[INTERVIEWS].frame.height, failed + len(prepared.failed)


@pytest.mark.parametrize(
    ("started", "ended", "flags"),
    [
        ("0001-01-01T00:00:00+14:00", "0001-01-01T00:00:00+14:00", ["unreadable_moment"]),
        ("9999-12-31T23:59:59-12:00", "9999-12-31T23:59:59-12:00", ["unreadable_moment"]),
        ("0001-01-04T00:00:00Z", "9999-12-20T00:00:00Z", ["clock_off"]),
        ("2026-03-14T09:00:00", "2026-03-14T09:20:00", ["no_offset"]),
        ("2026-03-14T09:20:00Z", "2026-03-14T09:00:00Z", ["ended_before_started"]),
        ("1999-03-14T09:00:00Z", "1999-03-14T09:20:00Z", ["clock_off"]),
        (None, 7, ["unreadable_moment"]),
        ("yesterday", {}, ["unreadable_moment"]),
    ],
)
def test_a_doubtful_clock_is_kept_and_flagged_and_takes_no_other_down(
    study: SmallStudy, monkeypatch: pytest.MonkeyPatch, started: Any, ended: Any, flags: list[str]
) -> None:
    study.arrive(study.document())
    study.arrive(study.document(paradata={"started": started, "ended": ended}))
    study.arrive(study.document())
    found = study.interview(2)
    assert set(flags) <= set(found.flags) and set(found.flags) <= set(FLAGS)
    assert in_data_set(study) == ["0001", "0002", "0003"]


@pytest.mark.parametrize(
    ("raw", "problem"),
    [
        (b"", "no_json"),
        (b"\xff\xfe", "no_json"),
        (b"[1, 2]", "no_json"),
        (b"{}", "wrong_document"),
        (b'{"answers": {}}', "wrong_document"),
        (b'{"a":' * 50_000, "too_deep"),
        (b'{"format": "skavo-interview-9"}', "newer_format"),
        (b'{"format": "skavo-release-1"}', "wrong_format"),
        (b'{"format": 7}', "wrong_format"),
    ],
)
def test_what_is_no_interview_is_kept_with_its_reason(study: SmallStudy, raw: bytes, problem: str) -> None:
    study.arrive(study.document())
    receipt = study.arrive_raw(str(uuid.uuid4()), raw)
    found = study.interview(receipt.number)
    assert (found.problem, found.problem in PROBLEMS) == (problem, True)
    with study.store.reading() as session:
        assert session.scalar(select(Revision.raw).where(Revision.hash == receipt.hash)) == raw
    assert account(study) == (2, 1, 1)


def test_half_a_sign_is_mended_and_flagged(study: SmallStudy) -> None:
    raw = json.dumps(study.document(answers={"consent": True, "workers": 1, "staff/1/name": "Bo \ud83d"})).encode()
    study.arrive_raw(json.loads(raw)["uuid"], raw)
    assert study.interview().flags == ["mended_text"]
    assert account(study) == (1, 1, 0)


def test_an_interview_of_a_release_that_comes_later_is_laid_out_then(study: SmallStudy) -> None:
    from skavo.store.laying import columns_again, let_count

    study.arrive(study.document(release="0" * 32))
    assert (study.interview().problem, account(study)) == ("unknown_release", (1, 0, 1))
    with study.store.session() as session:
        session.scalars(select(Release)).one().identity = "0" * 32
        interview = session.scalars(select(Interview)).one()
        revision = session.scalars(select(Revision)).one()
        let_count(session, interview, revision, columns_again(session, interview, revision))
    assert (study.interview().problem, account(study)) == ("", (1, 1, 0))


def test_the_same_content_released_twice_stays_two_releases(store: Store) -> None:
    first, second = small_study(store), small_study(store)
    assert first.release_hash == second.release_hash and first.release != second.release
    for study in (first, second):
        study.arrive(study.document())
        assert in_data_set(study) == ["0001"]
    again, _ = release_in(store, first.questionnaire_id, staff_script(), 3)
    first.arrive(first.document(release=again))
    with store.reading() as session:
        numbers = session.execute(
            select(Release.number).join(Interview, Interview.release_id == Release.id).where(
                Interview.study_id == first.study_id
            )
        )  # fmt: skip
        assert [n for (n,) in numbers] == [1, 3]


def test_the_same_identity_in_two_studies_is_two_interviews(store: Store) -> None:
    first, second = small_study(store), small_study(store)
    document = first.document()
    first.arrive(document)
    other = second.document(uuid=document["uuid"])
    assert second.arrive(other).outcome == "arrived"
    assert (first.interview().revisions, second.interview().revisions) == (1, 1)


TEXTS = st.one_of(
    st.text(max_size=60), st.sampled_from(["", "\x00", "=1+1", "ـ‏עִ", "\ud800", "ﷺ", "🏽", "a" * 20_000, "\u2028", "'"])
)
NUMBERS = st.one_of(
    st.integers(),
    st.integers(10**14, 10**16),
    st.floats(),
    st.sampled_from([10**4000, -(10**400), 1e308, 5e-324, "1e400", "0.1"]),
)
MOMENTS = st.sampled_from(
    ["0001-01-01T00:00:00+00:00", "9999-12-31T23:59:59.999999-23:59", "2027-02-30", "2027-03-14T09:00:00", "", None, 0]
)
DATES = st.one_of(st.dates().map(str), st.datetimes().map(lambda d: d.isoformat() + "Z"), MOMENTS)
VALUES = st.recursive(
    st.one_of(TEXTS, NUMBERS, DATES, st.booleans(), st.none()),
    lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=8), inner, max_size=3)),
    max_leaves=6,
)
PLACES = st.fixed_dictionaries({"latitude": NUMBERS, "longitude": NUMBERS}, optional={"accuracy": NUMBERS})
ANSWERS = st.fixed_dictionaries(
    {},
    optional={
        "word": TEXTS, "whole": st.one_of(st.integers(-3, 600), NUMBERS), "share": NUMBERS, "day": DATES, "clock": DATES,
        "moment": DATES, "sure": VALUES, "spot": PLACES, "yard": st.fixed_dictionaries({"points": st.lists(PLACES, max_size=4)}),
        "front": VALUES, "rows/1/row_word": TEXTS, "nowhere": VALUES,
    },
)  # fmt: skip
DOCUMENTS = st.fixed_dictionaries(
    {"answers": st.one_of(ANSWERS, st.dictionaries(TEXTS, VALUES, max_size=3), VALUES)},
    optional={
        "paradata": st.fixed_dictionaries({"started": st.one_of(DATES, VALUES), "ended": DATES}, optional={"events": VALUES}),
        "kept": st.dictionaries(TEXTS, st.one_of(TEXTS, VALUES), max_size=2), "derived": VALUES, "language": TEXTS,
        "practice": VALUES, "basis": TEXTS, "unfinished": TEXTS, "more": VALUES,
    },
)  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(st.lists(DOCUMENTS, min_size=1, max_size=6))
def test_ledger_and_data_set_add_up_whatever_arrives(documents: list[dict[str, Any]]) -> None:
    study = small_study(open_store(Path(mkdtemp())), every_kind())
    for change in documents:
        document = study.document(**change)
        raw = json.dumps(document).encode()
        receipt = study.arrive_raw(document["uuid"], raw)
        with study.store.reading() as session:
            assert session.scalar(select(Revision.raw).where(Revision.hash == receipt.hash)) == raw
    with study.store.reading() as session:
        practice = session.scalar(select(func.count(Interview.id)).where(Interview.practice.is_(True))) or 0
    arrived, held, failed = account(study)
    assert (arrived + practice, arrived) == (len(documents), held + failed)


def test_one_that_does_not_fit_the_tables_is_named_and_the_others_stay(
    study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    from skavo.store import raw_frames

    for _ in range(7):
        study.arrive(study.document())
    real = raw_frames.build_data_set

    def refusing(layouts: Any, documents: Any) -> Any:
        if any(d["facts"]["interview.key"] in ("0003", "0004") for d in documents):
            raise OverflowError("a date beyond the calendar")
        return real(layouts, documents)

    monkeypatch.setattr(raw_frames, "build_data_set", refusing)
    assert account(study) == (7, 5, 2)
    assert in_data_set(study) == ["0001", "0002", "0005", "0006", "0007"]


def test_a_number_of_five_thousand_digits_is_a_finding_of_its_question(study: SmallStudy) -> None:
    raw = json.dumps(study.document(answers={"consent": True, "workers": 0})).replace(
        '"workers": 0', f'"workers": 1{"0" * 5000}'
    )
    study.arrive_raw(json.loads(raw, parse_int=str)["uuid"], raw.encode())
    found = study.interview()
    assert [f["code"] for f in found.findings if f["path"] == "workers"] == ["not_a_number"]
    assert account(study) == (1, 1, 0)


def test_rows_that_multiply_without_end_are_not_laid_out_and_hold_nobody_up(store: Store) -> None:
    deep = script(
        part(1, "whole number", "a"), part(1, "roster", "ra", repeated="a times"),
        part(2, "roster", "rb", repeated="a times"), part(3, "roster", "rc", repeated="a times"), part(4, "text", "word"),
    )  # fmt: skip
    study = small_study(store, deep)
    study.arrive(study.document(answers={"a": 500}))
    study.arrive(study.document(answers={"a": 3}))
    assert (study.interview(1).problem, study.interview(2).problem) == ("too_many_rows", "")
    assert account(study) == (2, 1, 1)


def test_one_that_the_engine_cannot_compute_is_kept_and_named_without_its_answers(
    study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    from skavo.store import laying

    real = laying.run_engine

    def breaking(release: Any, document: Any, *moments: Any) -> Any:
        if document.answers.get("remarks") == "a secret":
            raise RecursionError("a secret")
        return real(release, document, *moments)

    monkeypatch.setattr(laying, "run_engine", breaking)
    study.arrive(study.document())
    study.arrive(study.document(answers={"consent": True, "remarks": "a secret"}))
    found = study.interview(2)
    assert (found.problem, found.problem_at, account(study)) == ("cannot_compute", "RecursionError", (2, 1, 1))
