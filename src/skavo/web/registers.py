"""Registers at the desk: kinds of unit, the tree, units."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.formats.read_table import MOST_BYTES
from skavo.services import branch_shares, branches, registers, unit_changes, unit_doubts, unit_files, units
from skavo.services.branch_shares import SharedWith, SharesOut
from skavo.services.branches import Branch, BranchQuery, PointsOut, PointsQuery, WayOut
from skavo.services.jobs import JobOut
from skavo.services.registers import KindChange, KindIn, ReadyKindOut, UnitKindOut
from skavo.services.unit_changes import CloseIn, MergeIn, MoveIn, SplitIn, UnitChange, UnitIn
from skavo.services.unit_doubts import DecideIn, DoubtsOut
from skavo.services.unit_files import BringInOrder, TakeOutOrder, UnitsTableOut
from skavo.services.units import UnitOut, UnitQuery
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath
from skavo.web.uploads import CalledQuery, PiecesPath, take_piece, upload_at_desk

api = Resource("registers")


class KindPath(BaseModel):
    kind_id: int


class UnitPath(BaseModel):
    unit_id: int


class UnitInStudyPath(StudyPath):
    unit_id: int


class UnitChangePath(BaseModel):
    change_id: int


class UnitFileOut(BaseModel):
    """How much has arrived; `file`, once all of it has, says what is in it."""

    received: int
    file: UnitsTableOut | None = None


@api.route_for("get", "/ready-unit-kinds", needs="signed-in", returns=list[ReadyKindOut])
def ready_kinds() -> list[ReadyKindOut]:
    return registers.list_ready()


@api.route_for("get", "/studies/<int:study_id>/unit-kinds", needs="register.read", returns=list[UnitKindOut])
def list_kinds(path: StudyPath) -> list[UnitKindOut]:
    return registers.list_kinds(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/unit-kinds", needs="script.write", returns=UnitKindOut, status=201)
def make_kind(path: StudyPath, body: KindIn) -> UnitKindOut:
    return registers.make_kind(desk(), path.study_id, body)


@api.route_for("put", "/unit-kinds/<int:kind_id>", needs="script.write", returns=UnitKindOut)
def change_kind(path: KindPath, body: KindChange) -> UnitKindOut:
    return registers.change_kind(desk(), path.kind_id, body)


@api.route_for("delete", "/unit-kinds/<int:kind_id>", needs="script.write", status=204)
def remove_kind(path: KindPath) -> None:
    registers.remove_kind(desk(), path.kind_id)


@api.route_for("get", "/studies/<int:study_id>/units", needs="register.read", returns=Branch)
def branch(path: StudyPath, query: BranchQuery) -> Branch:
    return branches.show_branch(desk(), path.study_id, query)


@api.route_for("get", "/studies/<int:study_id>/unit-points", needs="register.read", returns=PointsOut)
def points(path: StudyPath, query: PointsQuery) -> PointsOut:
    return branches.show_points(desk(), path.study_id, query)


@api.route_for("get", "/studies/<int:study_id>/units/<int:unit_id>/way", needs="register.read", returns=WayOut)
def way(path: UnitInStudyPath) -> WayOut:
    return branches.way_to(desk(), path.study_id, path.unit_id)


@api.route_for("post", "/studies/<int:study_id>/units", needs="register.write", returns=UnitOut, status=201)
def make(path: StudyPath, body: UnitIn) -> UnitOut:
    return unit_changes.make_unit(desk(), path.study_id, body)


@api.route_for("get", "/units/<int:unit_id>", needs="register.read", returns=UnitOut)
def show(path: UnitPath, query: UnitQuery) -> UnitOut:
    return units.show_unit(desk(), path.unit_id, query.on)


@api.route_for("put", "/units/<int:unit_id>", needs="register.write", returns=UnitOut)
def change(path: UnitPath, body: UnitChange) -> UnitOut:
    return unit_changes.change_unit(desk(), path.unit_id, body)


@api.route_for("post", "/units/<int:unit_id>/move", needs="register.write", returns=UnitOut)
def move(path: UnitPath, body: MoveIn) -> UnitOut:
    return unit_changes.move_unit(desk(), path.unit_id, body)


@api.route_for("post", "/units/<int:unit_id>/closing", needs="register.write", returns=UnitOut)
def close(path: UnitPath, body: CloseIn) -> UnitOut:
    return unit_changes.close_unit(desk(), path.unit_id, body)


@api.route_for("post", "/units/<int:unit_id>/merge", needs="register.write", returns=UnitOut)
def merge(path: UnitPath, body: MergeIn) -> UnitOut:
    return unit_changes.merge_unit(desk(), path.unit_id, body)


@api.route_for("post", "/units/<int:unit_id>/split", needs="register.write", returns=UnitOut)
def split(path: UnitPath, body: SplitIn) -> UnitOut:
    return unit_changes.split_unit(desk(), path.unit_id, body)


@api.route_for("get", "/studies/<int:study_id>/unit-files/<string:name>", needs="register.write", returns=UnitFileOut)
def arrived_of_file(path: PiecesPath) -> UnitFileOut:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    return UnitFileOut(received=upload_at_desk("units", path).received)


@api.route_for("put", "/studies/<int:study_id>/unit-files/<string:name>", needs="register.write", returns=UnitFileOut)
def take_file(path: PiecesPath, query: CalledQuery) -> UnitFileOut:
    """Take in the next piece of a file with units; with the last one it is looked into."""
    here = desk()
    received, file = take_piece(
        upload_at_desk("units", path), MOST_BYTES,
        lambda sent: unit_files.take_file(here, path.study_id, query.called, sent),
    )  # fmt: skip
    return UnitFileOut(received=received, file=file)


@api.route_for("post", "/studies/<int:study_id>/unit-arrivals", needs="register.write", returns=JobOut, status=202)
def bring_in(path: StudyPath, body: BringInOrder) -> JobOut:
    return unit_files.order_bringing_in(desk(), path.study_id, body)


@api.route_for("post", "/studies/<int:study_id>/unit-extracts", needs="register.read", returns=JobOut, status=202)
def take_out(path: StudyPath, body: TakeOutOrder) -> JobOut:
    return unit_files.order_taking_out(desk(), path.study_id, body)


@api.route_for("get", "/studies/<int:study_id>/branch-shares", needs="register.read", returns=SharesOut)
def shares(path: StudyPath) -> SharesOut:
    return branch_shares.list_shares(desk(), path.study_id)


@api.route_for("put", "/studies/<int:study_id>/branch-shares", needs="register.write", returns=SharesOut)
def share(path: StudyPath, body: SharedWith) -> SharesOut:
    return branch_shares.share_branch(desk(), path.study_id, body)


@api.route_for("get", "/studies/<int:study_id>/unit-doubts", needs="register.read", returns=DoubtsOut)
def doubts(path: StudyPath) -> DoubtsOut:
    return unit_doubts.list_doubts(desk(), path.study_id)


@api.route_for("post", "/unit-changes/<int:change_id>/decision", needs="register.write", returns=DoubtsOut)
def decide(path: UnitChangePath, body: DecideIn) -> DoubtsOut:
    return unit_doubts.decide(desk(), path.change_id, body)
