"""A rehearsal that is kept gives the same data set and the same interviews when it is read again."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.rehearse import rehearse
from skavo.formats.kept_rehearsal import read_kept, write_kept
from tests.samples import part, release_of, script, staff_script
from tests.workshop import workshop_script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


@pytest.mark.parametrize("sample", [workshop_script(), staff_script()], ids=["demo", "staff"])
def test_what_is_read_again_is_what_was_made(sample: Script) -> None:
    release = release_of(sample)
    made = rehearse(release, 15, 4, now=NOW)
    kept = read_kept(write_kept(release, made))
    assert kept.release == release.raw
    assert [(name, table.layout) for name, table in kept.data.items()] == [
        (name, table.layout) for name, table in made.data.items()
    ]
    assert all(kept.data[name].frame.equals(table.frame) for name, table in made.data.items())


def test_an_interview_of_it_comes_to_the_same_again() -> None:
    sample = script(
        part(1, "date", "visit", must=["visit <= today"], answer_needed="yes"),
        part(1, "whole number", "before", must=["before >= earlier.before"], answer_needed="yes"),
        part(1, "derived value", "age_of_it", derived="days(visit, today)"),
    )
    release = release_of(sample)
    made = rehearse(release, 6, 2, now=NOW)
    for interview, document in zip(read_kept(write_kept(release, made)).interviews, made.documents, strict=True):
        outside = {**interview.outside}
        for moment in ("now", "interview.started"):
            outside[moment] = datetime.fromisoformat(outside[moment])
        engine = Engine(release, outside, interview.answers, None, interview.language)
        derived = document["tables"]["interviews"][0]["values"]["id_age_of_it"]
        assert engine.derived_values()["age_of_it"] == derived
        assert not [broken for broken in engine.broken.values() if broken]
