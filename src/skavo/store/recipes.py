"""Data sets made by their recipes: the one door to tables and extracts.

Every questionnaire that is answered has one to begin with, from the moment that it is there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from sqlalchemy import Connection, event, insert, select
from sqlalchemy.orm import Mapper, Session

from skavo.core.combining.alone import as_interviews
from skavo.core.combining.spec import read_join
from skavo.core.dataset.flatten import DataSet, without_sensitive
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.dataset.renamed import Renaming
from skavo.core.errors import DataError
from skavo.core.recipes.make import Made, make
from skavo.core.recipes.recipe import Alone, Only, Recipe, Source, read_recipe, recipe_of, renamed_recipe, write_recipe
from skavo.store.counters import counter, data_counter, names_counter
from skavo.store.datasets import DataSets, Prepared
from skavo.store.models import NamedDataSet, OutsideTable, Questionnaire, Study
from skavo.store.sensitive import flagged


@dataclass(frozen=True)
class NamedData:
    """A data set at a revision. `made` tells what its recipe did; `prepared` are the questionnaires that it is made from,
    `alone` the outside tables; its recipe calls the sources by `titles` and goes by the clock of `zone`."""

    id: int
    title: str
    recipe: Recipe
    revision: int
    data: DataSet
    made: Made
    prepared: dict[int, Prepared]
    alone: dict[Alone, DataSet]
    titles: list[str]
    zone: str


@event.listens_for(Questionnaire, "after_insert")
def _begin_with(_: Mapper[Any], connection: Connection, questionnaire: Questionnaire) -> None:
    if questionnaire.describes == "interviews":
        made = {"study_id": questionnaire.study_id, "begins_id": questionnaire.id, "title": "", "created_by": "Skavo"}
        connection.execute(insert(NamedDataSet).values(recipe=write_recipe(recipe_of(questionnaire.id)), **made))


def own_set(session: Session, questionnaire_id: int) -> NamedDataSet:
    """What a questionnaire begins with."""
    return session.scalars(select(NamedDataSet).where(NamedDataSet.begins_id == questionnaire_id)).one()


def title_of(session: Session, named: NamedDataSet) -> str:
    """What a data set is called: one that begins with a questionnaire is called like it."""
    return named.title or session.get_one(Questionnaire, named.begins_id).title


def titles_of(session: Session, recipe: Recipe) -> list[str]:
    """What the sources of a recipe are called, to tell their rows apart."""
    return [source.called or _source_title(session, source) for source in recipe.sources]


def _source_title(session: Session, source: Source) -> str:
    outside = session.get(OutsideTable, source.outside) if source.outside is not None else None
    return outside.name if outside is not None else session.get_one(Questionnaire, source.questionnaire).title


def alone_in(
    sets: DataSets, session: Session, sources: Sequence[Source], prepared: Mapping[int, Prepared]
) -> dict[Alone, DataSet]:
    """The outside tables among some sources; raise DataError where one is no longer there, or two are called the same."""
    found: dict[Alone, DataSet] = {}
    numbers: dict[str, int] = {}
    for source in sources:
        if source.alone is None or source.alone in found:
            continue
        table = session.get(OutsideTable, source.outside)
        if table is None or table.questionnaire_id != source.questionnaire:
            raise DataError("no_table", "An outside table that it is made from is not there any more. Take it out.")
        if numbers.setdefault(table.name, table.id) != table.id:
            message = f"Two outside tables are called {table.name}, so that nothing would tell their rows apart. Bring one of them in under another name."
            raise DataError("same_name", message)
        of = prepared[source.questionnaire]
        key = ("alone", *source.alone, of.at, of.hidden)
        found[source.alone] = sets.remembered(key, partial(_rows_alone, sets, table, source.only, of))
    return found


def _rows_alone(sets: DataSets, table: OutsideTable, only: Only, of: Prepared) -> DataSet:
    report = of.joins.get(table.id)
    rows = report.unmatched_rows["row"] if only == "nobody" and report is not None else None
    join = read_join(table.joined) if table.joined else None
    ours = {column.variable: column for column in of.cleaned.data[INTERVIEWS].layout.columns}
    return flagged(as_interviews(sets.outside(table), join, rows, ours), of.hidden)


def revision_of(session: Session, named: NamedDataSet) -> int:
    """It rises with every change of the recipe and of what the data set is made from; the same one means the same data."""
    counters = [data_counter(number) for number in read_recipe(named.recipe).questionnaires]
    return named.shift + sum(counter(session, name) for name in counters) + _renamed(session, named)


def _renamed(session: Session, named: NamedDataSet) -> int:
    """How often the study changed what a recipe takes from it; one to begin with takes nothing."""
    return 0 if named.begins_id is not None else counter(session, names_counter(named.study_id))


def zone_of(session: Session, study_id: int) -> str:
    """The clock that days of a recipe go by."""
    return session.get_one(Study, study_id).time_zone


def named_data(sets: DataSets, session: Session, named: NamedDataSet, *, patient: bool = False) -> NamedData:
    """A data set as it stands, with its sensitive columns marked; `session` only reads.

    Raise DataError where the recipe does not fit any more, BeingPrepared as DataSets.of does.
    """
    recipe, title = read_recipe(named.recipe), title_of(session, named)
    prepared = {number: sets.of(session, number, patient=patient) for number in recipe.questionnaires}
    alone: dict[Alone, DataSet] = {}
    titles, zone = titles_of(session, recipe), zone_of(session, named.study_id)
    state = tuple((number, one.at, one.hidden) for number, one in prepared.items())
    key = ("data set", named.id, named.version, tuple(titles), zone, state)
    try:
        alone = alone_in(sets, session, recipe.sources, prepared)
        made = sets.remembered(
            key, lambda: make(recipe, {n: one.data for n, one in prepared.items()}, titles, zone, alone)
        )
        if made.clashes:
            raise DataError("clashes", made.clashes[0].words)
    except DataError as error:
        message = f"The data set “{title}” cannot be made: {error.message} Mend its recipe under Combine."
        raise DataError("recipe_does_not_fit", message, {"data_set": named.id}) from error
    revision = named.shift + sum(one.at for one in prepared.values()) + _renamed(session, named)
    return NamedData(named.id, title, recipe, revision, made.data, made, prepared, alone, titles, zone)


def masked_set(named: NamedData) -> NamedData:
    """As somebody may see it who lacks the right to sensitive answers."""
    return replace(named, data=without_sensitive(named.data))


def raw_set(named: NamedData) -> DataSet:
    """The same recipe over the interviews as they were handed in, without plans and joins."""
    return make(
        named.recipe, {number: one.raw for number, one in named.prepared.items()}, named.titles, named.zone, named.alone
    ).data


def sets_made_of(session: Session, outside_id: int) -> list[str]:
    """The titles of the data sets that an outside table is a source of."""
    made = select(NamedDataSet).where(NamedDataSet.begins_id.is_(None), NamedDataSet.removed_at.is_(None))
    return [
        named.title
        for named in session.scalars(made.order_by(NamedDataSet.title))
        if any(source.outside == outside_id for source in read_recipe(named.recipe).sources)
    ]


def follow_renaming(session: Session, questionnaire_id: int, renamed: Renaming, number: int) -> int:
    """Let data sets that somebody made call variables as before that release `number` calls otherwise; how many had to."""
    followed = 0
    study_id = session.get_one(Questionnaire, questionnaire_id).study_id
    made = select(NamedDataSet).where(NamedDataSet.study_id == study_id, NamedDataSet.begins_id.is_(None))
    for named in session.scalars(made):
        taken = {name: f"{name}_r{number}" for name in renamed.taken}
        recipe = renamed_recipe(read_recipe(named.recipe), questionnaire_id, renamed.names, taken)
        if recipe != read_recipe(named.recipe):
            named.recipe, named.version = write_recipe(recipe), named.version + 1
            followed += 1
    return followed
