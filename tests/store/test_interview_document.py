"""What a device hands in, read as far as it can be: which words it is refused with, what is flagged, where limits lie."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta, timezone
from typing import Any

import pytest

from skavo.core.errors import DataError
from skavo.core.interview.formats import INTERVIEW
from skavo.store.interview_document import (
    FLAGS,
    Moments,
    Paradata,
    moments_of,
    read_document,
    try_reading,
    zone_named,
)

UUID = "0f3c2b1a-0000-4000-8000-000000000001"


def document(**more: Any) -> dict[str, Any]:
    return {
        "format": INTERVIEW.newest, "uuid": UUID, "release": "ab" * 16, "release_hash": "cd" * 32, "basis": "",
        "answers": {"depth": 3}, "paradata": {"started": "2027-03-14T10:00:00+02:00"}, **more,
    }  # fmt: skip


def raw(**more: Any) -> bytes:
    return json.dumps(document(**more)).encode()


def refusal(content: bytes) -> tuple[str, str, dict[str, Any]]:
    with pytest.raises(DataError) as caught:
        read_document(content)
    return caught.value.code, caught.value.message, caught.value.details


def test_a_whole_document_is_read_as_it_is() -> None:
    read = read_document(raw(language="fr", practice=True, unfinished="left", kept={"age 0": "so"}, derived={"x": 1}))
    assert read.flags == ()
    held = read.document
    assert (held.uuid, held.release, held.release_hash, held.basis) == (UUID, "ab" * 16, "cd" * 32, "")
    assert (held.answers, held.derived, held.kept) == ({"depth": 3}, {"x": 1}, {"age 0": "so"})
    assert (held.language, held.practice, held.unfinished) == ("fr", True, "left")
    assert held.paradata.started == "2027-03-14T10:00:00+02:00" and held.paradata.events == []


@pytest.mark.parametrize(
    ("content", "refused"),
    [
        (b'{"answers": ', ("no_json", "The document is no JSON (at byte 12).", {})),
        (b"\xff\xfe\x00", ("no_json", "The document is no JSON.", {})),
        (b"{}", ("wrong_document", "The document lacks 'release'.", {})),
        (b"[1]", ("no_json", "The document is no JSON object.", {})),
        (b"[" * 100_000, ("too_deep", "The document is nested too deeply to be read.", {})),
    ],
)
def test_what_is_no_document_is_refused_with_its_place(content: bytes, refused: tuple[str, str, Any]) -> None:
    assert refusal(content) == refused


def test_a_field_that_does_not_fit_is_named() -> None:
    code, message, details = refusal(raw(uuid="1"))
    assert (code, details) == ("wrong_document", {"place": "uuid"})
    assert message.startswith("uuid: String should match pattern") and message.endswith(".")
    _, message, details = refusal(raw(paradata={"events": [{}, 3]}))
    assert details == {"place": "paradata/events/1"}
    assert message == "paradata/events/1: Input should be a valid dictionary."
    assert refusal(raw(more=1))[1] == "more: Extra inputs are not permitted."


def test_numbers_keep_their_digits_up_to_what_python_reads() -> None:
    def answer(digits: str) -> Any:
        content = raw(answers={"depth": 0}).replace(b'"depth": 0', f'"depth": {digits}'.encode())
        return read_document(content).document.answers["depth"]

    assert answer("9" * 4000) == int("9" * 4000)
    assert answer("9" * 4001) == "9" * 4001
    assert answer("NaN") == "NaN" and answer("-Infinity") == "-Infinity"


def test_half_a_sign_is_replaced_wherever_it_stands_and_flagged_once() -> None:
    read = read_document(raw(answers={"name": "a\ud83d", "\ude00": ["b\ud83d", {"c": "fine"}]}, kept={"x": "fine"}))
    assert read.flags == ("mended_text",)
    assert read.document.answers == {"name": "a\ufffd", "\ufffd": ["b\ufffd", {"c": "fine"}]}
    assert read_document(raw(answers={"name": "a😀"})).flags == ()


def test_an_unreadable_document_is_an_error_to_whoever_tries() -> None:
    found = try_reading(b"x")
    assert isinstance(found, DataError) and found.code == "no_json"
    assert try_reading(raw()) == read_document(raw())


ARRIVED = datetime(2027, 3, 14, 12, 0, tzinfo=UTC)
ZONE = timezone(timedelta(hours=-8))


def moments(started: Any = None, ended: Any = None) -> Moments:
    return moments_of(Paradata(started=started, ended=ended), ARRIVED, ZONE)


def at(**shift: float) -> str:
    return (ARRIVED + timedelta(**shift)).isoformat()


def test_moments_without_an_offset_are_taken_in_the_time_zone_of_the_study() -> None:
    found = moments("2027-03-14T01:00:00", "2027-03-14T01:30:00-08:00")
    assert found.started == datetime(2027, 3, 14, 9, 0, tzinfo=UTC)
    assert (found.minutes, found.flags) == (30.0, ("no_offset",))
    assert moments("2027-03-14T01:00:00", "2027-03-14T01:30:00").flags == ("no_offset",)


@pytest.mark.parametrize("text", [None, 3, "", "yesterday", "2027-13-01T10:00:00Z", "0001-01-02T23:59:59+00:00"])
def test_a_moment_that_cannot_be_read_is_left_out(text: Any) -> None:
    found = moments(text, at(hours=-1))
    assert (found.started, found.minutes, found.flags) == (None, None, ("unreadable_moment",))
    assert found.ended == ARRIVED - timedelta(hours=1)


def test_moments_at_the_ends_of_the_calendar() -> None:
    assert moments("0001-01-03T00:00:00+00:00").started == datetime(1, 1, 3, tzinfo=UTC)
    assert moments("9999-12-29T00:00:00+00:00").started == datetime(9999, 12, 29, tzinfo=UTC)
    assert moments("9999-12-29T00:00:01+00:00").started is None


def corrected(ahead: Any, started: str, ended: str) -> Moments:
    told = Paradata(started=started, ended=ended, clock_ahead_seconds=ahead)
    return moments_of(told, ARRIVED, ZONE)


def test_moments_of_a_clock_that_was_a_day_ahead_are_corrected_and_its_answers_checked_by_that_clock() -> None:
    found = corrected(86_400, at(hours=22), at(hours=23))
    assert (found.started, found.ended) == (ARRIVED - timedelta(hours=2), ARRIVED - timedelta(hours=1))
    assert (found.minutes, found.flags) == (60.0, ("clock_corrected",))
    assert found.by_its_clock(found.ended) == ARRIVED + timedelta(hours=23)
    behind = corrected(-90_000.5, at(hours=-30), at(hours=-29))
    assert behind.started == ARRIVED - timedelta(hours=30) + timedelta(seconds=90_000.5)


@pytest.mark.parametrize("ahead", [None, 0, 119, -119, True, "86400", float("nan"), float("inf"), 1e12, [], {}])
def test_a_clock_that_was_about_right_or_of_which_nothing_is_known_is_left_alone(ahead: Any) -> None:
    found = corrected(ahead, at(hours=-2), at(hours=-1))
    assert (found.started, found.flags) == (ARRIVED - timedelta(hours=2), ())


def test_moments_at_the_ends_of_the_calendar_are_not_moved() -> None:
    found = corrected(86_400, "0001-01-03T00:00:00+00:00", "9999-12-29T00:00:00+00:00")
    assert found.started == datetime(1, 1, 3, tzinfo=UTC) and "clock_corrected" not in found.flags


@pytest.mark.parametrize(
    ("started", "ended", "flags"),
    [
        (at(hours=-2), at(hours=-1), ()),
        (at(hours=-1), at(hours=-1), ()),
        (at(hours=-1), at(hours=-2), ("ended_before_started",)),
        # An interview may be begun two months before it ends, ahead by a day, and wait for a year to be handed in.
        (at(days=-62, hours=-1), at(hours=-1), ()),
        (at(days=-62, hours=-1, seconds=-1), at(hours=-1), ("clock_off",)),
        (at(days=-366), at(days=-366), ()),
        (at(days=-366, seconds=-1), at(days=-366), ("clock_off",)),
        (at(), at(days=1), ()),
        (at(), at(days=1, seconds=1), ("clock_off",)),
        (at(days=-400), at(days=-400), ("clock_off",)),
        (at(days=2), at(days=-400), ("ended_before_started", "clock_off")),
    ],
)
def test_a_clock_that_was_wrong_is_flagged(started: str, ended: str, flags: tuple[str, ...]) -> None:
    found = moments(started, ended)
    assert found.flags == flags
    assert set(found.flags) <= FLAGS.keys()
    assert (found.minutes is None) == ("ended_before_started" in flags)


def test_minutes_are_told_to_a_tenth() -> None:
    assert moments(at(minutes=-10), at(seconds=-7)).minutes == 9.9
    assert moments(at(minutes=-10), at(minutes=-10)).minutes == 0.0
    assert moments(at(minutes=-10)).minutes is None
    assert moments(ended=at(minutes=-10)).minutes is None


def test_a_time_zone_that_is_not_known_is_taken_for_utc() -> None:
    assert zone_named("Etc/GMT+8").key == "Etc/GMT+8"
    assert [zone_named(name).key for name in ("Nowhere/Ever", "", "../x")] == ["UTC"] * 3
