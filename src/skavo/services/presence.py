"""Who has a script open at the moment, and on which line: told by every open page, forgotten when it falls silent."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock
from time import monotonic

from pydantic import BaseModel

from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire

SILENT_AFTER = 12.0
MOST_PAGES = 200


class AtWork(BaseModel):
    """Somebody who has the script open; `part_id` is the line, "" for none. `same_person` is another page of one's own."""

    name: str
    part_id: str
    same_person: bool


class PresenceOut(BaseModel):
    """`version` is that of the script as it is kept now."""

    version: int
    others: list[AtWork]


@dataclass(frozen=True)
class _Page:
    name: str
    person_id: int | None
    part_id: str
    at: float


class Presence:
    """The open pages of each questionnaire, in memory only: after a restart they tell themselves again."""

    def __init__(self, clock: Callable[[], float] = monotonic) -> None:
        self._clock = clock
        self._pages: dict[int, dict[str, _Page]] = {}
        self._lock = Lock()

    def tell(self, questionnaire_id: int, tab: str, name: str, person_id: int | None, part_id: str) -> list[AtWork]:
        """Note one page and return the others, those seen first first."""
        now = self._clock()
        with self._lock:
            pages = self._pages.setdefault(questionnaire_id, {})
            for silent in [key for key, page in pages.items() if now - page.at > SILENT_AFTER]:
                del pages[silent]
            if tab in pages or len(pages) < MOST_PAGES:
                pages[tab] = _Page(name, person_id, part_id, now)
            return [
                AtWork(name=page.name, part_id=page.part_id, same_person=page.person_id == person_id)
                for key, page in pages.items()
                if key != tab
            ]

    def leave(self, questionnaire_id: int, tab: str) -> None:
        with self._lock:
            self._pages.get(questionnaire_id, {}).pop(tab, None)


def tell_presence(desk: Desk, presence: Presence, questionnaire_id: int, tab: str, part_id: str | None) -> PresenceOut:
    """Say where one is, None having left, and learn where the others are."""
    with desk.store.reading() as session:
        version = the_questionnaire(session, questionnaire_id).version
    if part_id is None:
        presence.leave(questionnaire_id, tab)
        return PresenceOut(version=version, others=[])
    others = presence.tell(questionnaire_id, tab, desk.name, desk.person_id, part_id)
    return PresenceOut(version=version, others=others)
