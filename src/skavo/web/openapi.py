"""Writes what the front ends are typed by: python -m skavo.web.openapi FOLDER.

`openapi.json` describes the HTTP interface and, beside it, what has no route: screens and interview documents.
`contract.ts` holds the kinds of question and the formats, as the engine knows them.
"""

from __future__ import annotations

import functools
import json
import operator
import sys
import tempfile
from pathlib import Path
from types import UnionType
from typing import Any, get_args, get_origin, get_type_hints, is_typeddict

from pydantic import create_model

from skavo.core.fieldwork.profile import FieldProfile
from skavo.core.interview import screens
from skavo.core.interview.formats import INTERVIEW, RELEASE
from skavo.core.interview.kinds import KINDS
from skavo.formats.bundle import BUNDLE, RECEIPTS
from skavo.store.interview_document import InterviewDocument
from skavo.web.app import create_app

# What the engine's worker and the phone speak, without a route of its own.
_SPOKEN: tuple[Any, ...] = (
    screens.Screen, screens.CodesFound, screens.OverviewLine, screens.SavedInterview, screens.PackedInterview,
    screens.ExerciseDifference, InterviewDocument,
)  # fmt: skip


def description() -> str:
    """The OpenAPI document as JSON, its keys sorted so that equal interfaces give equal files."""
    with tempfile.TemporaryDirectory() as folder:
        document = create_app(Path(folder)).api_doc
    schemas = document["components"]["schemas"]
    models: dict[type, Any] = {}
    for shape in _SPOKEN:
        schema = _modelled(shape, models).model_json_schema(
            ref_template="#/components/schemas/{model}", mode="serialization"
        )
        for name, spoken in {**schema.pop("$defs", {}), shape.__name__: schema}.items():
            if schemas.setdefault(name, spoken) != spoken:
                raise RuntimeError(f"Two shapes are called {name}.")
    return json.dumps(document, indent=1, sort_keys=True)


def _modelled(shape: Any, models: dict[type, Any]) -> Any:
    """A type with pydantic models in place of typed dictionaries, which pydantic reads only from Python 3.12."""
    if is_typeddict(shape):
        if shape not in models:
            fields: dict[str, Any] = {
                name: (_modelled(kind, models), ...) for name, kind in get_type_hints(shape).items()
            }
            models[shape] = create_model(shape.__name__, __doc__=shape.__doc__, **fields)
        return models[shape]
    if isinstance(shape, UnionType):
        return functools.reduce(operator.or_, (_modelled(part, models) for part in get_args(shape)))
    if get_origin(shape) in (list, dict):
        return get_origin(shape)[tuple(_modelled(part, models) for part in get_args(shape))]
    return shape


def contract() -> str:
    """The kinds of question, what an answer of each is typed as and given by, the formats written, and the profile that a
    study begins with, as TypeScript."""
    kinds = {kind.name: {"glyph": kind.glyph, "input": kind.input, "type": kind.type} for kind in KINDS.values()}
    formats = {f.name: f.newest for f in (RELEASE, INTERVIEW, BUNDLE, RECEIPTS)}
    lines = [
        "// Written by skavo.web.openapi from core/interview/kinds.py, core/fieldwork/profile.py and the formats.",
        "import type { components } from './schema';",
        f"export const KINDS = {json.dumps(kinds, ensure_ascii=False, indent=2)} as const;",
        "export type KindName = keyof typeof KINDS;",
        "export type InputName = (typeof KINDS)[KindName]['input'];",
        f"export const FORMATS = {json.dumps(formats, indent=2)} as const;",
        f"export const ORDINARY_PROFILE: components['schemas']['FieldProfile'] = {FieldProfile().model_dump_json(indent=2)};",
    ]
    return "\n".join(lines) + "\n"


def main(folder: Path) -> None:
    (folder / "openapi.json").write_text(description(), encoding="utf-8")
    (folder / "contract.ts").write_text(contract(), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
