"""QR pictures, drawn by the page that shows them."""

from __future__ import annotations

import segno


def draw_qr(text: str) -> tuple[str, int]:
    """A QR picture of `text` as an SVG path, a module one unit wide, and how many modules it is wide."""
    matrix = list(segno.make(text, error="m").matrix_iter(scale=1, border=2))
    squares = [f"M{x} {y}h1v1h-1z" for y, row in enumerate(matrix) for x, dark in enumerate(row) if dark]
    return "".join(squares), len(matrix)
