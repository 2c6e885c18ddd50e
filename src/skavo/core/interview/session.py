"""One interview behind a window of JSON: what the phone's worker and the desk's preview call."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from skavo.core.interview.code_search import find_codes
from skavo.core.interview.engine import Engine
from skavo.core.interview.exercise import differences
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import Release
from skavo.core.interview.screens import OverviewLine, PackedInterview, SavedInterview, Screen, Unsaved
from skavo.core.interview.state import Place
from skavo.core.interview.unit_choices import units_used
from skavo.core.interview.view import (
    all_findings,
    grid_lines,
    overview,
    overview_line,
    page_lines,
    progress,
    show_step,
    steps,
)
from skavo.core.interview.walk import next_screen, previous_screen

_releases: dict[str, Release] = {}


def load_release(key: str, release_json: str) -> None:
    """Keep a release under `key`, so that interviews made with it need not send it again."""
    _releases[key] = Release(json.loads(release_json))


class Session:
    """`interview` is {answers, kept, language}; `outside` is that of Engine, with its moments in ISO 8601."""

    def __init__(self, release_key: str, interview_json: str, outside_json: str) -> None:
        interview: dict[str, Any] = json.loads(interview_json)
        outside: dict[str, Any] = json.loads(outside_json)
        for moment in ("now", "interview.started"):
            if moment in outside:
                outside[moment] = datetime.fromisoformat(outside[moment])
        self.engine = Engine(
            _releases[release_key], outside, interview.get("answers"), interview.get("kept"), interview.get("language")
        )

    def way(self) -> str:
        """The paths of all screens in order, as JSON."""
        return json.dumps([path_of(self.engine.release, i, r) for i, r in steps(self.engine)])

    def show(self, path: str) -> str:
        """The screen of one path, with what stands before and behind it, as JSON."""
        return json.dumps(self._screen(path), ensure_ascii=False)

    def _screen(self, path: str) -> Screen:
        part, row = find_part(self.engine.release, path)
        place = (part.index, row)
        is_asked = self.engine.asked[part.index].get(row, False)
        before = previous_screen(self.engine, place) if is_asked else None
        return {
            **show_step(self.engine, path),
            "before": None if before is None else self._answered(before),
            "previous": self._path(before),
            "next": self._path(next_screen(self.engine, place)) if is_asked else None,
            "progress": progress(self.engine, path),
        }

    def _answered(self, place: Place) -> OverviewLine | None:
        line = overview_line(self.engine, place)
        return line if line["answer"] else None

    def _path(self, place: Place | None) -> str | None:
        return None if place is None else path_of(self.engine.release, *place)

    def remaining(self, path: str) -> int:
        """How many screens come behind this one, as far as can be known now."""
        paths = [path_of(self.engine.release, i, r) for i, r in steps(self.engine)]
        return len(paths) - paths.index(path) - 1 if path in paths else 0

    def grid(self, path: str) -> str:
        """All lines of the grid that a path stands in, as JSON screens; none where it stands in no grid."""
        return json.dumps([self._screen(line) for line in grid_lines(self.engine, path)], ensure_ascii=False)

    def page(self, path: str) -> str:
        """All questions of the section that a path stands in, as JSON screens."""
        return json.dumps([self._screen(line) for line in page_lines(self.engine, path)], ensure_ascii=False)

    def find_codes(self, path: str, typed: str) -> str:
        """The codes of a long list that hold what was typed, as JSON."""
        return json.dumps(find_codes(self.engine, path, typed), ensure_ascii=False)

    def answer(self, path: str, value_json: str) -> str:
        """Take an answer and return its screen as it is now."""
        self.engine.answer(path, json.loads(value_json))
        return self.show(path)

    def remove_row(self, path: str) -> str:
        """Remove a row of a counted roster; return the way as it is now."""
        self.engine.remove_row(path)
        return self.way()

    def keep(self, path: str, check: int, reason: str) -> str:
        self.engine.keep(path, check, reason)
        return self.show(path)

    def speak(self, language: str) -> None:
        self.engine.set_language(language)

    def overview(self, with_derived: bool = False) -> str:
        return json.dumps(overview(self.engine, with_derived=with_derived), ensure_ascii=False)

    def findings(self) -> str:
        return json.dumps(all_findings(self.engine), ensure_ascii=False)

    def exercise(self, exercise_json: str) -> str:
        """What was entered otherwise than in the exercise {answers, now, started}, as JSON."""
        return json.dumps(differences(self.engine, json.loads(exercise_json)), ensure_ascii=False)

    def saved(self) -> str:
        """What has to be written down to come back to this state: all answers, the kept-aside ones too."""
        saved: SavedInterview = {
            "answers": self.engine.answers, "kept": self.engine.kept, "language": self.engine.language,
        }  # fmt: skip
        return json.dumps(saved, ensure_ascii=False)

    def unsaved(self) -> str:
        """What has changed since this was asked last, to be written down on top of what is there."""
        paths, self.engine.unsaved = self.engine.unsaved, set()
        changed: Unsaved = {
            "answers": {path: self.engine.answers.get(path) for path in sorted(paths)},
            "kept": self.engine.kept,
            "language": self.engine.language,
        }
        return json.dumps(changed, ensure_ascii=False)

    def packed(self) -> str:
        """What is handed in: the answers asked, and what was kept although a soft check was broken."""
        packed: PackedInterview = {
            "answers": self.engine.packed_answers(),
            "derived": self.engine.derived_values(),
            "units": units_used(self.engine, self.engine.release.parts),
            "kept": self.engine.kept,
            "language": self.engine.language,
        }
        return json.dumps(packed, ensure_ascii=False)
