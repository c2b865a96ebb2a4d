"""Photographs as they are kept: upright, no larger than is looked at, silent about where they were taken."""

import io
import zlib

import pytest
from PIL import Image, ImageFile

from pronostico.errors import Refused
from pronostico.services.pictures import LONGEST_PX, check_picture, developed, put_in_place


def taken(kind="JPEG", size=(400, 200), mode="RGB", **more):
    """A photograph lying on its side, red at what is its top, taken somewhere."""
    image = Image.new(mode, size, "navy")
    # Turned by a quarter clockwise to be seen: what is left in the file comes to the top.
    image.paste(Image.new(mode, (size[0] // 8, size[1]), "red"), (0, 0))
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010E] = "seat of 3E"
    exif.get_ifd(0x8825)[1] = "N"
    exif.get_ifd(0x8825)[2] = (45.0, 4.0, 12.0)
    made = io.BytesIO()
    image.save(made, kind, exif=exif.tobytes(), **more)
    return made.getvalue()


def seen(picture):
    return Image.open(io.BytesIO(picture.content))


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photograph_is_upright_and_does_not_say_where_it_was_taken(kind):
    kept = seen(developed(taken(kind)))
    assert kept.size == (200, 400) and kept.format == "JPEG"
    red, _, blue = kept.getpixel((100, 10))
    assert red > 200 and blue < 60
    assert not kept.getexif() and not kept.getexif().get_ifd(0x8825)


def test_words_about_the_place_beside_the_exif_data_go_too():
    content = taken(xmp=b"<x:xmpmeta>GPSLatitude 45,4.2N</x:xmpmeta>")
    assert b"GPSLatitude" in content and b"GPSLatitude" not in developed(content).content


def test_it_is_made_no_longer_than_is_looked_at_and_a_small_one_stays_as_small():
    assert seen(developed(taken(size=(6000, 3000)))).size == (LONGEST_PX // 2, LONGEST_PX)
    assert seen(developed(taken(size=(40, 20)))).size == (20, 40)


def test_what_is_transparent_is_shown_on_white_paper():
    made = io.BytesIO()
    Image.new("RGBA", (20, 20), (0, 0, 0, 0)).save(made, "PNG")
    assert min(seen(developed(made.getvalue())).getpixel((10, 10))) > 250


def test_the_same_picture_is_one_file_and_another_is_another(tmp_path):
    one, again, other = developed(taken()), developed(taken()), developed(taken(size=(300, 200)))
    for picture in (one, again, other):
        put_in_place(picture, tmp_path / "p")
    assert one.name == again.name != other.name
    assert sorted(path.name for path in (tmp_path / "p").iterdir()) == sorted({one.name, other.name})
    # One that was cut short is put right.
    (tmp_path / "p" / one.name).write_bytes(b"")
    put_in_place(one, tmp_path / "p")
    assert (tmp_path / "p" / one.name).read_bytes() == one.content


def header_of(size):
    """A PNG that promises so many pixels."""
    made = io.BytesIO()
    Image.new("L", (1, 1)).save(made, "PNG")
    content = bytearray(made.getvalue())
    content[16:24] = size[0].to_bytes(4, "big") + size[1].to_bytes(4, "big")
    content[29:33] = zlib.crc32(bytes(content[12:29])).to_bytes(4, "big")
    return bytes(content)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "not one"),
        (b"<svg/>", "not one"),
        (taken()[:2000], "damaged"),
        (header_of((9000, 9000)), "at most 50 megapixels"),
        (header_of((60000, 60000)), "megapixels"),
    ],
)
def test_what_is_no_photograph_is_refused(content, says, monkeypatch):
    # As it is once a PDF has been made.
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)
    with pytest.raises(Refused, match=says):
        developed(content)
    if content and "damaged" not in says:
        with pytest.raises(Refused, match=says):
            check_picture(content)
