"""Plan, samples: a frame from the register or from a file, what a draw would give, the draw itself, drawn again."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import delete, func, insert, select

from skavo.core.errors import DataError
from skavo.core.sampling.draw import Drawn
from skavo.core.sampling.draw import Sample as DrawnSample
from skavo.core.sampling.plan import SamplePlan, draw_sample
from skavo.formats.frame import TableFrame, sample_file
from skavo.formats.read_table import read_table
from skavo.formats.units_frame import UNIT
from skavo.services.desk import Desk
from skavo.services.found import the_sample, the_study
from skavo.services.frames import FIRST, FrameIn, HeldFrame, LeftOutRows, frame_of, units_frame
from skavo.services.refusals import Refused, same_version
from skavo.store.files import keep_file, read_file
from skavo.store.models import Sample, SampleUnit, Unit, VisitList
from skavo.store.registers import Register

_PAGE = 500


class StratumLine(BaseModel):
    """How many there are in a stratum or cluster, how many of them are drawn, with which weight; None where weights differ.
    `weights` is what they add up to, which is about how many there are."""

    name: str
    count: int
    drawn: int
    spread: float | None
    weight: float | None
    weights: float


class DrawnOut(BaseModel):
    """What a draw gives: a reader can add it up."""

    drawn: int
    reserves: int
    certain: int
    strata: list[StratumLine]
    weights: float
    least_weight: float
    most_weight: float


class FrameFileOut(BaseModel):
    """A file that was sent; `file` is its hash."""

    file: str
    name: str
    rows: int
    columns: list[str]


class SampleIn(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(default="", max_length=64)
    frame: FrameIn
    plan: SamplePlan


class SampleName(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    version: int


class SampleLine(BaseModel):
    id: int
    name: str
    by: str
    drawn: int
    frame_count: int
    created_at: datetime
    created_by: str


class SampleOut(SampleLine):
    """A sample as a sceptical reader follows it: `frame_hash` is the SHA-256 of the frame as it was, `command` draws the
    same units from it anywhere."""

    source: FrameIn
    source_words: str
    plan: SamplePlan
    frame_hash: str
    left_out: list[LeftOutRows]
    told: DrawnOut
    command: str
    version: int


class SampleUnitLine(BaseModel):
    """`closed` says that the unit has been closed since."""

    unit_id: int | None
    key: str
    label: str
    stratum: str
    cluster: str
    probability: float
    weight: float
    rank: int
    closed: bool


class SampleUnits(BaseModel):
    lines: list[SampleUnitLine]
    total: int


class UnitsQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    reserves: bool = False
    stratum: str = Field(default="", max_length=200)
    offset: int = Field(default=0, ge=0, le=10**9)
    limit: int = Field(default=100, ge=1, le=_PAGE)


class DrawnAgain(BaseModel):
    """Whether drawing again from the kept frame gives the same units; `new` units of the register would be in the frame
    today, `gone` ones no longer are, None where the frame came from a file."""

    same: bool
    drawn: int
    new: int | None
    gone: int | None


def take_frame(desk: Desk, name: str, sent: Path) -> FrameFileOut:
    """Keep a file that a frame is to be made of, and say which columns it has."""
    content = sent.read_bytes()
    rows = read_table(name, content)
    return FrameFileOut(file=keep_file(desk.store.files, content), name=name, rows=rows.height, columns=rows.columns)


def try_out(desk: Desk, study_id: int, wanted: SampleIn) -> DrawnOut:
    """What would be drawn; nothing is kept."""
    frame = frame_of(desk, study_id, wanted.frame)
    return _told(wanted.plan, frame.rows, _drawn(frame, wanted.plan))


def _drawn(frame: HeldFrame, plan: SamplePlan) -> DrawnSample:
    _check_columns(frame, plan)
    return draw_sample(plan, TableFrame(frame.rows))


def draw(desk: Desk, study_id: int, wanted: SampleIn) -> SampleOut:
    """Draw a sample and keep it with its frame."""
    desk.needs_whole_study("Samples")
    name = wanted.name.strip()
    if not name:
        raise Refused("no_name", "A sample needs a name. Give it one.")
    frame = frame_of(desk, study_id, wanted.frame)
    drawn = _drawn(frame, wanted.plan)
    told = _told(wanted.plan, frame.rows, drawn)
    digest = keep_file(desk.store.files, _csv(frame.rows))
    with desk.store.session() as session:
        same = select(Sample.id).where(Sample.study_id == study_id, Sample.name == name)
        if session.scalar(same) is not None:
            raise Refused("name_taken", f"This study has a sample {name} already. Give this one another name.")
        sample = Sample(
            study_id=study_id, name=name, source=wanted.frame.model_dump(mode="json"),
            plan=wanted.plan.model_dump(mode="json"), frame_hash=digest, frame_count=frame.rows.height,
            drawn=told.drawn, **desk.signed(),
            told={**told.model_dump(mode="json"), "left_out": [one.model_dump(mode="json") for one in frame.left_out]},
        )  # fmt: skip
        session.add_all([sample, desk.event(study_id, "sample drawn", name=name, drawn=told.drawn)])
        session.flush()
        kinds = ((drawn.drawn, False), (drawn.reserves, True))
        session.execute(
            insert(SampleUnit), [_row(sample.id, frame, one, reserve) for many, reserve in kinds for one in many]
        )
        sample_id = sample.id
    return show_sample(desk, sample_id)


def _row(sample_id: int, frame: HeldFrame, one: Drawn, reserve: bool) -> dict[str, Any]:
    return {
        "sample_id": sample_id, "unit_id": frame.units[one.place] if frame.units else None,
        "key": str(frame.rows[frame.key][one.place])[:64], "label": frame.labels[one.place] if frame.labels else "",
        "place": one.place, "stratum": one.stratum, "cluster": one.cluster, "probability": one.probability,
        "rank": one.order, "reserve": reserve,
    }  # fmt: skip


def _check_columns(frame: HeldFrame, plan: SamplePlan) -> None:
    """Refuse a draw by a column that is empty somewhere, and say where; the plan may then narrow the frame down."""
    for name in plan.columns:
        if name not in frame.rows.columns:
            known = ", ".join(c for c in frame.rows.columns if c not in (UNIT, frame.key)) or "none"
            raise DataError("unknown_column", f"The frame has no column “{name}”; it has {known}.", {"column": name})
        empty = frame.rows.filter(pl.col(name).is_null())[frame.key]
        if len(empty):
            first = ", ".join(map(str, empty.head(FIRST).to_list()))
            message = (
                f"“{name}” is empty in {len(empty):,} rows of the frame ({first}{' …' if len(empty) > FIRST else ''})."
            )
            raise DataError(
                "empty_column", f"{message} Fill it in, or narrow the frame to where it is filled.", {"column": name}
            )


def _told(plan: SamplePlan, rows: pl.DataFrame, drawn: DrawnSample) -> DrawnOut:
    weights = [one.weight for one in drawn.drawn]
    return DrawnOut(
        drawn=len(weights), reserves=len(drawn.reserves), certain=len(drawn.certain),
        strata=_strata(plan, rows, drawn), weights=sum(weights), least_weight=min(weights), most_weight=max(weights),
    )  # fmt: skip


def _strata(plan: SamplePlan, rows: pl.DataFrame, drawn: DrawnSample) -> list[StratumLine]:
    """Counts by stratum, or by cluster where there are two stages; none of a sample that has neither."""
    if plan.by == "two-stage":
        groups = {one.cluster for one in drawn.drawn}
        counts = dict(rows.group_by(plan.cluster).len().iter_rows())
        lines: list[tuple[str, int, float | None]] = [(name, int(counts[name]), None) for name in sorted(groups)]
        of = [(one.cluster, one.weight) for one in drawn.drawn]
    else:
        lines = [(stratum.name, stratum.count, stratum.spread) for stratum in drawn.strata]
        of = [(one.stratum, one.weight) for one in drawn.drawn]
    found: dict[str, list[float]] = {}
    for name, weight in of:
        found.setdefault(name, []).append(weight)
    return [
        StratumLine(
            name=name, count=count, drawn=len(found.get(name, [])), spread=spread,
            weight=found[name][0] if len(set(found.get(name, []))) == 1 else None, weights=sum(found.get(name, [])),
        )
        for name, count, spread in lines
    ]  # fmt: skip


def _csv(rows: pl.DataFrame) -> bytes:
    out = io.BytesIO()
    rows.write_csv(out, line_terminator="\r\n", null_value="")
    return out.getvalue()


def list_samples(desk: Desk, study_id: int) -> list[SampleLine]:
    """The newest first."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        found = select(Sample).where(Sample.study_id == study_id).order_by(Sample.id.desc())
        return [_line(sample) for sample in session.scalars(found)]


def _line(sample: Sample) -> SampleLine:
    return SampleLine(
        id=sample.id, name=sample.name, by=sample.plan["by"], drawn=sample.drawn, frame_count=sample.frame_count,
        created_at=sample.created_at, created_by=sample.created_by,
    )  # fmt: skip


def show_sample(desk: Desk, sample_id: int) -> SampleOut:
    with desk.store.reading() as session:
        sample = the_sample(session, sample_id)
        register = desk.sets.registers.of(session, sample.study_id)
    source, plan = FrameIn.model_validate(sample.source), SamplePlan.model_validate(sample.plan)
    return SampleOut(
        **_line(sample).model_dump(), source=source, source_words=_words_of(register, source), plan=plan,
        frame_hash=sample.frame_hash, left_out=[LeftOutRows.model_validate(one) for one in sample.told["left_out"]],
        told=DrawnOut.model_validate({key: value for key, value in sample.told.items() if key != "left_out"}),
        command=_command(plan), version=sample.version,
    )  # fmt: skip


def _words_of(register: Register, source: FrameIn) -> str:
    if source.table is not None:
        return source.table.name
    assert source.units is not None
    kind = register.kinds.get(source.units.kind)
    rule = f": {source.units.rule}" if source.units.rule.strip() else ""
    return f"{kind.title if kind is not None else ''}{rule}"


def _command(plan: SamplePlan) -> str:
    options: list[tuple[str, object]] = [("by", plan.by), ("size", plan.size)]
    if plan.by == "stratified":
        options += [("strata", plan.strata), ("allocate", plan.allocate)]
        options += [("spread", plan.spread)] if plan.allocate == "neyman" else []
    if plan.by == "two-stage":
        options += [("cluster", plan.cluster), ("clusters", plan.clusters)]
    if plan.by in ("pps", "two-stage") and plan.measure:
        options += [("measure", plan.measure)]
    if plan.reserves:
        options += [("reserves", plan.reserves)]
    said = " ".join(f"--{name} {_quoted(str(value))}" for name, value in [*options, ("seed", plan.seed)])
    return f"skavo draw frame.csv {said} --out sample.csv"


def _quoted(text: str) -> str:
    return text if text.replace("_", "").replace("-", "").isalnum() else f"'{text}'"


def list_units(desk: Desk, sample_id: int, query: UnitsQuery) -> SampleUnits:
    """Who was drawn, in the order of the frame; or who stands by, in the order in which they would be taken."""
    with desk.store.reading() as session:
        sample = the_sample(session, sample_id)
        conditions = [SampleUnit.sample_id == sample.id, SampleUnit.reserve.is_(query.reserves)]
        if query.stratum:
            conditions.append((SampleUnit.stratum == query.stratum) | (SampleUnit.cluster == query.stratum))
        order = (SampleUnit.stratum, SampleUnit.cluster, SampleUnit.rank) if query.reserves else (SampleUnit.place,)
        rows = session.execute(
            select(SampleUnit, Unit.closed_at)
            .outerjoin(Unit, Unit.id == SampleUnit.unit_id)
            .where(*conditions)
            .order_by(*order)
            .offset(query.offset)
            .limit(query.limit)
        )
        return SampleUnits(
            lines=[
                SampleUnitLine(
                    unit_id=one.unit_id, key=one.key, label=one.label, stratum=one.stratum, cluster=one.cluster,
                    probability=one.probability, weight=1 / one.probability, rank=one.rank, closed=closed is not None,
                )
                for one, closed in rows
            ],
            total=session.scalar(select(func.count()).where(*conditions)) or 0,
        )  # fmt: skip


def draw_again(desk: Desk, sample_id: int) -> DrawnAgain:
    """Draw once more from the frame as it was kept, and compare; say as well what has become of the frame since."""
    with desk.store.reading() as session:
        sample = the_sample(session, sample_id)
        kept = session.execute(
            select(SampleUnit.place, SampleUnit.rank, SampleUnit.reserve, SampleUnit.probability).where(
                SampleUnit.sample_id == sample.id
            )
        ).tuples().all()  # fmt: skip
        present = {(one.place, one.rank, one.reserve, one.probability) for one in _rows_of(kept)}
    rows = read_table("frame.csv", read_file(desk.store.files, sample.frame_hash))
    again = draw_sample(SamplePlan.model_validate(sample.plan), TableFrame(rows))
    found = {
        (one.place, one.order, reserve, one.probability)
        for many, reserve in ((again.drawn, False), (again.reserves, True))
        for one in many
    }
    new, gone = _since(desk, sample, rows)
    return DrawnAgain(same=found == present, drawn=len(again.drawn), new=new, gone=gone)


@dataclass(frozen=True)
class _Kept:
    place: int
    rank: int
    reserve: bool
    probability: float


def _rows_of(rows: Any) -> list[_Kept]:
    return [_Kept(*row) for row in rows]


def _since(desk: Desk, sample: Sample, rows: pl.DataFrame) -> tuple[int | None, int | None]:
    source = FrameIn.model_validate(sample.source)
    if source.units is None:
        return None, None
    try:
        today = set(units_frame(desk, sample.study_id, source.units).rows[UNIT])
    except DataError:
        today = set()
    then = set(rows[UNIT])
    return len(today - then), len(then - today)


def file_of_sample(desk: Desk, sample_id: int, what: Literal["frame", "sample"]) -> tuple[str, bytes]:
    """The frame as it was, or the drawn rows of it with probabilities and weights, as a .csv file."""
    with desk.store.reading() as session:
        sample = the_sample(session, sample_id)
    content = read_file(desk.store.files, sample.frame_hash)
    if what == "frame":
        return f"{sample.name} frame.csv", content
    rows = read_table("frame.csv", content)
    drawn = draw_sample(SamplePlan.model_validate(sample.plan), TableFrame(rows))
    return f"{sample.name}.csv", sample_file(rows, drawn)


def rename_sample(desk: Desk, sample_id: int, wanted: SampleName) -> SampleOut:
    desk.needs_whole_study("Samples")
    with desk.store.session() as session:
        sample = the_sample(session, sample_id)
        same_version(sample.version, wanted.version)
        name = wanted.name.strip()
        taken = select(Sample.id).where(Sample.study_id == sample.study_id, Sample.name == name, Sample.id != sample.id)
        if session.scalar(taken) is not None:
            raise Refused("name_taken", f"This study has a sample {name} already. Give this one another name.")
        sample.name, sample.version = name, sample.version + 1
    return show_sample(desk, sample_id)


def remove_sample(desk: Desk, sample_id: int) -> None:
    """Take a sample away; drawn again from the same frame with the same seed it would be the same."""
    desk.needs_whole_study("Samples")
    with desk.store.session() as session:
        sample = the_sample(session, sample_id)
        visited = session.scalar(select(VisitList.name).where(VisitList.sample_id == sample.id).limit(1))
        if visited is not None:
            raise Refused("has_visits", f"The visits of “{visited}” go to this sample. Remove that list first.")
        session.execute(delete(SampleUnit).where(SampleUnit.sample_id == sample.id))
        session.add(desk.event(sample.study_id, "sample removed", name=sample.name, seed=sample.plan["seed"]))
        session.delete(sample)
