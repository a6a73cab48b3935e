"""Stand-ins: they read the truth of a machine that is made up, and of no other."""

from jaxel.store.db import connect
from tests.examples import example
from tests.web.cases.api_case import ApiCase

BELT = {"station": "belt", "place": "place_1", "device": "caliper"}


class OwnWorkshop(ApiCase):
    def test_nothing_is_made_up(self):
        told = self.client.get(f"/api/visits/{self.visit['id']}/instruments").json
        self.assertFalse(told["stand_ins"])
        self.assertEqual([each["repeats"] for each in told["devices"]], [None] * 9)
        address = f"/api/visits/{self.visit['id']}/instruments"
        self.refused(self.client.post(f"{address}/read", json=BELT), 422, "device", "only real devices")
        self.refused(self.client.post(f"{address}/ride", json={}), 422, "device", "only real devices")


class MadeUp(ApiCase):
    def test_a_machine_brought_in_beside_it_is_one_s_own(self):
        other = self.bring_in(example("trail-sled"), "kind=sled&rider=Edvin").json["machine"]["id"]
        visit = self.client.post(f"/api/machines/{other}/visits", json={}).json["id"]
        self.refused(self.client.post(f"/api/visits/{visit}/instruments/read", json=BELT), 422, "device", "one's own")

    def setUp(self):
        super().setUp()
        with connect(self.app.config["DATABASE"]) as connection:
            connection.execute("UPDATE machine SET made_up = 1")
        self.send("PATCH", "/intake", odometer_km=900)

    def read(self, **held):
        return self.client.post(f"/api/visits/{self.visit['id']}/instruments/read", json=BELT | held)

    def test_a_caliper_reads_the_belt_again_and_again(self):
        values = [self.read(reads=number, zeroed=True).json["value"] for number in range(40)]
        mean = sum(values) / len(values)
        spread = (sum((each - mean) ** 2 for each in values) / 39) ** 0.5
        # 36.5 mm by the set-up, worn over its 900 km, 0.06 of place and belt: five deviations; 0.042 mm repeats.
        self.assertAlmostEqual(mean, 36.5 - 900 * 0.45e-3, delta=0.32)
        self.assertTrue(0.02 < spread < 0.07, spread)
        self.assertEqual(len({self.read(reads=3, zeroed=True).json["value"] for _ in range(3)}), 1)

    def test_what_was_written_moves_no_truth(self):
        before = self.read(zeroed=True).json["value"]
        self.send("PATCH", "/belt/reading", place=1, now="35.1", sure=True)
        self.assertEqual(self.read(zeroed=True).json["value"], before)

    def test_a_device_reads_only_its_own(self):
        self.refused(self.read(device="scale"), 422, "place", "nothing a scale could be held to")
        self.refused(self.read(place="nowhere"), 422, "place", "nothing a caliper could be held to")
        self.refused(self.read(unit="N"), 422, "unit", "switch")

    def test_slots_are_read_in_their_own_units(self):
        spring = self.read(
            station="set-up", place="slot.found.primary_start_n", device="spring tester", zeroed=True
        ).json
        self.assertEqual(spring["unit"], "N")
        self.assertAlmostEqual(spring["value"], 755, delta=755 * 0.35)
        inches = self.read(unit="in", zeroed=True).json
        self.assertEqual(inches["unit"], "in")
        self.assertAlmostEqual(inches["value"] * 25.4, self.read(zeroed=True).json["value"], delta=0.3)

    def test_a_ride_needs_a_run_and_reads_as_a_log(self):
        address = f"/api/visits/{self.visit['id']}/instruments/ride"
        self.refused(self.client.post(address, json={}), 422, "run", "begin a run first")
        self.send("POST", "/runs", revision_id=self.visit["left_revision_id"])
        told = self.client.post(address, json={}).json
        self.assertEqual(told["name"], "ride 1.csv")
        self.assertGreater(len(told["text"].splitlines()), 3000)

    def test_a_tachometer_reads_what_the_machine_does(self):
        read = self.read(station="intake", place="baseline_shift_rpm", device="tachometer").json
        self.assertEqual(read["value"] % 10, 0)
        self.assertAlmostEqual(read["value"], 7850, delta=700)
