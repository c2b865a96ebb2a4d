"""Photographs as they are kept: upright, no larger than is looked at, and silent about where they were taken.

Each is a file named by its own hash, so that the same picture is kept once and none replaces another.
"""

import hashlib
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from pronostico.errors import Refused
from pronostico.limits import MEGABYTE, PICTURE_BYTES
from pronostico.record.faults import Fault
from pronostico.services.staging import write_through

LONGEST_PX = 2048
"""A sheet of paper at 180 dots an inch, and twice the width of a page on the screen."""
_QUALITY = 85
_KINDS = ("JPEG", "PNG", "WEBP")
# A JPEG is made smaller while it is read; anything else is whole in memory first, four bytes a pixel.
_MOST_PIXELS = {"JPEG": 220_000_000, "PNG": 50_000_000, "WEBP": 50_000_000}
_WANTED = "must be a photograph as JPEG, PNG or WebP"


@dataclass(frozen=True, slots=True)
class Picture:
    """A photograph ready to be kept: a JPEG, and the name of its file."""

    content: bytes
    name: str
    media_type: str = "image/jpeg"


def too_large() -> Refused:
    """What is said of a photograph that is too large."""
    megabytes = PICTURE_BYTES // MEGABYTE
    return Refused([Fault("$", f"the photograph is larger than {megabytes} MB; choose a smaller copy")])


@contextmanager
def _opened(content: bytes) -> Iterator[Image.Image]:
    # What lays out PDFs has Pillow take pictures that are cut off, for the whole process.
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        with warnings.catch_warnings():
            # What is too many pixels is said here, by kind.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(BytesIO(content), formats=_KINDS) as picture:
                _check_pixels(picture)
                yield picture
    except Image.DecompressionBombError as error:
        raise _too_many(_MOST_PIXELS["JPEG"]) from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise Refused([Fault("$", f"{_WANTED}; this file is not one, or it is damaged")]) from error


def _check_pixels(picture: Image.Image) -> None:
    most = _MOST_PIXELS[picture.format or ""]
    if picture.width * picture.height > most:
        raise _too_many(most)


def _too_many(most: int) -> Refused:
    return Refused([Fault("$", f"{_WANTED}, of at most {most // MEGABYTE} megapixels")])


def check_picture(content: bytes) -> None:
    """Whether a file is a photograph of those that are taken.

    Raises:
        Refused: it is none, or broken, or far too many pixels.
    """
    with _opened(content) as picture:
        picture.verify()


def developed(content: bytes) -> Picture:
    """A photograph as it is kept: upright, at most `LONGEST_PX` long, without what its file says beside it.

    Raises:
        Refused: it is too large, or no picture.
    """
    if len(content) > PICTURE_BYTES:
        raise too_large()
    with _opened(content) as picture:
        colours = picture.info.get("icc_profile")
        picture.draft("RGB", (LONGEST_PX, LONGEST_PX))
        upright = ImageOps.exif_transpose(picture)
        upright.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.LANCZOS)
        if upright.mode not in ("RGB", "L"):
            # What is transparent is shown on white paper.
            layered = upright.convert("RGBA")
            upright = Image.new("RGB", layered.size, "white")
            upright.paste(layered, mask=layered.getchannel("A"))
            colours = None
        upright.info.clear()
        made = BytesIO()
        upright.save(made, "JPEG", quality=_QUALITY, optimize=True, exif=b"", xmp=b"", icc_profile=colours)
    kept = made.getvalue()
    return Picture(kept, f"{hashlib.sha256(kept).hexdigest()}.jpg")


def put_in_place(picture: Picture, folder: Path) -> None:
    """Keep a picture's file; one that is there already stays."""
    path = folder / picture.name
    if path.is_file() and path.stat().st_size == len(picture.content):
        return
    folder.mkdir(parents=True, exist_ok=True)
    # Whole or not at all: a file half written would later be no picture.
    half = path.with_suffix(".part")
    write_through(half, picture.content)
    half.replace(path)
