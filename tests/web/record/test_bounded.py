"""What is bounded: photos decoded one at a time, jobs in a short queue, refusals that say their own limit."""

import io
import sqlite3
import threading
from unittest import mock

from PIL import Image

from jaxel.core.errors import InvalidValue
from jaxel.store.machine import photos, pixels
from jaxel.web import jobs
from jaxel.web.bounded import Bounded, Busy
from tests.store.cases.any_machine_case import picture
from tests.web.cases.api_case import ApiCase


class Photos(ApiCase):
    def send_photo(self, data, kind="image/jpeg"):
        return self.client.post(f"/api/machines/{self.machine}/photos", data=data, content_type=kind)

    def test_one_is_decoded_at_a_time(self):
        under, most, lock = 0, 0, threading.Lock()
        whole = pixels.encoded

        def slow(data):
            nonlocal under, most
            with lock:
                under += 1
                most = max(most, under)
            found = whole(data)
            with lock:
                under -= 1
            return found

        data = picture((900, 700))
        with mock.patch.object(pixels, "encoded", slow):
            address = f"/api/machines/{self.machine}/photos"
            clients = [self.app.test_client() for _ in range(4)]
            threads = [
                threading.Thread(target=each.post, args=(address,), kwargs={"data": data, "content_type": "image/jpeg"})
                for each in clients
            ]
            for each in threads:
                each.start()
            for each in threads:
                each.join()
        self.assertEqual(most, 1)
        self.assertEqual(len(self.client.get(f"/api/machines/{self.machine}").json["photos"]), 4)

    def test_too_many_waiting_are_asked_to_come_again(self):
        self.app.extensions["darkroom"].most = 0
        answer = self.send_photo(picture())
        self.refused(answer, 429, "busy", r"photos: 0 are waiting already; nothing was kept, try again in a moment")
        self.assertEqual(answer.headers["Retry-After"], "2")

    def test_its_limit_is_told_as_it_is(self):
        answer = self.send_photo(b"\xff" * (photos.LIMIT_BYTES + 1))
        self.refused(answer, 413, "photo", "is larger than 8 MB")

    def test_pixels_are_counted_before_any_is_decoded(self):
        # 40 million pixels of one colour are a small file: in memory they would be 160 MB.
        large = picture((8000, 5000), "PNG")
        with mock.patch.object(Image.Image, "load", side_effect=AssertionError("decoded")):
            self.refused(self.send_photo(large, "image/png"), 422, "photo", "has more than 25 million pixels")
        jpeg = io.BytesIO()
        Image.new("L", (8000, 8000)).save(jpeg, "JPEG")
        self.refused(self.send_photo(jpeg.getvalue()), 422, "photo", "has more than 60 million pixels")

    def test_a_large_jpeg_is_decoded_at_a_fraction(self):
        jpeg = io.BytesIO()
        Image.new("RGB", (8000, 6000), "red").save(jpeg, "JPEG")
        sizes = []
        thumbnail = Image.Image.thumbnail

        def seen(image, size, *more, **said):
            sizes.append(image.size)
            return thumbnail(image, size, *more, **said)

        with mock.patch.object(Image.Image, "thumbnail", seen):
            found = pixels.encoded(jpeg.getvalue())
        self.assertEqual((found.width, found.height), (2000, 1500))
        self.assertLessEqual(max(sizes[0]), 4000)

    def test_what_shines_through_stands_on_white(self):
        out = io.BytesIO()
        Image.new("RGBA", (50, 40), (255, 0, 0, 0)).save(out, "PNG")
        with Image.open(io.BytesIO(pixels.encoded(out.getvalue()).image)) as kept:
            self.assertGreater(kept.convert("L").tobytes()[1025], 250)
        out = io.BytesIO()
        palette = Image.new("P", (50, 40), 3)
        palette.putpalette([0] * 9 + [200, 10, 10])
        palette.save(out, "PNG", transparency=3)
        with Image.open(io.BytesIO(pixels.encoded(out.getvalue()).image)) as kept:
            self.assertGreater(kept.convert("L").tobytes()[1025], 250)

    def test_what_is_kept_elsewhere_is_looked_through(self):
        pixels.check_kept(pixels.encoded(picture()).image)
        for data in (b"", b"<script>", picture(kind="PNG"), picture((2001, 20)), pixels.encoded(picture()).image[:200]):
            with self.assertRaises(InvalidValue):
                pixels.check_kept(data)


class OneAtATime(ApiCase):
    def test_a_bounded_worker_refuses_past_its_queue_and_goes_on(self):
        worker, gate = Bounded("things", 2), threading.Event()
        waiting = [threading.Thread(target=lambda: worker.do(lambda: gate.wait(5))) for _ in range(2)]
        for each in waiting:
            each.start()
        while worker.waiting < 2:
            pass
        with self.assertRaisesRegex(Busy, "things: 2 are waiting already"):
            worker.do(lambda: 1)
        gate.set()
        for each in waiting:
            each.join()
        self.assertEqual((worker.do(lambda: 7), worker.waiting), (7, 0))
        with self.assertRaises(ZeroDivisionError):
            worker.do(lambda: 1 / 0)
        self.assertEqual(worker.waiting, 0)

    def test_a_sheet_comes_in_off_the_request_and_can_be_given_up(self):
        gate = threading.Event()
        rows = "".join(f"N-{number},arm\n" for number in range(200))
        self.app.extensions["jobs"].begin("first", lambda *_: gate.wait(5))
        begun = self.client.post("/api/sheets", json={"text": f"number,kind\n{rows}"})
        self.assertEqual((begun.status_code, begun.json["state"]), (202, "waiting"))
        job = begun.json["job"]
        self.client.post(f"/api/sheets/{job}/cancel", json={})
        gate.set()
        while (found := self.client.get(f"/api/sheets/{job}").json)["state"] == "waiting":
            pass
        self.assertEqual((found["state"], found["report"]), ("given up", None))
        self.assertEqual(self.client.get("/api/parts").json["parts"], [])
        done = self.client.post("/api/sheets", json={"text": f"number,kind\n{rows}"}).json
        while done["state"] in ("waiting", "working"):
            done = self.client.get(f"/api/sheets/{done['job']}").json
        self.assertEqual((done["report"]["added"], done["share"]), (200, 1.0))

    def test_too_many_jobs_are_asked_to_come_again(self):
        gate = threading.Event()
        for _ in range(jobs.MOST_WAITING):
            self.app.extensions["jobs"].begin("a job", lambda *_: gate.wait(5))
        answer = self.client.post("/api/sheets", json={"text": "number,kind\nA,arm\n"})
        self.assertEqual((answer.status_code, answer.json["error"]["field"]), (429, "busy"))
        gate.set()
        while self.app.extensions["jobs"].waiting:
            pass

    def test_a_job_of_another_sort_is_none(self):
        job = self.app.extensions["jobs"].begin("a job", lambda *_: None)
        self.assertEqual(self.client.get(f"/api/sheets/{job.key}").status_code, 404)
        self.assertEqual(self.client.get(f"/api/bundles/made/{job.key}/file").status_code, 404)


class Told(ApiCase):
    def test_health(self):
        found = self.client.get("/api/health").json
        self.assertEqual(set(found["waiting"]), {"jobs", "logs", "photos", "searches"})
        self.assertEqual(set(found["waiting"].values()), {0})
        self.assertGreater(found["memory"], 10_000_000)
        self.assertGreaterEqual(found["memory_most"], found["memory"] // 2)
        self.assertGreater(found["disk_free"], 0)
        self.assertEqual((found["backup"], found["backup_failed"]), (None, ""))

    def test_an_address_with_foreign_digits_is_none(self):
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}").status_code, 200)
        for digits in ("١", "１", "²"):
            self.assertEqual(self.client.get(f"/api/visits/{digits}").status_code, 404, digits)
        self.assertEqual(self.client.get("/", headers={"Host": "localhost:８０８０"}).status_code, 403)

    def test_an_unknown_hashed_file_is_none(self):
        answer = self.client.get("/assets/index-abc123.js")
        self.refused(answer, 404, "address", "there is no such file: look at the page anew")

    def test_a_full_disk_is_told_as_what_it_is(self):
        full, memory = "the disk is full", "SQLITE_IOERR_SHMSIZE"
        for name, free, told in (("SQLITE_FULL", 10**9, full), (memory, 0, full), (memory, 10**9, "cannot be used")):
            error = sqlite3.OperationalError("disk I/O error")
            error.sqlite_errorname = name
            with (
                mock.patch("jaxel.store.workshop.workshop.get", side_effect=error),
                mock.patch("jaxel.web.errors.disk_usage", return_value=mock.Mock(free=free)),
            ):
                self.assertIn(told, self.client.get("/api/workshop").json["error"]["reason"])
