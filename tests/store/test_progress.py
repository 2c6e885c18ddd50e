"""How far collecting is, as the logbook tells it."""

from __future__ import annotations

from datetime import UTC, datetime

from skavo.store.database import Store
from skavo.store.models import Interview
from skavo.store.progress import Day, EnumeratorProgress, progress_of
from tests.store.study import SmallStudy, small_study


def held(study: SmallStudy, enumerator: str, started: str, minutes: float | None, **more: object) -> None:
    """An interview that began at `started` in UTC."""
    with study.store.session() as session:
        number = session.query(Interview).count() + 1
        session.add(
            Interview(
                study_id=study.study_id, questionnaire_id=study.questionnaire_id, uuid=f"uuid {number}", number=number,
                hash=f"{number:064d}", enumerator=enumerator, device_name="phone", minutes=minutes,
                started_at=datetime.fromisoformat(started).replace(tzinfo=UTC), arrived_at=datetime.now(UTC), **more,
            )
        )  # fmt: skip


def test_interviews_are_counted_by_the_day_of_the_study_and_by_enumerator(store: Store) -> None:
    study = small_study(store)
    held(study, "Ilse Varn", "2026-11-14T04:59", 20.0, state="accepted")
    held(study, "Ilse Varn", "2026-11-14T05:01", 30.04, state="arrived")
    held(study, "Bo Tarn", "2026-11-15T12:00", None, state="arrived")
    held(study, "Bo Tarn", "2026-11-15T12:00", 3.0, practice=True)
    with store.reading() as session:
        found = progress_of(session, "Etc/GMT+5", 14, Interview.study_id == study.study_id)
        assert found.days == [Day("2026-11-13", 1), Day("2026-11-14", 1), Day("2026-11-15", 1)]
        assert found.enumerators == [
            EnumeratorProgress("Bo Tarn", 1, 0, None), EnumeratorProgress("Ilse Varn", 2, 1, 25.0)
        ]  # fmt: skip
        assert (found.interviews, found.median_minutes) == (3, 25.0)
        assert progress_of(session, "UTC", 1, Interview.study_id == study.study_id).days == [Day("2026-11-15", 1)]


def test_a_study_without_interviews_has_no_median(store: Store) -> None:
    with store.reading() as session:
        found = progress_of(session, "UTC", 14, Interview.study_id == small_study(store).study_id)
    assert (found.interviews, found.median_minutes, found.enumerators, found.days) == (0, None, [], [])
