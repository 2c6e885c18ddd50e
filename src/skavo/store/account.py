"""Where every interview of a study is: in the data set, not laid out with its reason, or set aside. The three add up."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import ColumnElement, and_, func, or_, select
from sqlalchemy.orm import Session

from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.store.datasets import DataSets
from skavo.store.models import Interview, Questionnaire
from skavo.store.raw_frames import RawDataSet


@dataclass(frozen=True)
class Account:
    """Interviews that are no practice: `arrived` is the sum of the other three."""

    arrived: int
    in_data_set: int
    not_laid_out: int
    set_aside: int


def account_of(session: Session, sets: DataSets, study_id: int, *within: ColumnElement[bool]) -> Account:
    """What became of every interview that arrived, of those `within`; what is in the data set is what its tables hold."""
    mine = select(func.count()).where(Interview.study_id == study_id, Interview.practice.is_(False), *within)

    def interviews(*conditions: ColumnElement[bool]) -> int:
        return session.scalar(mine.where(*conditions)) or 0

    return Account(
        arrived=interviews(),
        in_data_set=sum(_height(session, raw, study_id, within) for raw in _held(session, sets, study_id).values()),
        not_laid_out=interviews(not_laid_out(session, sets, study_id)),
        set_aside=interviews(Interview.state == "set aside"),
    )


def _height(session: Session, raw: RawDataSet, study_id: int, within: tuple[ColumnElement[bool], ...]) -> int:
    keys = raw.data[INTERVIEWS].frame[KEY]
    if not within:
        return len(keys)
    numbers = session.scalars(select(Interview.number).where(Interview.study_id == study_id, *within))
    wanted = {*numbers}
    return sum(int(key) in wanted for key in keys)


def not_laid_out(session: Session, sets: DataSets, study_id: int) -> ColumnElement[bool]:
    """The condition of an interview that counts and is not in the data set: for figures and for the list behind them."""
    failed = Interview.number.in_(do_not_fit(session, sets, study_id))
    return and_(Interview.state != "set aside", or_(Interview.problem != "", failed))


def do_not_fit(session: Session, sets: DataSets, study_id: int) -> set[int]:
    """The numbers of the study's interviews that were laid out, but do not fit into the tables."""
    return {int(key) for raw in _held(session, sets, study_id).values() for key in raw.failed}


def _held(session: Session, sets: DataSets, study_id: int) -> dict[int, RawDataSet]:
    of_study = select(Questionnaire.id).where(
        Questionnaire.study_id == study_id, Questionnaire.describes == "interviews"
    )
    return {identity: sets.raw(session, identity) for identity in session.scalars(of_study)}
