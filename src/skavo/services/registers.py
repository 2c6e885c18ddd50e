"""Plan, registers: the kinds of unit that a study returns to, and what their fields are."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from skavo.core.interview.kinds import KINDS
from skavo.core.modules.module import script_of
from skavo.core.questionnaire.graft import free_name
from skavo.core.questionnaire.script import Script, read_script, write_script
from skavo.core.questionnaire.variables import suggest_variable
from skavo.core.register.cells import columns_of, comes_in
from skavo.core.register.figures import can_be_carried
from skavo.core.register.ready import READY
from skavo.core.register.settings import KindSettings
from skavo.jobs.registers import RECKONING
from skavo.services.desk import Desk
from skavo.services.found import the_kind, the_study
from skavo.services.jobs import order_job
from skavo.services.refusals import Refused, not_found, same_version
from skavo.services.releases import make_release
from skavo.store.counters import raise_counter
from skavo.store.models import Questionnaire, Unit, UnitChange, UnitKind
from skavo.store.registers import KindHere, kinds_of, register_counter


class Choosable(BaseModel):
    """A code or a unit of measure, with what it is called in the first language."""

    value: str
    label: str


class FieldOut(BaseModel):
    """A field of a kind. `columns` are those that it has in files, none where it does not come in one; `carries` are the
    ways in which it can be carried upward."""

    part_id: str
    variable: str
    kind: str
    type: str
    wording: str
    codes: list[Choosable]
    units: list[Choosable]
    mask: str
    derived: bool
    special: list[str]
    hidden: bool
    columns: list[str]
    carries: list[str]


class UnitKindOut(BaseModel):
    """`number` is that of the release whose lines are the fields, None before the first; `units` counts those that are
    not closed."""

    id: int
    questionnaire_id: int
    name: str
    title: str
    number: int | None
    settings: KindSettings
    fields: list[FieldOut]
    units: int
    closed: int
    version: int


class ReadyKindOut(BaseModel):
    name: str
    title: str
    measures: str
    glyph: str
    fields: list[str]


class KindIn(BaseModel):
    """`ready` names a ready kind to begin with, "" for none; `under` are the kinds that it hangs under."""

    model_config = ConfigDict(extra="forbid")
    title: str = Field(min_length=1, max_length=200, pattern=r"\S")
    ready: str = Field(default="", max_length=64)
    languages: list[str] = Field(default=["en"], min_length=1, max_length=12)
    under: list[int] = Field(default=[], max_length=50)


class KindChange(BaseModel):
    model_config = ConfigDict(extra="forbid")
    settings: KindSettings
    version: int


def list_kinds(desk: Desk, study_id: int) -> list[UnitKindOut]:
    """The kinds of a study, in their order."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        counted = select(Unit.kind_id, func.count(), func.count(Unit.closed_at)).where(Unit.study_id == study_id)
        counts = {kind: (every, closed) for kind, every, closed in session.execute(counted.group_by(Unit.kind_id))}
        return [_told(desk, kind, *counts.get(kind.id, (0, 0))) for kind in kinds_of(session, study_id)]


def _told(desk: Desk, kind: KindHere, every: int, closed: int) -> UnitKindOut:
    return UnitKindOut(
        id=kind.id, questionnaire_id=kind.questionnaire_id, name=kind.name, title=kind.title, number=kind.number,
        settings=kind.settings, fields=fields_of(desk, kind), units=every - closed, closed=closed, version=kind.version,
    )  # fmt: skip


def fields_of(desk: Desk, kind: KindHere) -> list[FieldOut]:
    release = kind.form.release
    if release is None:
        return []
    language = release.languages[0]

    def said(texts: dict[str, Any], otherwise: str) -> str:
        found = texts.get(language) or ""
        return ("".join(piece for piece in found if isinstance(piece, str)) if found else "") or otherwise

    return [
        FieldOut(
            part_id=part.raw["id"], variable=part.variable, kind=part.kind.name, type=part.raw["type"],
            wording=said(part.raw["wording"], part.variable), mask=part.raw["mask"], derived=part.kind.derives,
            codes=[
                Choosable(value=code, label=said(label, code))
                for code, label in release.labels.get(part.raw["code_list"], {}).items()
            ],
            units=[Choosable(value=unit["unit"], label=said(unit["label"], unit["unit"])) for unit in part.raw["units"]],
            special=part.raw["special"], hidden=part.raw["id"] in kind.hidden and not desk.sees_sensitive,
            columns=columns_of(part) if comes_in(part) else [],
            carries=[how for how in ("sum", "least", "most") if can_be_carried(part, how)],
        )
        for part in kind.form.fields
    ]  # fmt: skip


def list_ready() -> list[ReadyKindOut]:
    """The kinds to begin with, and what they hold."""
    return [
        ReadyKindOut(
            name=ready.fields.name, title=ready.fields.title["en"], measures=ready.fields.measures["en"],
            glyph=ready.settings.glyph,
            fields=[
                part.wording.get("en") or part.variable
                for part in ready.fields.fragment.parts
                if not KINDS[part.kind].holds_parts
            ],
        )
        for ready in READY
    ]  # fmt: skip


def make_kind(desk: Desk, study_id: int, wanted: KindIn) -> UnitKindOut:
    """Make a kind, empty or from a ready one, whose fields are in force at once."""
    desk.needs_whole_study("Registers")
    script, settings = _begun(wanted)
    with desk.store.session() as session:
        the_study(session, study_id)
        kinds = kinds_of(session, study_id)
        _check_under(kinds, wanted.under)
        script.name = free_name(suggest_variable(wanted.title) or "unit", {kind.name for kind in kinds})
        settings = _with_own_identities(script, settings)
        settings = settings.model_copy(update={"under": wanted.under, "stands_alone": not wanted.under})
        title = wanted.title.strip()
        made = Questionnaire(study_id=study_id, title=title, script=write_script(script), describes="units")
        session.add(made)
        session.flush()
        kind = UnitKind(
            study_id=study_id, questionnaire_id=made.id, settings=settings.model_dump(mode="json"),
            position=max((one.position for one in kinds), default=0) + 1, **desk.signed(),
        )  # fmt: skip
        session.add_all([kind, desk.event(study_id, "kind of unit made", title=title)])
        session.flush()
        kind_id, questionnaire_id, version = kind.id, made.id, made.version
    if script.parts:
        make_release(desk, questionnaire_id, version, "")
    return _show(desk, study_id, kind_id)


def _begun(wanted: KindIn) -> tuple[Script, KindSettings]:
    """The script and settings that a kind begins with."""
    first = wanted.languages[0]
    if not wanted.ready:
        return Script(title={first: wanted.title.strip()}, languages=wanted.languages), KindSettings()
    ready = next((one for one in READY if one.fields.name == wanted.ready), None)
    if ready is None:
        raise not_found("ready kind of unit")
    script = script_of(ready.fields).model_copy(deep=True)
    spoken = [tag for tag in wanted.languages if tag in script.languages] or ["en"]
    # A language that the ready kind is not said in begins as a gap to translate.
    script.languages = [*spoken, *(tag for tag in wanted.languages if tag not in spoken)]
    script.title = {**{tag: script.title[tag] for tag in spoken}, script.languages[0]: wanted.title.strip()}
    return script, ready.settings


def _with_own_identities(script: Script, settings: KindSettings) -> KindSettings:
    """Give the lines of a ready kind identities that no other kind has; the settings that name them follow."""
    own = {part.id: f"{script.name}_{part.id}" for part in script.parts}
    for part in script.parts:
        part.id = own[part.id]
    carried = [one.model_copy(update={"part_id": own[one.part_id]}) for one in settings.carried]
    return settings.model_copy(update={"label": own.get(settings.label, ""), "carried": carried})


def change_kind(desk: Desk, kind_id: int, change: KindChange) -> UnitKindOut:
    """Change how a kind hangs together with others, its key, its name, what is carried upward."""
    desk.needs_whole_study("Registers")
    with desk.store.session() as session:
        row = the_kind(session, kind_id)
        same_version(row.version, change.version)
        kinds = kinds_of(session, row.study_id)
        kind = next(one for one in kinds if one.id == kind_id)
        _check_settings(session, kinds, kind, change.settings)
        row.settings = change.settings.model_dump(mode="json")
        row.version += 1
        raise_counter(session, register_counter(row.study_id))
        study_id, is_called_otherwise = row.study_id, change.settings.label != kind.settings.label
        if is_called_otherwise:
            # What units are called follows from their answers: it is worked out again.
            session.execute(update(Unit).where(Unit.kind_id == kind_id).values(release_id=None))
    if is_called_otherwise:
        order_job(desk, study_id, RECKONING, {"study_id": study_id})
    return _show(desk, study_id, kind_id)


def _check_settings(session: Session, kinds: list[KindHere], kind: KindHere, settings: KindSettings) -> None:
    _check_under(kinds, settings.under)
    if not settings.under and not settings.stands_alone:
        raise Refused("hangs_nowhere", "A kind hangs under another one, or stands by itself. Choose at least one.")
    if settings.label and settings.label not in kind.form.by_id:
        raise Refused("unknown_field", "Units are called by a field of their kind. Choose one of its fields.")
    for carried in settings.carried:
        part = kind.form.by_id.get(carried.part_id)
        if part is None or not can_be_carried(part, carried.how):
            named = part.variable if part is not None else carried.part_id
            raise Refused("not_carried", f"{named} cannot be carried upward as {carried.how}.")
    above = select(Unit.above_id).where(Unit.kind_id == kind.id).distinct()
    kinds_above = session.scalars(select(Unit.kind_id).where(Unit.id.in_(above)).distinct())
    missing = {*kinds_above} - {*settings.under}
    if missing:
        titles = ", ".join(one.title for one in kinds if one.id in missing)
        raise Refused(
            "units_hang_there", f"Units of this kind lie under {titles}. Move them first, or leave it ticked."
        )
    outermost = select(Unit.id).where(Unit.kind_id == kind.id, Unit.above_id.is_(None), Unit.closed_at.is_(None))
    if not settings.stands_alone and session.scalar(outermost.limit(1)) is not None:
        raise Refused("units_stand_alone", "Units of this kind stand by themselves. Hang them under others first.")


def _check_under(kinds: list[KindHere], under: list[int]) -> None:
    unknown = {*under} - {kind.id for kind in kinds}
    if unknown:
        raise Refused("unknown_kind", "A kind hangs under kinds of the same study. Load the page again and choose one.")


def remove_kind(desk: Desk, kind_id: int) -> None:
    """Take a kind away that has no units and that no other kind hangs under."""
    desk.needs_whole_study("Registers")
    with desk.store.session() as session:
        row = the_kind(session, kind_id)
        if session.scalar(select(Unit.id).where(Unit.kind_id == kind_id).limit(1)) is not None:
            raise Refused("has_units", "There are units of this kind, closed ones included. A kind with units stays.")
        holding = [kind.title for kind in kinds_of(session, row.study_id) if kind_id in kind.settings.under]
        if holding:
            raise Refused("is_above", f"{', '.join(holding)} may hang under it. Change that first.")
        # Its questionnaire stays, as releases do for ever; nothing leads there any more.
        session.add(desk.event(row.study_id, "kind of unit removed", title=_title(session, row)))
        session.execute(update(UnitChange).where(UnitChange.kind_id == kind_id).values(kind_id=None))
        session.delete(row)


def _title(session: Session, kind: UnitKind) -> str:
    script = read_script(session.get_one(Questionnaire, kind.questionnaire_id).script)
    return script.title.get(script.languages[0], "")


def _show(desk: Desk, study_id: int, kind_id: int) -> UnitKindOut:
    return next(kind for kind in list_kinds(desk, study_id) if kind.id == kind_id)
