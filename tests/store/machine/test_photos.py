"""Any machine, any visit: strangers, bare clutches, scopes, faults, corrections, limits, doubles, photos."""

import io
from dataclasses import asdict
from unittest import mock

from PIL import Image

from jaxel.core.errors import InvalidValue
from jaxel.core.trade.machine.marked import PhotoMark
from jaxel.store import db
from jaxel.store.edits import Edit
from jaxel.store.machine import photos, pixels
from jaxel.store.visit import visits
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

    def test_not_of_another_machines_visit(self):
        other = visits.get(self.db, self.stranger()).machine_id
        for machine, visit in ((other, self.visit), (self.machine, 99)):
            with self.assertRaisesRegex(db.NotFound, "visit"):
                photos.add(self.db, machine, pixels.encoded(picture()), visit_id=visit)
        self.assertEqual(self.db.execute("SELECT count(*) FROM photo").fetchone()[0], 0)

    def test_in_the_order_a_hand_puts_them(self):
        one, two, three = (
            photos.add(self.db, self.machine, pixels.encoded(picture()), visit_id=self.visit, subject="belt")
            for _ in range(3)
        )
        photos.add(self.db, self.machine, pixels.encoded(picture()), visit_id=self.visit, subject="line-up")
        photos.change(self.db, three, {"place": Edit(3, 1)})
        here, before = photos.seen_at(self.db, self.visit)
        self.assertEqual([each.id for each in here if each.subject == "belt"], [three, one, two])
        self.assertEqual([each.place for each in here], [1, 2, 3, 1])
        self.assertEqual(before, [])
        for place in (0, 4):
            with self.assertRaisesRegex(InvalidValue, "place: must be 1 to 3"):
                photos.change(self.db, one, {"place": Edit(2, place)})
        with self.assertRaises(db.Conflict):
            photos.change(self.db, two, {"place": Edit(2, 1)})

    def test_one_removed_leaves_its_place_to_the_next(self):
        one, two, three = (
            photos.add(self.db, self.machine, pixels.encoded(picture()), visit_id=self.visit, subject="belt")
            for _ in range(3)
        )
        photos.change(self.db, one, {"removed": Edit(False, True)})
        here, _ = photos.seen_at(self.db, self.visit)
        self.assertEqual([(each.id, each.place) for each in here], [(two, 1), (three, 2)])
        with self.assertRaisesRegex(InvalidValue, "place: must be 1 to 2"):
            photos.change(self.db, two, {"place": Edit(1, 3)})
        photos.change(self.db, one, {"removed": Edit(True, False)})
        self.assertEqual([each.place for each in photos.seen_at(self.db, self.visit)[0]], [1, 2, 3])

    def test_what_is_drawn_stands_beside_the_pixels(self):
        photo = photos.add(self.db, self.machine, pixels.encoded(picture()))
        before = photos.image(self.db, photo)
        mark = PhotoMark("arrow", 0.1, 0.2, 0.5, 0.6)
        photos.change(self.db, photo, {"marks": Edit([], [mark])})
        (held,) = photos.of_machine(self.db, self.machine)
        self.assertEqual((held.marks, photos.image(self.db, photo)), ((mark,), before))
        with self.assertRaises(db.Conflict) as caught:
            photos.change(self.db, photo, {"marks": Edit([], [PhotoMark("ring", 0, 0, 1, 1)])})
        self.assertEqual(caught.exception.theirs, [asdict(mark)])
        photos.change(self.db, photo, {"marks": Edit([asdict(mark)], [])})
        self.assertEqual(photos.of_machine(self.db, self.machine)[0].marks, ())

    def test_the_same_at_an_earlier_visit_stands_beside_it(self):
        old = photos.add(self.db, self.machine, pixels.encoded(picture()), visit_id=self.visit, subject="belt")
        self.db.execute("UPDATE visit SET signed_off_at = ?, signed_off_by = 'Jo' WHERE id = ?", (db.now(), self.visit))
        later = visits.open_visit(self.db, self.machine)
        new = photos.add(self.db, self.machine, pixels.encoded(picture()), visit_id=later, subject="belt")
        here, before = photos.seen_at(self.db, later)
        self.assertEqual(([each.id for each in here], [each.id for each in before]), ([new], [old]))
        self.assertEqual([each.id for each in photos.seen_at(self.db, self.visit)[0]], [old])
        with self.assertRaises(db.NotFound):
            photos.seen_at(self.db, 999)
