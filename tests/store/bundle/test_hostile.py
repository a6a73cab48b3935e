"""Bundles made to harm: each is refused whole, and nothing of it is written.

What a zip can be made to do: PKWARE APPNOTE 6.3; CWE-22 (climbing paths), CWE-409 (swelling), CWE-59 (links).
"""

import base64
import io
import json
import stat
import struct
import zipfile
import zlib
from unittest import mock

from jaxel.core.errors import InvalidValue
from jaxel.store import db
from jaxel.store.bundle import opened
from tests.store.bundle.bundle_case import BundleCase, rewritten
from tests.ui.browser import demo_database


class HostileCase(BundleCase):
    def refused(self, file, reason, field="bundle"):
        before = self.rows(self.there)
        with self.assertRaises(InvalidValue) as caught:
            self.take(file)
        self.assertRegex(str(caught.exception), reason)
        if field is not None:
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(self.rows(self.there), before)
        self.assertFalse(self.there.in_transaction)


class Hostile(HostileCase):
    def added(self, name, data=b"x", **more):
        """A bundle with one entry more, which its manifest does not hide."""
        out = io.BytesIO(self.packed().getvalue())
        with zipfile.ZipFile(out, "a") as archive:
            entry = zipfile.ZipInfo(name)
            for key, value in more.items():
                setattr(entry, key, value)
            archive.writestr(entry, data)
        return out

    def test_what_is_no_zip(self):
        for data in (b"", b"PK", b"%PDF-1.7" * 50, self.packed().getvalue()[:-400]):
            with self.subTest(data[:8]):
                self.refused(io.BytesIO(data), "bundle: ")

    def test_climbing_paths(self):
        for name in ("../escape.json", "/etc/passwd", "machines/../../x.json", "C:\\x.json", "photos/\x00.jpg",
                     "machines/" + "a" * 31 + ".json", "MANIFEST.JSON"):  # fmt: skip
            with self.subTest(name):
                self.refused(self.added(name), "holds a file that is none of a bundle|other files than its manifest")

    def test_names_that_only_begin_as_they_should(self):
        for name in (f"logs/{'a' * 64}/../../escape", f"machines/{'a' * 32}.json.exe", f"photos/{'a' * 32}.jpg\n"):

            def more(held, _, name=name):
                return held | {name: b"x"}

            with self.subTest(name):
                self.refused(self.altered(self.packed(), more), "holds a file that is none of a bundle")

    def test_links(self):
        self.refused(self.added("logs/" + "a" * 64, b"/etc/passwd", external_attr=(stat.S_IFLNK | 0o777) << 16), "link")

    def test_the_same_name_twice(self):
        with self.assertWarns(UserWarning):
            file = self.added("workshop.json", b"{}")
        self.refused(file, "holds workshop.json twice")

    def test_an_entry_the_manifest_does_not_list(self):
        self.refused(self.added("logs/" + "a" * 64), "other files than its manifest lists")

    def test_an_entry_that_is_missing(self):
        def without_photos(held, _):
            return {name: data for name, data in held.items() if not name.startswith("photos/")}

        self.refused(self.altered(self.packed(), without_photos, lie=True), "other files than its manifest lists")
        self.refused(self.altered(self.packed(), without_photos), r"photos/\w+.jpg is missing")

    def test_digests_that_lie(self):
        def touched(held, _):
            name = next(each for each in held if each.startswith("photos/"))
            held[name] = held[name][:-1] + b"!"

        self.refused(
            self.altered(self.packed(), touched, lie=True), "is not what the manifest says: its digest differs"
        )

    def test_sizes_that_lie(self):
        def smaller(held, manifest):
            manifest["entries"][0]["size"] -= 1

        self.refused(self.altered(self.packed(), smaller, lie=True), "says of a file another size than its manifest")

    def test_many_that_are_large_together(self):
        out = io.BytesIO(self.packed().getvalue())
        with zipfile.ZipFile(out, "a") as archive:
            for letter in "abc":
                archive.writestr(f"logs/{letter * 64}", b"0" * 400_000)
        with self.assertRaisesRegex(InvalidValue, "is larger than 1 MB"):
            opened.opened(out, opened.Bounds(10_000, 1_000_000))

    def test_a_belt_of_another_machine(self):
        self.take(self.packed())

        def another(held, _):
            (name,) = [each for each in held if each.startswith("machines/")]
            mine = name.removeprefix("machines/").removesuffix(".json")
            return {each.replace(mine, "f" * 32): data.replace(mine.encode(), b"f" * 32) for each, data in held.items()}

        self.refused(self.altered(self.packed(), another), "holds a belt that is another machine's here")

    def test_swelling(self):
        # 50 MB of nothing are 50 kB in a zip: declared so it is too much, declared small it is stopped as it swells.
        with mock.patch.object(opened, "BY_BROWSER", opened.Bounds(10_000, 1_000_000)):
            out = self.added("logs/" + "b" * 64, b"\0" * 50_000_000, compress_type=zipfile.ZIP_DEFLATED)
            with self.assertRaisesRegex(InvalidValue, "is larger than 1 MB"):
                opened.opened(out, opened.BY_BROWSER)
        data = bytearray(out.getvalue())
        at = data.rfind(b"PK\x01\x02")
        struct.pack_into("<I", data, at + 24, 10)  # the size it claims, in the list at the end
        local = struct.unpack_from("<I", data, at + 42)[0]
        struct.pack_into("<I", data, local + 22, 10)
        archive = zipfile.ZipFile(io.BytesIO(bytes(data)))
        with self.assertRaisesRegex(InvalidValue, "cannot be read|is larger than it says"):
            opened._inflated(archive, "logs/" + "b" * 64, 10)

    def test_a_manifest_that_swells(self):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("manifest.json", b" " * (opened.MANIFEST_BYTES + 1))
        self.refused(out, "manifest.json is larger than it says")

    def test_a_million_entries(self):
        # Only the record at the end is looked at: no list of a million names is made.
        data = bytearray(self.packed().getvalue())
        at = data.rfind(b"PK\x05\x06")
        for entries in (10_001, 0xFFFF):
            struct.pack_into("<HH", data, at + 8, entries, entries)
            with self.subTest(entries), mock.patch.object(zipfile, "ZipFile", side_effect=AssertionError):
                self.refused(io.BytesIO(bytes(data)), "has more than 10,000 entries")
        struct.pack_into("<HH", data, at + 8, 5, 5)
        struct.pack_into("<I", data, at + 12, 46_000_000)  # a record that lies about the count, not about the list
        with mock.patch.object(zipfile, "ZipFile", side_effect=AssertionError):
            self.refused(io.BytesIO(bytes(data)), "has more than 10,000 entries")

    def test_manifests(self):
        for key, value in (("version", 2), ("format", "jaxel-setup"), ("of", "planet"), ("entries", 3),
                           ("left_out", ["soul"]), ("colour", "red")):  # fmt: skip

            def changed(held, manifest, key=key, value=value):
                manifest[key] = value

            with self.subTest(key):
                before = self.rows(self.there)
                with self.assertRaises(InvalidValue):
                    self.take(self.altered(self.packed(), changed, lie=True))
                self.assertEqual(self.rows(self.there), before)

    def test_another_version_of_the_tables(self):
        def older(held, manifest):
            manifest["schema_version"] -= 1

        def newer(held, manifest):
            manifest["schema_version"] += 1

        self.refused(self.altered(self.packed(), older), "made by an older version")
        self.refused(self.altered(self.packed(), newer), "made by a newer version")

    def test_rows_that_cannot_be(self):
        def visit(alter):
            return self.altered(self.packed(), rewritten("visits/", alter))

        def machine(alter):
            return self.altered(self.packed(), rewritten("machines/", alter))

        def intake(**values):
            return visit(lambda d: d["rows"]["intake"][0].update(values))

        for name, file, reason, field in (
            ("another table", visit(lambda d: d["rows"].update(person=[])), "does not belong there", "bundle"),
            ("a column", intake(sql="x"), "is no column", "intake.sql"),
            ("injected", intake(**{'a") --': 1}), "is no column", 'intake.a") --'),
            ("out of bounds", intake(elevation_m=1e9), "breaks a limit", "bundle"),
            ("a type", intake(odometer_km="far"), "breaks a limit", "bundle"),
            ("a list", intake(complaint=["x"]), "must be one", "intake.complaint"),
            ("no machine", visit(lambda d: d["rows"]["visit"][0].update(machine_id="f" * 32)), "not in the bundle",
             "visit.machine_id"),
            ("open", visit(lambda d: d["rows"]["visit"][0].update(signed_off_at=None)), "is open", "bundle"),
            ("another visit", visit(lambda d: d["rows"]["visit"][0].update(id="f" * 32)), "another than", "bundle"),
            ("its name", visit(lambda d: d.update(id="f" * 32)), "says it is f", "bundle"),
            ("a set-up", machine(lambda d: d["rows"]["setup_revision"][0]["document"].update(colour="red")),
             "cannot be read", "bundle"),
            ("no set-up", machine(lambda d: d["rows"].update(setup_revision=[])), "cannot be read|not in the bundle",
             None),
            ("no belt", machine(lambda d: d["rows"]["belt"][0].update(state="spare")), "cannot be read", "bundle"),
            ("a page", visit(lambda d: d["rows"]["hand_over_page"][0].update(document={"rows": 3})), "cannot be read",
             "bundle"),
            ("marks", intake(complaint="\ue000soon\ue001"), "is no text", "bundle"),
            ("half a mark", intake(complaint="\ue000"), "is no text", "bundle"),
            ("a huge number", visit(lambda d: d["rows"]["visit"][0].update(edit=10**30)), "cannot be|breaks", "bundle"),
        ):  # fmt: skip
            with self.subTest(name):
                self.refused(file, reason, field)

    def test_photos_that_are_none(self):
        def script(held, _):
            name = next(each for each in held if each.endswith("-small.jpg"))
            held[name] = b"<script>alert(1)</script>"

        self.refused(self.altered(self.packed(), script), "is no JPEG", "photo")

    def test_json_that_is_none(self):
        for text, reason in ((b"[1]", "no JSON object"), (b'{"a": NaN}', "no JSON"), (b"{", "no JSON"),
                             (b'{"format": "jaxel-workshop", "format": 1}', "twice"), (b"\xff", "no JSON"),
                             (b'{"a": "\\ud800"}', "no JSON"), (b"[" * 100_000, "nested too deeply")):  # fmt: skip

            def changed(held, _, text=text):
                held["workshop.json"] = text

            with self.subTest(text[:20]):
                self.refused(self.altered(self.packed(), changed), reason)
        self.assertEqual(json.loads(self.documents(self.packed())["workshop.json"])["version"], 1)


class Logs(HostileCase):
    """Logs of runs, from the demo's machine that has some."""

    def setUp(self):
        super().setUp()
        path = self.path.with_name("demo.db")
        path.write_bytes(demo_database())
        demo = db.connect(path)
        self.addCleanup(demo.close)
        self.file = self.packed("machine", 1, source=demo)

    def with_runs(self, alter):
        def change(held, _):
            for name in [each for each in held if each.startswith("visits/")]:
                document = json.loads(held[name])
                alter(document["rows"])
                held[name] = json.dumps(document).encode()

        return self.altered(self.file, change)

    def test_a_log_under_anothers_digest(self):
        def other(held, _):
            name = next(each for each in held if each.startswith("logs/"))
            held[name] += b"\n"

        self.refused(self.altered(self.file, other), "is another file than its name says")

    def test_traces_that_cannot_be(self):
        def bomb(rows):
            rows["run_trace"][0]["data"] = base64.b64encode(zlib.compress(b"\0" * 50_000_000)).decode()

        for name, alter in (
            ("a chunk that swells", bomb),
            ("a chunk that is missing", lambda rows: rows["run_trace"].pop(0)),
            ("none at all", lambda rows: rows["run_trace"].clear()),
            ("no zlib", lambda rows: rows["run_trace"][0].update(data="AAAA")),
            ("more points than there are", lambda rows: rows["run_log"][0]["grid"].update(points=10**12)),
            ("no step", lambda rows: rows["run_log"][0]["grid"].update(step=0)),
            ("a stretch outside", lambda rows: rows["run_log"][0]["grid"].update(bridged=[[0, 10**9]])),
            ("twins that are none", lambda rows: rows["run_twins"][0].update(document=[1])),
        ):
            with self.subTest(name):
                self.refused(self.with_runs(alter), "holds a visit that cannot be read")
