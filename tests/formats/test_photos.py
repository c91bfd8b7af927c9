"""Photos as phones make them: upright, without where they were taken, measured on, and refused in words."""

import io
import math
import random
import unittest
import zlib

import pillow_heif
from PIL import Image, ImageDraw

from orthotome.core.edge.on_photo import Tap, bevel_on_photo
from orthotome.formats.log.photo import LONGEST_PX, THUMBNAIL_PX, Photo, read_photo
from orthotome.formats.reading import FileError

ORIENTATION, GPS, CAMERA = 0x0112, 0x8825, 0x010F


def encoded(picture: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    picture.save(out, form, **more)
    return out.getvalue()


def seen(photo: Photo) -> Image.Image:
    return Image.open(io.BytesIO(photo.picture))


def marked() -> Image.Image:
    """A picture wider than high, dark in its upper left quarter."""
    picture = Image.new("RGB", (400, 240), "white")
    ImageDraw.Draw(picture).rectangle((0, 0, 199, 119), fill="black")
    return picture


def whereabouts(orientation: int) -> Image.Exif:
    exif = Image.Exif()
    exif[ORIENTATION], exif[CAMERA] = orientation, "a phone"
    exif.get_ifd(GPS).update({1: "N", 2: (52.0, 30.0, 0.0), 3: "E", 4: (13.0, 24.0, 0.0)})
    return exif


class Kept(unittest.TestCase):
    def test_every_kind_comes_in_and_a_jpeg_of_our_own_is_kept(self) -> None:
        pillow_heif.register_heif_opener()
        for form in ("JPEG", "PNG", "WEBP", "HEIF"):
            with self.subTest(form):
                photo = read_photo(encoded(marked(), form))
                self.assertEqual((photo.width_px, photo.height_px), (400, 240))
                picture = seen(photo)
                self.assertEqual((picture.format, picture.size), ("JPEG", (400, 240)))
                self.assertLess(max(picture.getpixel((60, 60))), 40)
                small = Image.open(io.BytesIO(photo.thumbnail))
                self.assertEqual(max(small.size), THUMBNAIL_PX)

    def test_each_orientation_is_turned_upright(self) -> None:
        """Where the camera says how it was held, the dark quarter lies upper left however that was."""
        upright = marked()
        for orientation, way in {
            1: None,
            2: Image.Transpose.FLIP_LEFT_RIGHT,
            3: Image.Transpose.ROTATE_180,
            4: Image.Transpose.FLIP_TOP_BOTTOM,
            5: Image.Transpose.TRANSPOSE,
            6: Image.Transpose.ROTATE_90,
            7: Image.Transpose.TRANSVERSE,
            8: Image.Transpose.ROTATE_270,
        }.items():
            with self.subTest(orientation):
                held = upright if way is None else upright.transpose(way)
                photo = read_photo(encoded(held, "JPEG", exif=whereabouts(orientation)))
                self.assertEqual((photo.width_px, photo.height_px), (400, 240))
                self.assertLess(max(seen(photo).getpixel((60, 60))), 40)
                self.assertGreater(min(seen(photo).getpixel((350, 200))), 215)

    def test_nothing_is_kept_of_where_and_with_what_it_was_taken(self) -> None:
        pillow_heif.register_heif_opener()
        for form in ("JPEG", "WEBP", "HEIF", "PNG"):
            with self.subTest(form):
                sent = encoded(marked(), form, exif=whereabouts(1))
                self.assertTrue(Image.open(io.BytesIO(sent)).getexif().get_ifd(GPS))  # it was there
                photo = read_photo(sent)
                for kept in (photo.picture, photo.thumbnail):
                    self.assertFalse(Image.open(io.BytesIO(kept)).getexif())
                    self.assertNotIn(b"a phone", kept)

    def test_a_very_large_photo_is_kept_no_finer_than_an_edge_is_sharp(self) -> None:
        photo = read_photo(encoded(Image.new("RGB", (7000, 5000), "silver"), "JPEG"))
        self.assertEqual((photo.width_px, photo.height_px), (LONGEST_PX, round(LONGEST_PX * 5 / 7)))


class Refused(unittest.TestCase):
    def test_what_is_no_picture_is_refused_in_words(self) -> None:
        good = encoded(marked(), "JPEG")
        for said, content in {
            "no JPEG, PNG, WebP or HEIC": b"%PDF-1.7\n1 0 obj<<>>endobj",
            "whatever it is called": b"<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'/>",
            "damaged": good[: len(good) // 2],
            "200 million points": _png(20_000, 10_000, b""),
            "3600 million points": _png(60_000, 60_000, zlib.compress(bytes(1000))),
            "is damaged": _png(4000, 4000, zlib.compress(bytes(50_000_000))[:2000]),
        }.items():
            with self.subTest(said), self.assertRaises(FileError) as refused:
                read_photo(content)
            self.assertIn(said, str(refused.exception))
            self.assertTrue(str(refused.exception).startswith("photo: "))


def _png(width: int, height: int, packed: bytes) -> bytes:
    """A PNG that says it is so large, whatever its packed lines unfold to."""

    def chunk(kind: bytes, content: bytes) -> bytes:
        check = zlib.crc32(kind + content).to_bytes(4, "big")
        return len(content).to_bytes(4, "big") + kind + content + check

    head = width.to_bytes(4, "big") + height.to_bytes(4, "big") + bytes((8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


class Measured(unittest.TestCase):
    """A cut of known angle, drawn, photographed askew, sent, and tapped within three points."""

    SIZE = (4000, 3000)

    def drawn(self, bevel_deg: float, askew_deg: float) -> bytes:
        """The kept plate on the left, its top face 400 down, its edge at 2400 along it."""
        picture = Image.new("L", self.SIZE, 225)
        out = 2200 * math.tan(math.radians(bevel_deg))
        corners = [(-3000, 400), (2400, 400), (2400 + out, 2600), (-3000, 2600)]
        plate = [self.turned(p, askew_deg) for p in corners]
        ImageDraw.Draw(picture).polygon(plate, fill=60)
        held = picture.transpose(Image.Transpose.ROTATE_90)
        return encoded(held, "JPEG", quality=80, exif=whereabouts(6))

    @staticmethod
    def turned(point: tuple[float, float], deg: float) -> Tap:
        a, (x, y) = math.radians(deg), (point[0] - 2000, point[1] - 1500)
        return 2000 + x * math.cos(a) - y * math.sin(a), 1500 + x * math.sin(a) + y * math.cos(a)

    @staticmethod
    def along(picture: Image.Image, row: int) -> Tap:
        """Where a row of the picture goes from plate to air."""
        line = picture.crop((0, row, picture.width, row + 1)).tobytes()
        return float(max(i for i, v in enumerate(line) if v < 140)), float(row)

    @staticmethod
    def down(picture: Image.Image, column: int) -> Tap:
        """Where a column of the picture goes from air to plate."""
        line = picture.crop((column, 0, column + 1, picture.height)).tobytes()
        return float(column), float(next(i for i, v in enumerate(line) if v < 140))

    def test_within_a_third_of_a_degree_at_three_points_of_tap_error(self) -> None:
        hand = random.Random(13)
        worst = 0.0
        for bevel in (-6.0, -1.5, 0.0, 0.8, 4.0, 9.0):
            for askew in (0.0, 2.5, -4.0):
                picture = seen(read_photo(self.drawn(bevel, askew))).convert("L")
                self.assertEqual(picture.size, self.SIZE)
                top = [self.down(picture, 150), self.down(picture, 2100)]
                edge = [self.along(picture, 620), self.along(picture, 2400)]
                for _ in range(20):
                    tapped = [_off(hand, p) for p in (*top, *edge)]
                    found = bevel_on_photo(tapped[:2], tapped[2:], "left", 3.0)
                    worst = max(worst, abs(found.bevel_deg - bevel))
                    self.assertLess(found.u_deg, 0.2)
        self.assertLess(worst, 0.3)


def _off(hand: random.Random, tap: Tap) -> Tap:
    """A tap up to three points beside what was meant, in any direction."""
    way, far = hand.uniform(0, 2 * math.pi), hand.uniform(0, 3)
    return tap[0] + far * math.cos(way), tap[1] + far * math.sin(way)


if __name__ == "__main__":
    unittest.main()
