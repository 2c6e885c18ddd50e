"""Routes that name the permission they need; a route that names none is closed."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any
from urllib.parse import quote

from flask import Response, current_app, jsonify
from flask_openapi3.blueprint import APIBlueprint
from pydantic import BaseModel, RootModel, TypeAdapter

from skavo.services.desk import Desk
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.web.guard import NEEDS, Needs, caller


class Resource(APIBlueprint):
    """A blueprint whose routes say whom they serve."""

    def __init__(self, name: str, prefix: str = "") -> None:
        super().__init__(name, f"skavo.web.{name}", url_prefix=f"/api{prefix}")

    def route_for(
        self,
        method: str,
        rule: str,
        *,
        needs: Needs,
        returns: Any = None,
        status: int = 200,
    ) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
        """Register a view; `returns` is the pydantic model (or list of them) of its answer."""

        def register(view: Callable[..., Any]) -> Callable[..., Any]:
            @wraps(view)
            def answer(*args: Any, **kwargs: Any) -> Any:
                result = view(*args, **kwargs)
                return result if isinstance(result, Response) else _as_response(result, status)

            setattr(answer, NEEDS, needs)
            responses = {str(status): _response_of(returns)} if returns is not None else None
            described = {
                "responses": responses,
                "operation_id": f"{self.name}_{view.__name__}",
                "security": _ASKED[needs],
            }
            getattr(self, method)(rule, **described)(answer)
            return answer

        return register


class _Asked(dict[Needs, list[dict[str, list[str]]]]):
    """How a route is asked, for its description: with a session, but for those that say otherwise."""

    def __missing__(self, needs: Needs) -> list[dict[str, list[str]]]:
        return [{"session": []}]


_ASKED = _Asked({"open": [], "device": [{"device": []}], "device to wipe": [{"device": []}]})


def _response_of(returns: Any) -> Any:
    if isinstance(returns, type) and issubclass(returns, BaseModel):
        return returns
    inner: Any = returns.__args__[0]
    base: Any = RootModel.__class_getitem__(list[inner])
    return type(f"{inner.__name__}List", (base,), {"__module__": inner.__module__})


def _as_response(result: Any, status: int) -> Response:
    if result is None:
        return Response(status=204)
    adapter: TypeAdapter[Any] = TypeAdapter(Any)
    response = jsonify(adapter.dump_python(result, mode="json"))
    response.status_code = status
    return response


def store() -> Store:
    found: Store = current_app.extensions["skavo_store"]
    return found


def data_sets() -> DataSets:
    found: DataSets = current_app.extensions["skavo_data_sets"]
    return found


def desk() -> Desk:
    """What whoever asks works with, as the guard found them."""
    asks, held = caller(), current_app.extensions
    return Desk(
        held["skavo_store"], held["skavo_data_sets"], held["skavo_jobs"], asks.name, asks.person_id, asks.permissions,
        asks.teams,
    )  # fmt: skip


def attachment(name: str) -> dict[str, str]:
    """The header with which a browser keeps an answer as a file of that name, in whatever script (RFC 6266)."""
    plain = "".join(c if c.isascii() and c.isprintable() and c not in '"\\/' else "_" for c in name)
    return {"Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"}
