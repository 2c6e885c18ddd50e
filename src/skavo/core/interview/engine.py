"""The interview engine: answers in, everything else follows.

State is the answers alone. What is asked, the rows of rosters, derived values and findings are computed from them,
and after each answer only what depends on it is computed again. The order in which answers were given leaves no
trace: the same answers always give the same state.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterator
from typing import Any

from skavo.core.errors import InterviewError
from skavo.core.interview.answers import WrongAnswer, write_answer
from skavo.core.interview.broken import Broken, built_in
from skavo.core.interview.earlier import read_earlier
from skavo.core.interview.effective import value_of
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import PartSpec, Release
from skavo.core.interview.rows import MOST_ROWS_IN_ALL, lowered_count, row_names, units_under
from skavo.core.interview.state import InterviewState, Place
from skavo.core.interview.walk import places
from skavo.core.rules.state import Row, rows_under


class Engine(InterviewState):
    """One interview being filled in.

    `outside` is what is known besides the answers: `now` and `interview.started` (datetimes with offset),
    `enumerator.name`, `interview.seed` (any text; the random orders of this interview follow from it), `unit` (id of
    the register unit it is about), `units` (register units by id: {register, kind, label, under, fields …}), and
    `earlier` (answers of the earlier round in JSON form, by path).
    """

    def __init__(
        self,
        release: Release,
        outside: dict[str, Any] | None = None,
        answers: dict[str, Any] | None = None,
        kept: dict[str, str] | None = None,
        language: str | None = None,
    ) -> None:
        super().__init__(release, outside or {}, language)
        self.kept: dict[str, str] = dict(kept or {})
        self.broken: dict[Place, list[Broken]] = {}
        self.unknown: dict[str, Any] = {}
        # Paths of answers that were given or taken back since somebody last asked for them.
        self.unsaved: set[str] = set()
        self.row_count = 0
        self.outside["earlier"] = read_earlier(self, self.outside.get("earlier", {}))
        for path, value in (answers or {}).items():
            try:
                part, row = find_part(release, path)
            except InterviewError:
                self.unknown[path] = value
            else:
                self._put(path, part, row, value)
        self.unsaved.clear()
        self._load()

    # answering

    def answer(self, path: str, value: Any) -> list[str]:
        """Give, change or (with None) take back an answer; return the paths whose state changed.

        `value` is the JSON form of answers.py, or {"special": "dont_know"}. A value that the kind cannot hold is kept
        as given and becomes a finding; raise InterviewError for a path that the release does not have.
        """
        part, row = find_part(self.release, path)
        self._put(path, part, row, value)
        return self._settle([(part.index, row)])

    def remove_row(self, path: str) -> list[str]:
        """Remove a row of a counted roster, as `staff/2`; the other rows keep their names and their answers.

        The answer that says how many rows there are is lowered by one, where it is a plain variable. The removed row's
        answers are kept aside. Raise InterviewError where rows are not counted: there a code or a unit goes instead.
        """
        roster_path, _, name = path.rpartition("/")
        part, row = find_part(self.release, roster_path)
        if part.repeat is None or part.repeat[0] not in ("times", "while"):
            message = f"The rows of {roster_path} come from another answer. Change that one."
            raise InterviewError("row_not_removable", message, {"path": path})
        removed = set(self.given.get((part.index, row), ())) | {int(name)}
        lowered = lowered_count(part, row, self.values)
        changed = self.answer(roster_path, {"removed": sorted(removed)})
        if lowered is not None:
            index, outer, count = lowered
            changed += self.answer(path_of(self.release, index, outer), count)
        return list(dict.fromkeys(changed))

    def keep(self, path: str, check: int, reason: str) -> None:
        """Keep an answer although a soft check is broken, with the reason; an empty reason takes that back."""
        key = f"{path}#{check}"
        if reason.strip():
            self.kept[key] = reason.strip()
        else:
            self.kept.pop(key, None)

    def _put(self, path: str, part: PartSpec, row: Row, value: Any) -> None:
        place = (part.index, row)
        self.unsaved.add(path)
        if value is None:
            self.answers.pop(path, None)
            self.given.pop(place, None)
            self.wrong.pop(place, None)
            return
        self.answers[path] = value
        try:
            self.given[place] = self.read(part, value)
        except WrongAnswer as error:
            self.given.pop(place, None)
            self.wrong[place] = error.code
        else:
            if self.wrong:
                self.wrong.pop(place, None)

    # bringing up to date

    def _load(self) -> None:
        loops = []
        for part in self.release.parts:
            index = part.index
            if part.rosters:
                for row in list(rows_under(self, list(part.rosters), ())):
                    self._update(part, row)
            else:
                self._update(part, ())
            if part.repeat is not None and part.repeat[0] == "while":
                loops.append(index)
        self._settle([(i, row) for i in loops for row in list(self.asked[i])])
        for part in self.release.parts:
            if part.checks or part.needed or part.is_bounded or self.wrong or self.special[part.index]:
                for row, asked in self.asked[part.index].items():
                    if asked and (found := self._broken_at(part, row)):
                        self.broken[part.index, row] = found

    def _settle(self, changed: list[Place]) -> list[str]:
        queue: list[Place] = list(changed)
        queued, touched, to_check = set(queue), set(queue), set(queue)
        heapq.heapify(queue)
        parts = self.release.parts
        while queue:
            place = heapq.heappop(queue)
            queued.discard(place)
            part, row = parts[place[0]], place[1]
            gone_rows = self._gone_rows(part, row)
            if not self._update(part, row) and place not in changed:
                continue
            touched.add(place)
            to_check.add(place)
            for follower in self._followers(part, row, gone_rows):
                if follower not in queued:
                    queued.add(follower)
                    heapq.heappush(queue, follower)
            for index, shared in part.affects_checks:
                to_check.update((index, r) for r in self._instances(index, row[:shared]))
        for index, row in to_check:
            self._check(parts[index], row)
        return [path_of(self.release, index, row) for index, row in sorted(touched | to_check)]

    def _gone_rows(self, part: PartSpec, row: Row) -> list[Any]:
        return self.rows[part.index].get(row, []) if part.repeat is not None else []

    def _followers(self, part: PartSpec, row: Row, rows_before: list[Any]) -> Iterator[Place]:
        if part.repeat is not None:
            names = dict.fromkeys([*rows_before, *self.rows[part.index].get(row, [])])
            for child in part.children:
                yield from ((child, (*row, name)) for name in names)
        else:
            yield from ((child, row) for child in part.children)
        for index, shared in part.affects:
            yield from ((index, r) for r in self._instances(index, row[:shared]))

    def _instances(self, index: int, prefix: Row) -> list[Row]:
        rosters = self.release.parts[index].rosters
        return list(rows_under(self, list(rosters[len(prefix) :]), prefix))

    def _exists(self, part: PartSpec, row: Row) -> bool:
        assert part.parent is not None
        if part.in_roster:
            outer = row[:-1]
            return self.asked[part.parent].get(outer, False) and row[-1] in self.rows[part.parent].get(outer, ())
        return self.asked[part.parent].get(row, False)

    def _update(self, part: PartSpec, row: Row) -> bool:
        """Bring one place up to date; say whether anything about it changed."""
        index = part.index
        exists = part.parent is None or self._exists(part, row)
        asked = exists and (part.asked_when is None or part.asked_when(self, row) is True)
        known_asked = self.asked[index]
        changed = known_asked.get(row) is not asked
        known_asked[row] = asked
        if part.repeat is not None:
            rows = self._rows_of(part, row) if asked else []
            before = self.rows[index].get(row, [])
            if rows != before:
                self.rows[index][row] = rows
                self._count_rows(len(rows) - len(before))
                return True
            return changed
        value = value_of(self, part, row) if asked else None
        special = None
        if isinstance(value, dict):
            special, value = value["special"], None
        table = self.values[index]
        known = table.get(row)
        if value is None:
            if known is not None:
                del table[row]
                changed = True
        elif known != value or type(known) is not type(value):
            table[row] = value
            changed = True
        specials = self.special[index]
        if special is not None:
            changed = changed or specials.get(row) != special
            if specials is self.no_specials:
                specials = self.special[index] = {}
            specials[row] = special
        elif specials and specials.pop(row, None) is not None:
            changed = True
        return changed

    def _count_rows(self, more: int) -> None:
        self.row_count += more
        if self.row_count > MOST_ROWS_IN_ALL:
            message = (
                f"The rosters have more than {MOST_ROWS_IN_ALL} rows together. Look at the answers that say how many."
            )
            raise InterviewError("too_many_rows", message, {"most": MOST_ROWS_IN_ALL})

    def _rows_of(self, part: PartSpec, row: Row) -> list[Any]:
        assert part.repeat is not None
        form, rule = part.repeat
        if form in ("times", "while"):
            return row_names(form, rule, self, row, self.given.get((part.index, row), ()))
        value = rule(self, row)
        if value is None:
            return []
        if form == "units":
            return units_under(self.outside.get("units", {}), value, part.raw["register"])
        # “None of these” is an answer, and nothing to have a row of its own.
        return [code for code in value if code not in self.release.exclusive[part.raw["repeat"][2]]]

    # findings

    def _check(self, part: PartSpec, row: Row) -> None:
        found = self._broken_at(part, row) if self.asked[part.index].get(row) else None
        if found:
            self.broken[part.index, row] = found
        elif self.broken:
            self.broken.pop((part.index, row), None)

    def _broken_at(self, part: PartSpec, row: Row) -> list[Broken]:
        found = []
        for check in part.checks:
            if check.rule(self, row) is False:
                found.append(Broken(f"{check.strength}_hold", check.strength, check.number))
        if self.wrong and (part.index, row) in self.wrong:
            return [Broken(self.wrong[part.index, row], "must"), *found]
        value = self.values[part.index].get(row)
        if value is not None:
            return [*built_in(self, part, row, value), *found] if part.is_bounded else found
        special = self.special[part.index].get(row)
        if special is None and part.kind.read is not None and self.is_needed(part, row):
            found.insert(0, Broken("needed", "must"))
        elif special is not None and special not in part.raw["special"]:
            found.insert(0, Broken("no_special_answer", "must"))
        return found

    def is_needed(self, part: PartSpec, row: Row) -> bool:
        return part.needed if isinstance(part.needed, bool) else part.needed(self, row) is True

    # the whole

    def places(self) -> Iterator[Place]:
        """Every place that is asked, in the order of asking, each roster row by row."""
        return places(self)

    def derived_values(self) -> dict[str, Any]:
        """What was derived, by path, in JSON form; handed in so that the office can compare."""
        return {
            path_of(self.release, index, row): write_answer(self.values[index][row])
            for index, row in self.places()
            if self.release.parts[index].derived is not None and row in self.values[index]
        }

    def packed_answers(self) -> dict[str, Any]:
        """The answers that are handed in: those asked, defaults among them, kept-aside ones not."""
        packed: dict[str, Any] = {}
        for index, row in self.places():
            part, path = self.release.parts[index], path_of(self.release, index, row)
            if part.derived is not None:
                continue
            special = self.special[index].get(row)
            if special is not None:
                packed[path] = {"special": special}
            elif row in self.values[index]:
                as_given = part.reads_back is not None
                packed[path] = self.answers[path] if as_given else write_answer(self.values[index][row])
            elif (index, row) in self.wrong or (part.repeat is not None and (index, row) in self.given):
                packed[path] = self.answers[path]
        return packed

    def snapshot(self) -> dict[str, Any]:
        """Everything that follows from the answers, as plain data; equal for equal answers."""
        return {
            "asked": [path_of(self.release, i, r) for i, r in self.places()],
            "answers": self.packed_answers(),
            "derived": self.derived_values(),
            "findings": sorted(
                (path_of(self.release, i, r), b.code, b.check) for (i, r), broken in self.broken.items() for b in broken
            ),
        }
