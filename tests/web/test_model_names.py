"""Models of the API by their names: of two that are called the same, the description would keep one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import is_dataclass
from pathlib import Path
from types import GenericAlias
from typing import Any, get_args, get_type_hints

from flask import Flask
from pydantic import BaseModel

from skavo.web.app import create_app


def test_no_two_models_of_the_api_are_called_the_same(tmp_path: Path) -> None:
    named: defaultdict[str, set[type]] = defaultdict(set)
    for model in _models(create_app(tmp_path)):
        named[model.__name__].add(model)
    twice = {name: sorted(m.__module__ for m in models) for name, models in named.items() if len(models) > 1}
    assert len(named) > 300
    assert twice == {}


def _models(app: Flask) -> Iterator[type]:
    seen: set[type] = set()
    waiting: list[Any] = []
    for view in app.view_functions.values():
        inner: Any = view
        while inner is not None:
            hints = get_type_hints(inner, include_extras=True) if getattr(inner, "__annotations__", None) else {}
            # What stands in an address is written out, without a name.
            waiting += [hint for name, hint in hints.items() if name not in ("path", "query")]
            inner = getattr(inner, "__wrapped__", None)
    while waiting:
        kind = waiting.pop()
        waiting += get_args(kind)
        is_model = (
            isinstance(kind, type)
            and not isinstance(kind, GenericAlias)
            and (issubclass(kind, BaseModel) or is_dataclass(kind))
        )
        if is_model and kind not in seen:
            seen.add(kind)
            waiting += _fields_of(kind)
            yield kind


def _fields_of(kind: Any) -> list[Any]:
    if is_dataclass(kind):
        return list(get_type_hints(kind, include_extras=True).values())
    return [field.annotation for field in kind.model_fields.values()]
