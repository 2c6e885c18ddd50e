"""A simulated phone: pairs, fetches the release, fills interviews with the real engine, hands in over HTTP."""

from __future__ import annotations

import hashlib
import json
import random
import urllib.request
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from skavo.core.errors import DataError
from skavo.core.interview.engine import Engine
from skavo.core.interview.formats import INTERVIEW
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import Release
from skavo.core.interview.view import all_findings, steps


@dataclass(frozen=True)
class Taken:
    """A photo, a recording or another file that somebody took in answer to a question; `kind` is the question's."""

    kind: str
    name: str
    type: str
    content: bytes

    @property
    def digest(self) -> str:
        return hashlib.sha256(self.content).hexdigest()

    def reference(self) -> dict[str, Any]:
        """What stands in the answers."""
        return {"file": self.digest, "name": self.name, "type": self.type, "bytes": len(self.content)}


# Answers one question: (variable, path, engine) -> JSON value or Taken, or None to leave it.
Respondent = Callable[[str, str, Engine], Any]
MOST_PASSES = 400


class Phone:
    """One device of one enumerator, talking to the server at `address`."""

    def __init__(self, address: str, code: str, name: str) -> None:
        self.address = address.rstrip("/")
        self.name = name
        self._taken: dict[str, Taken] = {}
        self._sheets: list[str] = []
        self._kinds: dict[str, Release] = {}
        self.identity = self.hash = ""
        paired = self._call("POST", "/api/field/pair", {"code": code, "device": name}, token="")
        self.token, self.enumerator = paired["token"], paired["enumerator"]
        profile = self.tell()
        line = profile["releases"][0]
        self.identity, self.hash = line["identity"], line["hash"]
        self.release = Release(self._call("GET", f"/api/field/releases/{self.identity}")["compiled"])
        self.tell()

    def tell(self, **about: Any) -> Any:
        """Tell the office what this phone holds, and `about` what else it knows of itself; return what it is to hold."""
        held = {self.hash: 0} if self.hash else {}
        body = {"in_hand": 0, "packed": 0, "releases": held, "sheets": self._sheets, **about}
        answer = self._call("POST", "/api/field/profile", body)
        for sheet in answer["sheets"]:
            if sheet["hash"] not in self._sheets:
                self._sent("GET", f"/api/field/map-sheets/{sheet['hash']}")
                self._sheets.append(sheet["hash"])
        return answer

    def _call(self, method: str, path: str, body: Any = None, token: str | None = None) -> Any:
        return json.loads(self._sent(method, path, body, token))

    def _sent(self, method: str, path: str, body: Any = None, token: str | None = None) -> bytes:
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        headers = {
            "Content-Type": "application/json",
            "Authorization": f"Bearer {self.token if token is None else token}",
        }
        request = urllib.request.Request(self.address + path, data=data, method=method, headers=headers)
        with urllib.request.urlopen(request, timeout=60) as answer:
            content: bytes = answer.read()
            return content

    def interview(
        self,
        respondent: Respondent,
        *,
        rng: random.Random,
        started: datetime,
        minutes: float,
        language: str = "en",
        break_off_at: str = "",
        keep_reason: Callable[[str], str] = lambda _variable: "Asked again, it is so",
    ) -> dict[str, Any]:
        """Fill one interview from the first screen to the last and pack it; return the document."""
        engine = Engine(self.release, {"now": started, "enumerator.name": self.enumerator}, language=language)
        events = self._fill(engine, respondent, started, minutes, break_off_at)
        unfinished = "The respondent had to leave" if break_off_at else ""
        return self.pack(
            engine, rng=rng, started=started, minutes=minutes, events=events, unfinished=unfinished,
            keep_reason=keep_reason,
        )  # fmt: skip

    def pack(
        self,
        engine: Engine,
        *,
        rng: random.Random,
        started: datetime,
        minutes: float,
        events: list[dict[str, Any]] | None = None,
        unfinished: str = "",
        keep_reason: Callable[[str], str] = lambda _variable: "Asked again, it is so",
    ) -> dict[str, Any]:
        """The document of a filled interview, as a phone packs it."""
        for finding in all_findings(engine):
            if finding["strength"] == "should":
                engine.keep(finding["path"], finding["check"], keep_reason(finding["path"].split("/")[-1]))
        return {
            "format": INTERVIEW.newest,
            "uuid": str(uuid.UUID(int=rng.getrandbits(128), version=4)),
            "release": self.identity,
            "release_hash": self.hash,
            "basis": "",
            "answers": engine.packed_answers(),
            "derived": engine.derived_values(),
            "kept": engine.kept,
            "language": engine.language,
            "practice": False,
            "unfinished": unfinished,
            "visit": "",
            "known": {"unit": None, "units": {}, "earlier": {}},
            "paradata": {
                "started": started.isoformat(),
                "ended": (started + timedelta(minutes=minutes)).isoformat(),
                "device": self.name,
                "enumerator": self.enumerator,
                "events": events or [],
            },
        }  # fmt: skip

    def keep(self, taken: Taken) -> dict[str, Any]:
        """Keep a file until its interview is handed in; the answer is its reference."""
        self._taken[taken.digest] = taken
        return taken.reference()

    def kind_at(self, path: str) -> str:
        """The kind of question that a path names."""
        return find_part(self.release, path)[0].kind.name

    def _fill(
        self, engine: Engine, respondent: Respondent, started: datetime, minutes: float, break_off_at: str
    ) -> list[dict[str, Any]]:
        events: list[dict[str, Any]] = []
        done: set[str] = set()
        for _ in range(MOST_PASSES):
            path = next((p for i, r in steps(engine) if (p := path_of(self.release, i, r)) not in done), None)
            if path is None:
                break
            done.add(path)
            part, _row = find_part(self.release, path)
            if part.variable == break_off_at:
                break
            value = respondent(part.variable, path, engine) if part.kind.takes_answer else None
            if isinstance(value, Taken):
                value = self.keep(value)
            if value is not None:
                engine.answer(path, value)
            events.append({"kind": "answered" if value is not None else "seen", "path": path})
        for number, event in enumerate(events):
            event["at"] = (started + timedelta(minutes=minutes * (number + 1) / len(events))).isoformat()
        return events

    def visits(self) -> dict[str, Any]:
        """The visits of its person, as the office tells them."""
        found: dict[str, Any] = self._call("GET", "/api/field/visits")
        return found

    def units(self) -> dict[str, Any]:
        """The units that its person carries, all of them."""
        found: dict[str, Any] = self._call("POST", "/api/field/units", {"pieces": {}})
        return found

    def release_of(self, kind: dict[str, Any]) -> Release:
        """The fields of a kind of unit."""
        if kind["release"] not in self._kinds:
            compiled = self._call("GET", f"/api/field/releases/{kind['release']}")["compiled"]
            self._kinds[kind["release"]] = Release(compiled)
        return self._kinds[kind["release"]]

    def change_unit(
        self, kind: dict[str, Any], unit: dict[str, Any], found: dict[str, Any], *, rng: random.Random, at: datetime,
        **told: Any,
    ) -> dict[str, Any]:  # fmt: skip
        """Hand in that a unit was `found` otherwise, by the name of the field; return the receipt."""
        release = self.release_of(kind)
        named = {part.raw["id"]: part.variable for part in release.parts}
        answers = {named[part_id]: value for part_id, value in unit["answers"].items()} | found
        engine = Engine(release, {"now": at, "enumerator.name": self.enumerator}, answers)
        document = self.pack(engine, rng=rng, started=at, minutes=2)
        about = {"identity": unit["unit"], "before": unit["answers"], **told}
        return self.hand_in({**document, "release": kind["release"], "release_hash": kind["hash"], "about": about})

    def attempt(self, visit: str, outcome: str, at: datetime, *, rng: random.Random, **more: Any) -> None:
        """Tell how an attempt at a visit ended."""
        identity = more.get("interview") or str(uuid.UUID(int=rng.getrandbits(128), version=4))
        told = {"visit": visit, "outcome": outcome, "at": at.isoformat(), **more}
        self._call("PUT", f"/api/field/attempts/{identity}", told)

    def hand_in(self, document: dict[str, Any]) -> dict[str, Any]:
        """Send the files of an interview, then itself; return the receipt."""
        text = json.dumps(document, ensure_ascii=False)
        for digest in [digest for digest in self._taken if digest in text]:
            taken = self._taken.pop(digest)
            path = f"/api/field/interviews/{document['uuid']}/files/{digest}?kind={taken.kind}"
            self._call("PUT", path, taken.content)
        raw = text.encode()
        receipt: dict[str, Any] = self._call("PUT", f"/api/field/interviews/{document['uuid']}", raw)
        if receipt["hash"] != hashlib.sha256(raw).hexdigest():
            raise DataError("disk_damaged", "The receipt names other bytes than were sent.")
        return receipt
