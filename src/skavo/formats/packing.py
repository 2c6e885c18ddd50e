"""Files packed so that the same content gives the same bytes, whenever and wherever it is packed."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Mapping
from typing import IO

# The first moment that a zip can name, and so every usual program's for none.
MOMENT = (1980, 1, 1, 0, 0, 0)


def pack(files: Mapping[str, bytes | str | Iterable[str]]) -> bytes:
    """A zip of files, in their order."""
    packed = io.BytesIO()
    pack_into(packed, files)
    return packed.getvalue()


def pack_into(packed: IO[bytes], files: Mapping[str, bytes | str | Iterable[str]]) -> None:
    """The same into a file; one that comes in pieces of text is never whole in memory."""
    with zipfile.ZipFile(packed, "w") as out:
        for name, content in files.items():
            about = zipfile.ZipInfo(name, MOMENT)
            about.compress_type = zipfile.ZIP_DEFLATED
            if isinstance(content, bytes | str):
                out.writestr(about, content)
                continue
            # A piece tells nothing of how large the file will be.
            with out.open(about, "w", force_zip64=True) as file:
                for piece in content:
                    file.write(piece.encode())
