"""What a writer of extracts writes, as bytes."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any


def written(write: Callable[..., None], *given: Any) -> bytes:
    """`given` is what the writer takes besides where it writes to."""
    out = io.BytesIO()
    write(out, *given)
    return out.getvalue()
