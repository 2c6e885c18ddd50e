"""What the made-up enumerators photograph, record and have signed: drawn and hummed by this code."""

from __future__ import annotations

import io
import math
import random
import struct
import wave

from PIL import Image, ImageDraw

_WALLS = ["#b9a58a", "#8fa3a0", "#c7b7a3", "#9a8f86", "#a9b48f"]
_DOORS = ["#20505c", "#7a3b2e", "#3e5a3a", "#4a4a58"]
_SOUND_RATE, _SOUND_SECONDS = 8_000, 1


def front_photo(rng: random.Random) -> bytes:
    """A house front with a door and two windows, JPEG."""
    picture = Image.new("RGB", (480, 360), "#c4d3da")
    pen = ImageDraw.Draw(picture)
    left, top = rng.randrange(30, 90), rng.randrange(70, 130)
    pen.rectangle((left, top, 480 - left, 320), fill=rng.choice(_WALLS))
    pen.polygon([(left - 15, top), (495 - left, top), (240, top - 50)], fill="#6b5d55")
    door = rng.randrange(left + 20, 400 - left)
    pen.rectangle((door, 200, door + 60, 320), fill=rng.choice(_DOORS))
    for window in (left + 15, 480 - left - 85):
        if abs(window - door) > 75:
            pen.rectangle((window, top + 40, window + 60, top + 90), fill="#e7eef1", outline="#5a5a5a", width=3)
    pen.rectangle((0, 320, 480, 360), fill="#a79f90")
    return _saved(picture, "JPEG")


def signature(rng: random.Random) -> bytes:
    """A scribble, PNG."""
    picture = Image.new("L", (320, 120), 255)
    pen = ImageDraw.Draw(picture)
    waves, height = rng.uniform(3, 6), rng.uniform(15, 35)
    points = [
        (20 + 280 * t / 80, 60 + height * math.sin(waves * 2 * math.pi * t / 80) * (1 - t / 110) + rng.uniform(-4, 4))
        for t in range(81)
    ]
    pen.line(points, fill=20, width=3)
    return _saved(picture, "PNG")


def bench_sound(rng: random.Random) -> bytes:
    """A hum with knocks, WAV."""
    pitch = rng.uniform(90, 240)
    count = _SOUND_RATE * _SOUND_SECONDS
    knock = rng.randrange(1_000, 3_000)
    loudness = [0.2 + (0.7 if n % knock < 250 else 0.0) for n in range(count)]
    samples = [int(14_000 * loud * math.sin(2 * math.pi * pitch * n / _SOUND_RATE)) for n, loud in enumerate(loudness)]
    packed = io.BytesIO()
    with wave.open(packed, "wb") as sound:
        sound.setnchannels(1)
        sound.setsampwidth(2)
        sound.setframerate(_SOUND_RATE)
        sound.writeframes(struct.pack(f"<{count}h", *samples))
    return packed.getvalue()


def licence(unit_code: str, year: int) -> bytes:
    """The text of a trade licence."""
    return f"Bureau of Crafts of the Ostrel Isles\nTrade licence for {unit_code}\nGranted in {year}\n".encode()


def _saved(picture: Image.Image, form: str) -> bytes:
    packed = io.BytesIO()
    picture.save(packed, form, quality=70, optimize=True)
    return packed.getvalue()
