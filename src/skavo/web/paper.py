"""Paper questionnaires: batches, keying, and what is settled where two keyers differ."""

from __future__ import annotations

from flask import Response, jsonify
from pydantic import BaseModel

from skavo.services import batches, keying
from skavo.services.batches import BatchChange, BatchIn, BatchOut, ErrorsOut, Forms, FormsQuery
from skavo.services.keying import FormIn, KeyedOut, KeyingIn, KeyingOut, SettleIn, SettlingOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("paper")


class BatchPath(BaseModel):
    batch_id: int


class FormPath(BaseModel):
    form_id: int


@api.route_for("get", "/studies/<int:study_id>/batches", needs="paper.key", returns=list[BatchOut])
def list_batches(path: StudyPath) -> list[BatchOut]:
    return batches.list_batches(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/batches", needs="paper.manage", returns=BatchOut, status=201)
def make_batch(path: StudyPath, body: BatchIn) -> BatchOut:
    return batches.make_batch(desk(), path.study_id, body)


@api.route_for("get", "/studies/<int:study_id>/keying-errors", needs="paper.manage", returns=ErrorsOut)
def show_errors(path: StudyPath) -> ErrorsOut:
    """How often each keyer, and each question, was keyed otherwise than what counts in the end."""
    return batches.show_errors(desk(), path.study_id)


@api.route_for("put", "/batches/<int:batch_id>", needs="paper.manage", returns=BatchOut)
def change_batch(path: BatchPath, body: BatchChange) -> BatchOut:
    return batches.change_batch(desk(), path.batch_id, body)


@api.route_for("get", "/batches/<int:batch_id>/release", needs="paper.key")
def release(path: BatchPath) -> Response:
    """The release that was printed, and the number of each question on it."""
    return jsonify(keying.release_of_batch(desk(), path.batch_id).model_dump())


@api.route_for("get", "/batches/<int:batch_id>/forms", needs="paper.key", returns=Forms)
def list_forms(path: BatchPath, query: FormsQuery) -> Forms:
    return batches.list_forms(desk(), path.batch_id, query)


@api.route_for("post", "/batches/<int:batch_id>/forms", needs="paper.key", returns=KeyingOut)
def take_form(path: BatchPath, body: FormIn) -> KeyingOut:
    """Begin with a paper, go on with one's own, or begin the second keying of somebody else's."""
    return keying.take_form(desk(), path.batch_id, body)


@api.route_for("put", "/paper-forms/<int:form_id>/keying", needs="paper.key", returns=KeyedOut)
def keep_keying(path: FormPath, body: KeyingIn) -> KeyedOut:
    """Keep what somebody has keyed so far, or to the end of the paper."""
    return keying.keep_keying(desk(), path.form_id, body)


@api.route_for("get", "/paper-forms/<int:form_id>/differences", needs="paper.manage", returns=SettlingOut)
def show_differences(path: FormPath) -> SettlingOut:
    return keying.show_differences(desk(), path.form_id)


@api.route_for("post", "/paper-forms/<int:form_id>/differences", needs="paper.manage", returns=SettlingOut)
def settle(path: FormPath, body: SettleIn) -> SettlingOut:
    """Decide one difference; the last one makes the paper an interview."""
    return keying.settle(desk(), path.form_id, body)


@api.route_for("post", "/paper-forms/<int:form_id>/finishing", needs="paper.manage", returns=SettlingOut)
def finish_form(path: FormPath) -> SettlingOut:
    """Let a paper count that has nothing left to settle."""
    return keying.finish_form(desk(), path.form_id)


@api.route_for("delete", "/paper-forms/<int:form_id>", needs="paper.manage")
def remove_form(path: FormPath) -> None:
    """Drop a paper that was keyed under a wrong number."""
    batches.remove_form(desk(), path.form_id)
