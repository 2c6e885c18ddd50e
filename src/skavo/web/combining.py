"""The combine station: tables from elsewhere, their joins, near matches."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.combining.beside import SideBySide
from skavo.core.combining.differences import Differences
from skavo.core.combining.look import ColumnLook
from skavo.core.combining.outside import OutsideColumn
from skavo.core.combining.spec import Join
from skavo.formats.tables_in import MOST_BYTES
from skavo.services import combining, matches, outside_tables, source_checks
from skavo.services.combining import (
    JoinChange,
    JoinedOut,
    JoinReportOut,
    KeysQuery,
    ProposedKeyOut,
    SideBySideOut,
    UnmatchedQuery,
)
from skavo.services.matches import DecidedOut, MatchesOut, MatchIn, PairPartsOut, PairQuery
from skavo.services.outside_tables import (
    AgainIn,
    BringIn,
    Card,
    LookOut,
    OutsideOut,
    OutsideRowsOut,
    RowsQuery,
    SentOut,
)
from skavo.services.source_checks import SourceCheckIn, SourceCheckOut, SourceCheckTried
from skavo.store.files import Upload
from skavo.store.looking import LookIn
from skavo.web.guard import caller
from skavo.web.routing import Resource, attachment, desk, store
from skavo.web.shapes import Body, QuestionnairePath
from skavo.web.uploads import take_piece

api = Resource("combining", "/questionnaires/<int:questionnaire_id>")


class SentPath(QuestionnairePath):
    """`name` is what whoever sends a file calls it on its way: 32 random bytes in hexadecimal."""

    name: str = Field(pattern="^[0-9a-f]{64}$")


class OutsidePath(BaseModel):
    questionnaire_id: int
    outside_id: int


class SourceCheckPath(QuestionnairePath):
    source_check_id: int


class DecisionPath(OutsidePath):
    decision_id: int


class VersionQuery(BaseModel):
    """`version` is that of the table that was seen."""

    model_config = ConfigDict(extra="forbid")
    version: int


class CardChange(Card):
    version: int


class ColumnsChange(Body):
    columns: list[OutsideColumn] = Field(max_length=20_000)
    version: int


class NameChange(Body):
    name: str = Field(min_length=1, max_length=40)
    version: int


def _upload(path: SentPath) -> Upload:
    return Upload(store().files, f"table-{path.questionnaire_id}-{caller().person_id}", path.name)


@api.route_for("get", "/sent-tables/<string:name>", needs="combine.write", returns=SentOut)
def arrived_of_table(path: SentPath) -> SentOut:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    return SentOut(received=_upload(path).received)


@api.route_for("put", "/sent-tables/<string:name>", needs="combine.write", returns=SentOut)
def take_table(path: SentPath) -> SentOut:
    """Take in the next piece of a file with a table; once it is whole it can be looked at."""
    here = desk()
    received, file = take_piece(
        _upload(path), MOST_BYTES, lambda sent: outside_tables.keep_sent(here, path.questionnaire_id, sent)
    )
    return SentOut(received=received, file=file)


@api.route_for("post", "/outside/look", needs="combine.write", returns=LookOut)
def look(path: QuestionnairePath, body: LookIn) -> LookOut:
    """What a file that was sent holds, read in one way; nothing of it is kept."""
    return outside_tables.look_at(desk(), path.questionnaire_id, body)


@api.route_for("get", "/outside", needs="analyse.read", returns=list[OutsideOut])
def list_all(path: QuestionnairePath) -> list[OutsideOut]:
    return outside_tables.list_tables_in(desk(), path.questionnaire_id)


@api.route_for("post", "/outside", needs="combine.write", returns=OutsideOut, status=201)
def bring_in(path: QuestionnairePath, body: BringIn) -> OutsideOut:
    return outside_tables.bring_in(desk(), path.questionnaire_id, body)


@api.route_for("get", "/outside/<int:outside_id>/columns", needs="analyse.read", returns=list[ColumnLook])
def columns(path: OutsidePath) -> list[ColumnLook]:
    return outside_tables.show_columns(desk(), path.outside_id)


@api.route_for("put", "/outside/<int:outside_id>/columns", needs="combine.write", returns=OutsideOut)
def describe(path: OutsidePath, body: ColumnsChange) -> OutsideOut:
    return outside_tables.describe_columns(desk(), path.outside_id, body.columns, body.version)


@api.route_for("get", "/outside/<int:outside_id>/rows", needs="analyse.read", returns=OutsideRowsOut)
def rows(path: OutsidePath, query: RowsQuery) -> OutsideRowsOut:
    return outside_tables.show_rows(desk(), path.outside_id, query)


@api.route_for("put", "/outside/<int:outside_id>/card", needs="combine.write", returns=OutsideOut)
def write_card(path: OutsidePath, body: CardChange) -> OutsideOut:
    card = Card(**body.model_dump(exclude={"version"}))
    return outside_tables.write_card(desk(), path.outside_id, card, body.version)


@api.route_for("put", "/outside/<int:outside_id>/name", needs="combine.write", returns=OutsideOut)
def rename(path: OutsidePath, body: NameChange) -> OutsideOut:
    return outside_tables.rename_table(desk(), path.outside_id, body.name, body.version)


@api.route_for("post", "/outside/<int:outside_id>/differences", needs="combine.write", returns=Differences)
def show_differences(path: OutsidePath, body: AgainIn) -> Differences:
    """What bringing the table in again would change; nothing is kept."""
    return outside_tables.show_differences(desk(), path.questionnaire_id, path.outside_id, body)


@api.route_for("put", "/outside/<int:outside_id>/file", needs="combine.write", returns=OutsideOut)
def bring_in_again(path: OutsidePath, body: AgainIn) -> OutsideOut:
    return outside_tables.bring_in_again(desk(), path.questionnaire_id, path.outside_id, body)


@api.route_for("delete", "/outside/<int:outside_id>/file", needs="combine.write", returns=OutsideOut)
def go_back(path: OutsidePath, query: VersionQuery) -> OutsideOut:
    """The table as it stood before it was brought in last."""
    return outside_tables.go_back(desk(), path.outside_id, query.version)


@api.route_for("delete", "/outside/<int:outside_id>", needs="combine.write")
def remove(path: OutsidePath) -> None:
    outside_tables.remove_outside(desk(), path.questionnaire_id, path.outside_id)


@api.route_for("get", "/joins", needs="analyse.read", returns=list[JoinedOut])
def joins(path: QuestionnairePath) -> list[JoinedOut]:
    return combining.list_joins(desk(), path.questionnaire_id)


@api.route_for("put", "/outside/<int:outside_id>/join", needs="combine.write", returns=JoinedOut)
def join(path: OutsidePath, body: JoinChange) -> JoinedOut:
    return combining.set_join(desk(), path.questionnaire_id, path.outside_id, body)


@api.route_for("get", "/outside/<int:outside_id>/keys", needs="combine.write", returns=list[ProposedKeyOut])
def possible_keys(path: OutsidePath, query: KeysQuery) -> list[ProposedKeyOut]:
    """Which columns of a table may be which variables."""
    return combining.list_possible_keys(desk(), path.outside_id, query)


@api.route_for("post", "/outside/<int:outside_id>/join/preview", needs="combine.write", returns=JoinReportOut)
def preview(path: OutsidePath, body: Join) -> JoinReportOut:
    return combining.preview_join(desk(), path.outside_id, body)


@api.route_for("post", "/outside/<int:outside_id>/join/weights", needs="combine.write", returns=Join)
def learn(path: OutsidePath, body: Join) -> Join:
    """The same join with what the tables tell of the worth of each comparison; nothing is kept."""
    return combining.learn_weights(desk(), path.outside_id, body)


@api.route_for("post", "/outside/<int:outside_id>/beside", needs="analyse.read", returns=SideBySideOut)
def compare(path: OutsidePath, body: SideBySide) -> SideBySideOut:
    """Our data held against the table, group by group."""
    return combining.compare_by_group(desk(), path.outside_id, body)


@api.route_for("get", "/source-checks", needs="analyse.read", returns=list[SourceCheckOut])
def list_source_checks(path: QuestionnairePath) -> list[SourceCheckOut]:
    return source_checks.list_checks(desk(), path.questionnaire_id)


@api.route_for("post", "/source-checks/preview", needs="combine.write", returns=SourceCheckTried)
def try_source_check(path: QuestionnairePath, body: SourceCheckIn) -> SourceCheckTried:
    return source_checks.try_check(desk(), path.questionnaire_id, body)


@api.route_for("post", "/source-checks", needs="combine.write", returns=SourceCheckOut, status=201)
def keep_source_check(path: QuestionnairePath, body: SourceCheckIn) -> SourceCheckOut:
    return source_checks.keep_check(desk(), path.questionnaire_id, body)


@api.route_for("delete", "/source-checks/<int:source_check_id>", needs="combine.write")
def remove_source_check(path: SourceCheckPath) -> None:
    source_checks.remove_check(desk(), path.questionnaire_id, path.source_check_id)


@api.route_for("get", "/outside/<int:outside_id>/unmatched.csv", needs="analyse.read")
def unmatched_file(path: OutsidePath, query: UnmatchedQuery) -> Response:
    content = combining.unmatched_file(desk(), path.questionnaire_id, path.outside_id, query)
    return Response(content, mimetype="text/csv", headers=attachment(f"unmatched {query.side}.csv"))


@api.route_for("get", "/outside/<int:outside_id>/matches", needs="analyse.read", returns=MatchesOut)
def show_matches(path: OutsidePath) -> MatchesOut:
    return matches.show_matches(desk(), path.outside_id)


@api.route_for("get", "/outside/<int:outside_id>/matches/pair", needs="analyse.read", returns=PairPartsOut)
def show_pair(path: OutsidePath, query: PairQuery) -> PairPartsOut:
    return matches.show_pair(desk(), path.outside_id, query)


@api.route_for("post", "/outside/<int:outside_id>/matches", needs="combine.write", returns=DecidedOut, status=201)
def decide(path: OutsidePath, body: MatchIn) -> DecidedOut:
    return matches.decide(desk(), path.outside_id, body)


@api.route_for("delete", "/outside/<int:outside_id>/matches/<int:decision_id>", needs="combine.write")
def undo_decision(path: DecisionPath) -> None:
    matches.undo_decision(desk(), path.outside_id, path.decision_id)
