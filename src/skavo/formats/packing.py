"""Files packed so that the same content gives the same bytes, whenever and wherever it is packed."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping

# The first moment that a zip can name, and so every usual program's for none.
MOMENT = (1980, 1, 1, 0, 0, 0)


def pack(files: Mapping[str, bytes | str]) -> bytes:
    """A zip of files, in their order."""
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as out:
        for name, content in files.items():
            out.writestr(zipfile.ZipInfo(name, MOMENT), content, zipfile.ZIP_DEFLATED)
    return packed.getvalue()
