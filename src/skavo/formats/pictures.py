"""Pictures: made small for a preview, and freed of the place where they were taken."""

from __future__ import annotations

from io import BytesIO

from PIL import ExifTags, Image, ImageOps

# Only these are shown in a page; everything else is taken out as it is.
SHOWN_AS_PICTURE = ("image/png", "image/jpeg", "image/webp")
_LONGEST_SIDE = 640
# A small file can unfold to any size; phones take pictures of up to 200 million points.
_MOST_POINTS = 220_000_000


def preview_of(content: bytes) -> bytes | None:
    """A JPEG of at most 640 points a side, made from what can be seen only; None where it is no picture."""
    try:
        with Image.open(BytesIO(content), formats=("PNG", "JPEG", "WEBP")) as picture:
            if picture.width * picture.height > _MOST_POINTS:
                return None
            picture.draft("RGB", (_LONGEST_SIDE, _LONGEST_SIDE))
            upright = ImageOps.exif_transpose(picture)
            upright.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))
            # A signature is drawn on nothing; on paper it is seen.
            paper = Image.new("RGB", upright.size, "white")
            if upright.mode in ("RGBA", "LA", "P"):
                drawn = upright.convert("RGBA")
                paper.paste(drawn, mask=drawn.getchannel("A"))
            else:
                paper.paste(upright.convert("RGB"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
    out = BytesIO()
    paper.save(out, "JPEG", quality=80)
    return out.getvalue()


def without_location(content: bytes) -> bytes | None:
    """A picture without the place in its metadata, its points untouched; None where it cannot be freed of it."""
    out = BytesIO()
    try:
        with Image.open(BytesIO(content), formats=("PNG", "JPEG", "WEBP")) as picture:
            if picture.format != "JPEG":
                picture.save(out, picture.format, lossless=True)
                return out.getvalue()
            data = picture.getexif()
            data.pop(ExifTags.IFD.GPSInfo, None)
            # Only the one block is kept: other metadata (XMP, IPTC) may tell the place as well.
            picture.save(out, "JPEG", quality="keep", exif=data.tobytes())
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
    return out.getvalue()
