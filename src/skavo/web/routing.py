"""Routes that name the permission they need; a route that names none is closed."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from flask import Response, current_app, g, jsonify, request
from flask_login import current_user
from flask_openapi3.blueprint import APIBlueprint
from pydantic import BaseModel, RootModel, TypeAdapter

from skavo.core.dataset.flatten import DataSet, without_sensitive
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.web.permissions import Open, Permission, may
from skavo.web.problems import Problem

NEEDS = "_skavo_needs"


class Resource(APIBlueprint):
    """A blueprint whose routes say whom they serve."""

    def __init__(self, name: str, prefix: str = "") -> None:
        super().__init__(name, f"skavo.web.{name}", url_prefix=f"/api{prefix}")

    def route_for(
        self,
        method: str,
        rule: str,
        *,
        needs: Permission | Open,
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
            getattr(self, method)(rule, responses=responses, operation_id=f"{self.name}_{view.__name__}")(answer)
            return answer

        return register


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


def guard() -> None:
    """Before every request: whoever asks must have what the route needs."""
    if request.endpoint is None or request.method == "OPTIONS":
        return
    view = current_app.view_functions[request.endpoint]
    needs = getattr(view, NEEDS, None)
    if needs is None and request.endpoint not in current_app.config["OPEN_PAGES"]:
        raise Problem("not_allowed", "This is not open to anyone.")
    if needs in (None, "open", "device"):
        return
    if not current_user.is_authenticated:
        raise Problem("not_signed_in", "Sign in to go on.")
    if needs != "signed-in" and not may(current_user.role, needs):
        raise Problem("not_allowed", "Your role does not allow this. Ask the data manager of the study.")


def store() -> Store:
    found: Store = current_app.extensions["skavo_store"]
    return found


def data_sets() -> DataSets:
    found: DataSets = current_app.extensions["skavo_data_sets"]
    return found


def who() -> str:
    """The name under which what is done now goes into the logbook."""
    return str(getattr(current_user, "name", None) or getattr(g, "device_name", "unknown"))


def sees_sensitive() -> bool:
    return may(current_user.role, "sensitive.read")


def as_seen(data: DataSet) -> DataSet:
    """A data set as whoever asks may see it."""
    return data if sees_sensitive() else without_sensitive(data)
