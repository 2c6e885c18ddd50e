"""Who is at work on a script: seen while their page tells so, gone when it falls silent or is left."""

from __future__ import annotations

from skavo.services.desk import Desk
from skavo.services.presence import SILENT_AFTER, Presence, tell_presence
from tests.store.study import SmallStudy


class Clock:
    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


def test_two_see_each_others_lines_and_not_their_own() -> None:
    presence = Presence(Clock())
    assert presence.tell(1, "tab of dora", "Dora", 1, "p1") == []
    [dora] = presence.tell(1, "tab of sela", "Sela", 2, "p2")
    assert (dora.name, dora.part_id, dora.same_person) == ("Dora", "p1", False)
    [sela] = presence.tell(1, "tab of dora", "Dora", 1, "p3")
    assert (sela.name, sela.part_id) == ("Sela", "p2")
    assert presence.tell(2, "tab of orrin", "Orrin", 3, "p1") == []


def test_another_page_of_the_same_person_is_told_as_such() -> None:
    presence = Presence(Clock())
    presence.tell(1, "first tab", "Dora", 1, "p1")
    assert [other.same_person for other in presence.tell(1, "second tab", "Dora", 1, "")] == [True]


def test_whoever_falls_silent_or_leaves_is_gone() -> None:
    clock = Clock()
    presence = Presence(clock)
    presence.tell(1, "tab of dora", "Dora", 1, "p1")
    clock.now += SILENT_AFTER
    assert len(presence.tell(1, "tab of sela", "Sela", 2, "")) == 1
    clock.now += 0.1
    assert presence.tell(1, "tab of sela", "Sela", 2, "") == []
    presence.leave(1, "tab of sela")
    assert presence.tell(1, "tab of orrin", "Orrin", 3, "") == []


def test_the_version_kept_is_told_and_leaving_is_noted(desk: Desk, study: SmallStudy) -> None:
    presence = Presence()
    told = tell_presence(desk, presence, study.questionnaire_id, "a tab of dora", "p1")
    assert (told.version, told.others) == (1, [])
    tell_presence(desk, presence, study.questionnaire_id, "a tab of dora", None)
    assert tell_presence(desk, presence, study.questionnaire_id, "another tab", "p2").others == []
