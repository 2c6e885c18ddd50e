"""Handing over: extracts, made as jobs."""

from __future__ import annotations

from skavo.formats.extract import ExtractOptions
from skavo.services.extracts import order_extract
from skavo.services.jobs import JobOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, DataSetPath

api = Resource("extracts", "/data-sets/<int:data_set_id>")


class ExtractIn(Body):
    options: ExtractOptions
    cleaned: bool = True


@api.route_for("post", "/extracts", needs="extract.make", returns=JobOut, status=202)
def order(path: DataSetPath, body: ExtractIn) -> JobOut:
    return order_extract(desk(), path.data_set_id, body.options, cleaned=body.cleaned)
