"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import io
from unittest import mock

from PIL import Image

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.edits import Edit
from jaxel.store.machine import photos, pixels
from tests.store.cases.any_machine_case import Case, picture


class Photos(Case):
    def test_upright_small_and_stripped_of_what_a_camera_adds(self):
        # Exif 2.32, tag 274: orientation 6 is to be turned a quarter right; 0x010F the maker, 0x8825 where it was.
        exif = Image.Exif()
        exif[274], exif[0x010F] = 6, "camera of somebody"
        exif.get_ifd(0x8825)[1] = "N"
        photo = photos.add(self.db, self.machine, pixels.encoded(picture((3000, 1500), exif=exif)), "Jo")
        with Image.open(io.BytesIO(photos.image(self.db, photo))) as kept:
            self.assertEqual((kept.format, kept.size), ("JPEG", (1000, 2000)))
            self.assertEqual(dict(kept.getexif()), {})
        self.assertNotIn(b"camera of somebody", photos.image(self.db, photo))
        with Image.open(io.BytesIO(photos.image(self.db, photo, small=True))) as small:
            self.assertEqual(max(small.size), 320)

    def test_png_and_webp_come_in_and_nothing_else(self):
        for kind in ("PNG", "WEBP"):
            photos.add(self.db, self.machine, pixels.encoded(picture(kind=kind)))
        whole = picture()
        for data in (b"", b"%PDF-1.7", picture(kind="GIF"), picture(kind="BMP"), whole[: len(whole) // 2],
                     whole[:40], b"\xff\xd8\xff" + b"\0" * 500, b"x" * (photos.LIMIT_BYTES + 1)):  # fmt: skip
            with self.subTest(data[:12]), self.assertRaises(InvalidValue) as caught:
                pixels.encoded(data)
            self.assertEqual(caught.exception.field, "photo")
        with mock.patch.object(pixels, "MOST_PIXELS", 100), self.assertRaises(InvalidValue):
            pixels.encoded(whole)
        self.assertEqual(len(photos.of_machine(self.db, self.machine)), 2)

    def test_captioned_removed_and_brought_back(self):
        photo = photos.add(self.db, self.machine, pixels.encoded(picture()))
        photos.change(self.db, photo, {"caption": Edit("", "worn buttons"), "removed": Edit(False, True)})
        (held,) = photos.of_machine(self.db, self.machine)
        self.assertEqual((held.caption, held.removed), ("worn buttons", True))
        photos.change(self.db, photo, {"removed": Edit(True, False)})
        with self.assertRaises(db.Conflict):
            photos.change(self.db, photo, {"caption": Edit("", "else")})
