"""The state of one interview: what was answered, and what follows from it. The engine keeps it; all others only read it."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from skavo.core.interview.answers import SPECIAL_ANSWERS, WrongAnswer, in_list_order
from skavo.core.interview.release import PartSpec, Release
from skavo.core.interview.rows import read_removed
from skavo.core.rules.state import Row

Place = tuple[int, Row]


class InterviewState:
    """One table per part of the release, keyed by row (`()` outside rosters); see core.rules.state.State for those rules read.

    `given` holds the answers that their kind can hold, `wrong` why others cannot be, `answers` all of them in JSON form
    by path. `outside` is what is known besides the answers; see Engine.
    """

    def __init__(self, release: Release, outside: dict[str, Any], language: str | None) -> None:
        self.release = release
        self.outside: dict[str, Any] = {"now": datetime.now().astimezone(), **outside}
        self.set_language(language or release.languages[0])
        parts = range(len(release.parts))
        self.values: list[dict[Row, Any]] = [{} for _ in parts]
        # One empty table stands for all parts that never had a special answer.
        self.no_specials: dict[Row, str] = {}
        self.special: list[dict[Row, str]] = [self.no_specials] * len(release.parts)
        self.asked: list[dict[Row, bool]] = [{} for _ in parts]
        no_rows: dict[Row, list[Any]] = {}
        self.rows: list[dict[Row, list[Any]]] = [no_rows if p.repeat is None else {} for p in release.parts]
        self.given: dict[Place, Any] = {}
        self.wrong: dict[Place, str] = {}
        self.answers: dict[str, Any] = {}

    def set_language(self, language: str) -> None:
        """The interview goes on in this language; rules may ask for it."""
        self.read_in(language)
        self.outside["interview.language"] = self.language

    def read_in(self, language: str) -> None:
        """Texts come in this language, in the first one where a translation is missing."""
        self.language = language if language in self.release.languages else self.release.languages[0]

    def label(self, code_list: str, code: str) -> str:
        texts = self.release.labels.get(code_list, {}).get(code, {})
        return texts.get(self.language) or texts.get(self.release.languages[0]) or code

    @property
    def own_words(self) -> dict[str, str]:
        """Words of buttons and messages that the questionnaire brings for the language spoken."""
        return self.release.words.get(self.language, {})

    @property
    def seed(self) -> str:
        return str(self.outside.get("interview.seed", ""))

    def read(self, part: PartSpec, value: Any) -> Any:
        """An answer in JSON form as a value; raise WrongAnswer where the kind cannot hold it."""
        if isinstance(value, dict) and "special" in value:
            if value["special"] in SPECIAL_ANSWERS and part.kind.read is not None:
                return {"special": value["special"]}
            raise WrongAnswer("no_special_answer")
        if part.repeat is not None:
            return read_removed(part, value)
        if part.kind.read is None:
            raise WrongAnswer("takes_no_answer")
        read = part.kind.read(value)
        if not part.kind.uses_codes:
            return read
        known = self.release.labels[part.raw["code_list"]]
        chosen = (read,) if isinstance(read, str) else read
        if any(code not in known for code in chosen):
            raise WrongAnswer("no_such_code")
        if isinstance(read, str) or part.kind.name == "ranking":
            return read or None
        return in_list_order(read, self.release.orders[part.raw["code_list"]]) or None

    def offered_codes(self, part: PartSpec, row: Row) -> list[dict[str, Any]]:
        """The codes of a question that may be chosen here: all, or those its code filter lets through."""
        codes = self.release.lists.get(part.raw["code_list"], [])
        if part.code_filter is None:
            return codes
        if part.codes_under is not None:
            return part.codes_under.codes.get(part.codes_under.value(self, row), [])
        offered = []
        for code in codes:
            self.outside["code"] = {**code["attributes"], "code": code["code"]}
            if part.code_filter(self, row) is True:
                offered.append(code)
        return offered
