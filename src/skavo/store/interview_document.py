"""What a device hands in, read as far as it can be: a doubtful moment or text is flagged, not refused."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skavo.core.errors import DataError, SkavoError
from skavo.core.interview.formats import INTERVIEW

# Flags of an interview: what is doubtful about it, though it counts.
FLAGS: dict[str, str] = {
    "no_offset": "A moment has no offset from UTC; it was taken in the study’s time zone.",
    "unreadable_moment": "A moment cannot be read; it is left out.",
    "ended_before_started": "It ended before it was started: the device’s clock was moved.",
    "clock_off": "Its moments lie far from its arrival: the device’s clock is wrong.",
    "clock_corrected": "The device’s clock was wrong; its moments are corrected by what it was off.",
    "other_enumerator": "It names another enumerator than the one whose phone handed it in.",
    "mended_text": "A text held half a sign, as when one is cut in the middle; the half is replaced.",
}
# Where adding an offset would lead out of the calendar.
_EARLIEST = datetime(1, 1, 3, tzinfo=UTC)
_LATEST = datetime(9999, 12, 29, tzinfo=UTC)
_AHEAD = timedelta(days=1)
_BEHIND = timedelta(days=366)
_LONGEST = timedelta(days=62)
# A clock that is off by less is right enough; one that is off by more tells nothing.
_MATTERS = timedelta(minutes=2)
_CORRECTED_FROM, _CORRECTED_TO = 1900, 9000
_MOST_AHEAD_SECONDS = 10 * 366 * 86_400
# Python refuses longer ones; as texts they become a finding of their question instead.
_MOST_DIGITS = 4_000


class Exercise(BaseModel):
    """The test interview that was practised with, and how many answers were entered otherwise."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(max_length=200)
    differences: int = Field(ge=0, le=10**6)


class Paradata(BaseModel):
    """Data about the asking; moments in ISO 8601, as the device's clock had them."""

    model_config = ConfigDict(extra="allow")
    started: Any = None
    ended: Any = None
    device: str = ""
    enumerator: str = ""
    # {latitude, longitude, accuracy} where it began, or {problem}; only where the release asks for it.
    place: dict[str, Any] | None = None
    events: list[dict[str, Any]] = Field(default_factory=list)
    # {batch, number} of what was keyed from paper: how long the interview took, and at which hour, nobody knows.
    paper: dict[str, Any] | None = None
    exercise: Exercise | None = None
    # How far the device's clock was ahead of the office's when both last met; behind is negative.
    clock_ahead_seconds: Any = None


class KnownBefore(BaseModel):
    """What was known besides the answers: `unit` is the identity of the register unit it is about, `units` what rules ask
    of units by their identity, `earlier` the answers of the earlier round by path."""

    model_config = ConfigDict(extra="forbid")
    unit: str | None = Field(default=None, max_length=200)
    units: dict[str, dict[str, Any]] = Field(default_factory=dict)
    earlier: dict[str, Any] = Field(default_factory=dict)


class UnitTold(BaseModel):
    """The unit that a document changes, or makes, instead of telling an interview.

    `identity` is the unit's, given by the phone where it is `made`; then `above` is the identity of what it lies under,
    "" for nothing, and `key` the one that was wanted, "" for the next free one. `before` are its answers as they were seen
    when the change began, by the identity of the field. `closed` says why it is closed, "" where it is not.
    """

    model_config = ConfigDict(extra="forbid")
    identity: str = Field(pattern=r"^[0-9a-f]{32}$")
    made: bool = False
    above: str = Field(default="", pattern=r"^([0-9a-f]{32})?$")
    key: str = Field(default="", max_length=64)
    before: dict[str, Any] = Field(default_factory=dict)
    closed: str = Field(default="", max_length=1000)


class InterviewDocument(BaseModel):
    """An interview as a device packs it, in the newest format of core.interview.formats.INTERVIEW.

    `release` is the identity of the release it was made with, `release_hash` that of its content; `basis` is the hash
    of the revision that it corrects, "" where it was begun afresh; `remarks` are the
    enumerator's, by path; `unfinished` says why it broke off. `visit` is the identity of the visit it was made on, "" for
    none. Where it is `about` a unit, the answers are the unit's, and the release is that of its kind.
    """

    model_config = ConfigDict(extra="forbid")
    format: str = INTERVIEW.newest
    uuid: str = Field(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")
    release: str = Field(default="", pattern=r"^([0-9a-f]{32})?$")
    release_hash: str = Field(pattern=r"^[0-9a-f]{64}$")
    basis: str = Field(default="", pattern=r"^([0-9a-f]{64})?$")
    answers: dict[str, Any]
    derived: dict[str, Any] = Field(default_factory=dict)
    kept: dict[str, str] = Field(default_factory=dict)
    language: str = Field(default="en", max_length=35)
    remarks: dict[str, str] = Field(default_factory=dict)
    practice: bool = False
    unfinished: str = Field(default="", max_length=1000)
    visit: str = Field(default="", pattern=r"^([0-9a-f]{32})?$")
    known: KnownBefore = Field(default_factory=KnownBefore)
    about: UnitTold | None = None
    paradata: Paradata


@dataclass(frozen=True)
class ReadDocument:
    """A document with what was flagged while it was read: keys of FLAGS."""

    document: InterviewDocument
    flags: tuple[str, ...]


def read_document(raw: bytes) -> ReadDocument:
    """The document in `raw`, of any version; raise DataError or FormatError where it is none."""
    try:
        parsed = json.loads(raw, parse_int=_int, parse_constant=lambda name: name)
    except RecursionError:
        raise DataError("too_deep", "The document is nested too deeply to be read.") from None
    except ValueError as error:
        place = f" (at byte {error.pos})" if isinstance(error, json.JSONDecodeError) else ""
        raise DataError("no_json", f"The document is no JSON{place}.") from None
    if not isinstance(parsed, dict):
        raise DataError("no_json", "The document is no JSON object.")
    mended = _Mended()
    try:
        body = INTERVIEW.read(mended.whole(parsed))
        document = InterviewDocument.model_validate(body)
    except ValidationError as error:
        first = error.errors(include_input=False, include_url=False)[0]
        place = "/".join(str(piece) for piece in first["loc"]) or "the document"
        raise DataError("wrong_document", f"{place}: {first['msg']}.", {"place": place}) from None
    except (KeyError, TypeError) as error:
        raise DataError("wrong_document", f"The document lacks {error}.") from None
    except RecursionError:
        raise DataError("too_deep", "The document is nested too deeply to be read.") from None
    return ReadDocument(document, ("mended_text",) if mended.count else ())


def try_reading(raw: bytes) -> ReadDocument | SkavoError:
    """The document, or the error that says why it cannot be read."""
    try:
        return read_document(raw)
    except SkavoError as error:
        return error


def _int(digits: str) -> int | str:
    return int(digits) if len(digits) <= _MOST_DIGITS else digits


class _Mended:
    """Replaces halves of surrogate pairs, which JSON can hold and no database keeps."""

    def __init__(self) -> None:
        self.count = 0

    def whole(self, piece: Any) -> Any:
        if isinstance(piece, str):
            return self._text(piece)
        if isinstance(piece, list):
            return [self.whole(value) for value in piece]
        if isinstance(piece, dict):
            return {self._text(key): self.whole(value) for key, value in piece.items()}
        return piece

    def _text(self, text: str) -> str:
        try:
            text.encode()
        except UnicodeEncodeError:
            self.count += 1
            return text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
        return text


@dataclass(frozen=True)
class Moments:
    """When an interview was held, each with an offset, None where that cannot be said; `flags` are keys of FLAGS.

    They are corrected where the device's clock was `ahead`. `lasted` says whether how long it took can be told from them.
    """

    started: datetime | None
    ended: datetime | None
    flags: tuple[str, ...]
    lasted: bool = True
    ahead: timedelta = timedelta()

    def by_its_clock(self, moment: datetime | None) -> datetime | None:
        """A moment as the device's own clock had it: its answers were checked by that."""
        return None if moment is None else moment + self.ahead

    @property
    def minutes(self) -> float | None:
        if not self.lasted or self.started is None or self.ended is None or self.ended < self.started:
            return None
        return round((self.ended - self.started).total_seconds() / 60, 1)


def moments_of(paradata: Paradata, arrived: datetime, zone: tzinfo) -> Moments:
    """The moments of an interview that arrived at `arrived`; those without an offset are taken in `zone`."""
    flags: list[str] = []
    started, ended = (_moment(text, zone, flags) for text in (paradata.started, paradata.ended))
    if paradata.paper is not None:
        return Moments(started, ended, (), lasted=False)
    ahead = clock_ahead(paradata)
    if any(moment is not None and not _CORRECTED_FROM <= moment.year <= _CORRECTED_TO for moment in (started, ended)):
        ahead = timedelta()
    if ahead:
        flags.append("clock_corrected")
        started, ended = (None if moment is None else moment - ahead for moment in (started, ended))
    if started is not None and ended is not None:
        if ended < started:
            flags.append("ended_before_started")
        elif ended - started > _LONGEST:
            flags.append("clock_off")
    for moment in (started, ended):
        if moment is not None and not arrived - _BEHIND <= moment <= arrived + _AHEAD:
            flags.append("clock_off")
    return Moments(started, ended, tuple(dict.fromkeys(flags)), ahead=ahead)


def clock_ahead(paradata: Paradata) -> timedelta:
    """By how much moments of the device are corrected; nothing where its clock was about right, or nobody knows."""
    told = paradata.clock_ahead_seconds
    is_known = isinstance(told, int | float) and not isinstance(told, bool)
    ahead = timedelta(seconds=told) if is_known and abs(told) < _MOST_AHEAD_SECONDS else timedelta()
    return ahead if abs(ahead) >= _MATTERS else timedelta()


def _moment(text: Any, zone: tzinfo, flags: list[str]) -> datetime | None:
    try:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            flags.append("no_offset")
            moment = moment.replace(tzinfo=zone)
        if _EARLIEST <= moment <= _LATEST:
            return moment
    except (TypeError, ValueError, OverflowError):
        pass
    flags.append("unreadable_moment")
    return None


def zone_named(name: str) -> ZoneInfo:
    """The time zone of a study; UTC where this machine does not know it."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError):
        return ZoneInfo("UTC")
