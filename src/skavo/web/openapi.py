"""Writes the description of the HTTP interface (OpenAPI) to standard output: python -m skavo.web.openapi."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from skavo.web.app import create_app


def description() -> str:
    """The OpenAPI document as JSON, its keys sorted so that equal interfaces give equal files."""
    with tempfile.TemporaryDirectory() as folder:
        return json.dumps(create_app(Path(folder)).api_doc, indent=1, sort_keys=True)


if __name__ == "__main__":
    print(description())
