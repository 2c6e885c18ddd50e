"""Samples at the desk: how large, from which frame, drawn, drawn again."""

from __future__ import annotations

from typing import Literal

from flask import Response
from pydantic import BaseModel, Field

from skavo.core.sampling.sizes import Setting, margin_of_share, size_for_difference, size_for_mean, size_for_share
from skavo.formats.read_table import MOST_BYTES
from skavo.services import frames, samples
from skavo.services.frames import FrameIn, FrameOut
from skavo.services.samples import (
    DrawnAgain,
    DrawnOut,
    FrameFileOut,
    SampleIn,
    SampleLine,
    SampleName,
    SampleOut,
    SampleUnits,
    UnitsQuery,
)
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import Body, StudyPath
from skavo.web.uploads import CalledQuery, PiecesPath, take_piece, upload_at_desk

api = Resource("samples")


class SamplePath(BaseModel):
    sample_id: int


class ArrivingFrameOut(BaseModel):
    received: int
    file: FrameFileOut | None = None


class SizeIn(Body):
    """`of` is a share, a mean or a difference between two shares, `groups` in how many groups each has to be told by
    itself. `margin` and `deviation` are in the unit of the figure; `answers` asks for what so many can tell of a share."""

    of: Literal["share", "mean", "difference"]
    margin: float = 0.05
    share: float = 0.5
    other: float = 0.4
    deviation: float = 1.0
    power: float = 0.8
    confidence: float = 0.95
    population: int | None = None
    design_effect: float = 1.0
    response: float = 1.0
    groups: int = Field(default=1, ge=1, le=100_000)
    answers: int | None = Field(default=None, ge=1, le=10**9)


class SizeOut(BaseModel):
    """`answers` are needed and `drawn` have to be drawn, over all groups; `tells` is the margin that `answers` of the
    request would give, None where none were named."""

    answers: int
    drawn: int
    tells: float | None


@api.route_for("post", "/sample-sizes", needs="signed-in", returns=SizeOut)
def size(body: SizeIn) -> SizeOut:
    setting = Setting(body.confidence, body.population, body.design_effect, body.response)
    if body.of == "share":
        found = size_for_share(body.margin, body.share, setting)
    elif body.of == "mean":
        found = size_for_mean(body.margin, body.deviation, setting)
    else:
        found = size_for_difference(body.share, body.other, body.power, setting)
    # Two groups are compared, each of that size.
    groups = body.groups * (2 if body.of == "difference" else 1)
    tells = None if body.answers is None else margin_of_share(body.answers, body.share, setting)
    return SizeOut(answers=found.answers * groups, drawn=found.drawn * groups, tells=tells)


@api.route_for("get", "/studies/<int:study_id>/samples", needs="register.read", returns=list[SampleLine])
def list_samples(path: StudyPath) -> list[SampleLine]:
    return samples.list_samples(desk(), path.study_id)


@api.route_for(
    "get", "/studies/<int:study_id>/frame-files/<string:name>", needs="study.write", returns=ArrivingFrameOut
)
def arrived_of_frame(path: PiecesPath) -> ArrivingFrameOut:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    return ArrivingFrameOut(received=upload_at_desk("frame", path).received)


@api.route_for(
    "put", "/studies/<int:study_id>/frame-files/<string:name>", needs="study.write", returns=ArrivingFrameOut
)
def take_frame(path: PiecesPath, query: CalledQuery) -> ArrivingFrameOut:
    """Take in the next piece of a frame; with the last one its columns are told."""
    here = desk()
    received, file = take_piece(
        upload_at_desk("frame", path), MOST_BYTES, lambda sent: samples.take_frame(here, query.called, sent)
    )
    return ArrivingFrameOut(received=received, file=file)


@api.route_for("post", "/studies/<int:study_id>/sample-frames", needs="study.write", returns=FrameOut)
def look_at_frame(path: StudyPath, body: FrameIn) -> FrameOut:
    return frames.look_at_frame(desk(), path.study_id, body)


@api.route_for("post", "/studies/<int:study_id>/sample-trials", needs="study.write", returns=DrawnOut)
def try_out(path: StudyPath, body: SampleIn) -> DrawnOut:
    """What would be drawn; nothing is kept."""
    return samples.try_out(desk(), path.study_id, body)


@api.route_for("post", "/studies/<int:study_id>/samples", needs="study.write", returns=SampleOut, status=201)
def draw(path: StudyPath, body: SampleIn) -> SampleOut:
    return samples.draw(desk(), path.study_id, body)


@api.route_for("get", "/samples/<int:sample_id>", needs="register.read", returns=SampleOut)
def show(path: SamplePath) -> SampleOut:
    return samples.show_sample(desk(), path.sample_id)


@api.route_for("put", "/samples/<int:sample_id>", needs="study.write", returns=SampleOut)
def rename(path: SamplePath, body: SampleName) -> SampleOut:
    return samples.rename_sample(desk(), path.sample_id, body)


@api.route_for("delete", "/samples/<int:sample_id>", needs="study.write", status=204)
def remove(path: SamplePath) -> None:
    samples.remove_sample(desk(), path.sample_id)


@api.route_for("get", "/samples/<int:sample_id>/units", needs="register.read", returns=SampleUnits)
def units(path: SamplePath, query: UnitsQuery) -> SampleUnits:
    return samples.list_units(desk(), path.sample_id, query)


@api.route_for("get", "/samples/<int:sample_id>/again", needs="register.read", returns=DrawnAgain)
def again(path: SamplePath) -> DrawnAgain:
    """Draw once more from the frame as it was kept, and compare."""
    return samples.draw_again(desk(), path.sample_id)


@api.route_for("get", "/samples/<int:sample_id>/frame", needs="register.read")
def frame_file(path: SamplePath) -> Response:
    return _file(path, "frame")


@api.route_for("get", "/samples/<int:sample_id>/file", needs="register.read")
def sample_file(path: SamplePath) -> Response:
    return _file(path, "sample")


def _file(path: SamplePath, what: Literal["frame", "sample"]) -> Response:
    name, content = samples.file_of_sample(desk(), path.sample_id, what)
    return Response(content, mimetype="text/csv", headers=attachment(name))
