"""Images from disk as pixels: single ones, moving ones, and several that make one sheet."""

from __future__ import annotations

import io
import re
import struct
import warnings
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import TypeVar

import numpy as np
from PIL import Image, ImageSequence, UnidentifiedImageError

from leanstep.core.character.sheets import Cut
from leanstep.core.character.storage import Missing, read_bytes
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.background import Pixels

_T = TypeVar("_T")
SIDE = 8192
BAND = 256
"""Rows of an image that are taken over at once."""

LARGEST = SIDE * SIDE
"""Pixels an image may have."""
WIDEST = 4096
"""Pixels up to which pictures are laid side by side before a new row begins."""
FORMATS = ("PNG", "GIF", "WEBP", "BMP", "JPEG")
"""The formats that are read."""
STILL = 100.0
"""Milliseconds a picture of a moving image is shown that says nothing of it, or 0."""
Image.MAX_IMAGE_PIXELS = None  # the size is looked at here, before anything is decoded


@dataclass(frozen=True)
class Read:
    """An image as height × width × 4 bytes (RGBA).  A moving one, or several, are laid out in ``cells`` (width and height
    of one) row by row, ``count`` of them; each is shown for ``milliseconds``, where that is known."""

    pixels: Pixels
    count: int = 1
    cell: tuple[int, int] = (0, 0)
    milliseconds: tuple[float, ...] = ()
    repeats: bool = True

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the whole in pixels."""
        return self.pixels.shape[1], self.pixels.shape[0]

    @property
    def cut(self) -> Cut:
        """The cut into the pictures it is made of; the whole for a single one."""
        if self.count == 1:
            return Cut()
        return Cut(way="size", width=self.cell[0], height=self.cell[1])


def read_image(path: Path) -> Pixels:
    """The image at ``path`` as height × width × 4 bytes (RGBA); the pictures of a moving one are laid out in rows.

    Raises
    ------
    LeanStepError : missing, unreadable, no image, or too large.
    """
    return read(path).pixels


def read(path: Path) -> Read:
    """The same, with what is known of its pictures."""

    def decoded(image: Image.Image, count: int) -> Read:
        return _moving(image, count) if count > 1 else Read(_pixels(image))

    return _opened(path, decoded)


def size_of(path: Path) -> tuple[int, int, int]:
    """Width, height and number of pictures of an image, of which nothing is decoded; raises as :func:`read_image`."""
    return _opened(path, lambda image, count: (image.width, image.height, count))


def _opened(path: Path, look: Callable[[Image.Image, int], _T]) -> _T:
    """What ``look`` makes of an image and the number of its pictures; what is too large is refused before."""
    try:
        data = read_bytes(path)
    except Missing:
        raise LeanStepError(str(path), "there is no such image", "Put it there, or choose another one.") from None
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as image:
                _look_at_size(path, image.width, image.height, 1)
                count = int(getattr(image, "n_frames", 1))
                _look_at_size(path, image.width, image.height, count)
                return look(image, count)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, MemoryError, struct.error) as error:
        reason = f"it cannot be read as an image ({' '.join(str(error).split())[:120]})"
        raise LeanStepError(str(path), reason, "Save it again as PNG.") from None
    except (TypeError, IndexError, KeyError, AttributeError, OverflowError, ZeroDivisionError) as error:
        # what the library says of some garbled files
        raise LeanStepError(str(path), f"it is a garbled image ({error})", "Save it again as PNG.") from None


def _pixels(image: Image.Image) -> Pixels:
    """The pixels of an image, taken over in bands, so that a large one is not in memory several times."""
    pixels = np.empty((image.height, image.width, 4), np.uint8)
    for top in range(0, image.height, BAND):
        low = min(top + BAND, image.height)
        pixels[top:low] = np.asarray(image.crop((0, top, image.width, low)).convert("RGBA"))
    return pixels


def _look_at_size(path: Path, width: int, height: int, count: int) -> None:
    """Refuse what is too large, before it is decoded."""
    if width * height * count > LARGEST:
        what = (
            f"it is {width} × {height} pixels"
            if count == 1
            else f"it has {count} pictures of {width} × {height} pixels"
        )
        reason = f"{what}, and at most {LARGEST} ({SIDE} × {SIDE}) are read"
        raise LeanStepError(str(path), reason, "Make it smaller, or cut it into several.")


def _moving(image: Image.Image, count: int) -> Read:
    """The pictures of a moving image, laid out in rows."""
    durations: list[float] = []

    def pictures() -> Iterator[Pixels]:
        for picture in ImageSequence.Iterator(image):
            # some formats know how long a picture is shown once it is decoded
            pixels = _pixels(picture)
            durations.append(float(picture.info.get("duration") or 0) or STILL)
            yield pixels

    pixels = _laid_out(pictures(), count, (image.width, image.height))
    # a file that breaks off has fewer than it says
    found = len(durations)
    rows = -(-found // max(1, pixels.shape[1] // image.width))
    return Read(
        pixels[: rows * image.height],
        found,
        (image.width, image.height),
        tuple(durations),
        image.info.get("loop", 1 if image.format == "GIF" else 0) == 0,
    )


def read_images(paths: Sequence[Path]) -> Read:
    """Several single images as one, each in a cell as large as the largest needs, standing on its bottom.

    Raises
    ------
    LeanStepError : one of them cannot be read, or they are too large together.
    """
    found = {path: read_image(path).shape if moves else (high, wide) for path, (wide, high, moves) in _sizes(paths)}
    width, height = max(size[1] for size in found.values()), max(size[0] for size in found.values())
    _look_at_size(paths[0], width, height, len(paths))
    return Read(_laid_out(map(read_image, paths), len(paths), (width, height)), len(paths), (width, height))


def made_of(paths: Sequence[Path]) -> Cut | None:
    """The cut into the pictures that a moving image, or several, are made of; None for a single picture.

    Raises
    ------
    LeanStepError : one of them cannot be read.
    """
    sizes = [size for _, size in _sizes(paths)]
    if len(paths) == 1 and not sizes[0][2]:
        return None
    return Cut(way="size", width=max(size[0] for size in sizes), height=max(size[1] for size in sizes))


def _sizes(paths: Sequence[Path]) -> Iterator[tuple[Path, tuple[int, int, bool]]]:
    """Width, height and whether it moves of each of these images, once."""
    for path in dict.fromkeys(paths):
        width, height, count = size_of(path)
        yield path, (width, height, count > 1)


def _laid_out(pictures: Iterable[Pixels], count: int, cell: tuple[int, int]) -> Pixels:
    """So many pictures in cells, row by row; a smaller one stands in the middle of its cell's bottom."""
    width, height = cell
    columns = max(1, min(count, WIDEST // width))
    rows = -(-count // columns)
    pixels = np.zeros((rows * height, columns * width, 4), np.uint8)
    for number, picture in enumerate(islice(pictures, count)):
        row, column = divmod(number, columns)
        high, wide = picture.shape[:2]
        left, low = column * width + (width - wide) // 2, (row + 1) * height
        pixels[low - high : low, left : left + wide] = picture
    return pixels


def numbered(paths: Sequence[Path]) -> list[list[Path]]:
    """Files that make one sheet together: those whose names differ in their last number only, in the order of these numbers;
    the others by themselves."""
    groups: dict[tuple[object, ...], list[tuple[int, Path]]] = {}
    for path in paths:
        match = re.fullmatch(r"(.*?)(\d+)(\D*)", path.stem)
        key = (path.parent, match[1], match[3], path.suffix.lower()) if match else (path,)
        groups.setdefault(key, []).append((int(match[2]) if match else 0, path))
    return [[path for _, path in sorted(group)] for group in groups.values()]
