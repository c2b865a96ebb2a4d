"""What a photograph is, and that it does not say where it was taken."""

import warnings
from io import BytesIO

from PIL import Image, UnidentifiedImageError

from pronostico.errors import Refused
from pronostico.limits import MEGABYTE, PICTURE_BYTES
from pronostico.record.faults import Fault

_MOST_PIXELS = 120_000_000
_KINDS = {"JPEG": ("jpg", "image/jpeg"), "PNG": ("png", "image/png"), "WEBP": ("webp", "image/webp")}
_WANTED = "must be a photograph as JPEG, PNG or WebP"
_PLACE = 0x8825  # the tag of the Exif standard (CIPA DC-008) under which the place data stand


def too_large() -> Refused:
    """What is said of a photograph that is too large."""
    megabytes = PICTURE_BYTES // MEGABYTE
    return Refused([Fault("$", f"the photograph is larger than {megabytes} MB; choose a smaller copy")])


def kind_of(content: bytes) -> tuple[str, str]:
    """Suffix and media type of a picture, by what it really is.

    Raises:
        Refused: it is none, or broken, or far too many pixels.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(BytesIO(content), formats=list(_KINDS)) as picture:
                width, height = picture.size
                kind = picture.format or ""
                picture.verify()
    except (Image.DecompressionBombWarning, Image.DecompressionBombError) as error:
        raise Refused([Fault("$", f"{_WANTED}, of at most {_MOST_PIXELS // MEGABYTE} megapixels")]) from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise Refused([Fault("$", f"{_WANTED}; this file is not one, or it is damaged")]) from error
    if width * height > _MOST_PIXELS:
        raise Refused([Fault("$", f"{_WANTED}, of at most {_MOST_PIXELS // MEGABYTE} megapixels")])
    return _KINDS[kind]


def without_place(content: bytes) -> bytes:
    """A picture without the data of where it was taken; one that has none stays as it is, byte by byte.

    What else its Exif data say stays, above all which way up it is.
    """
    with Image.open(BytesIO(content), formats=list(_KINDS)) as picture:
        exif = picture.getexif()
        # What other programs wrote beside the Exif data may say the place in words.
        if _PLACE not in exif and "xmp" not in picture.info and "XML:com.adobe.xmp" not in picture.info:
            return content
        exif.pop(_PLACE, None)
        kept = {"exif": exif.tobytes(), "icc_profile": picture.info.get("icc_profile")}
        made = BytesIO()
        match picture.format:
            case "JPEG":
                picture.save(made, "JPEG", quality="keep", xmp=b"", **kept)
            case "WEBP":
                picture.save(made, "WEBP", quality=95, xmp=b"", **kept)
            case _:
                picture.save(made, "PNG", **kept)
        return made.getvalue()
