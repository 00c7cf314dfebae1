"""Documents of earlier versions: read, completed, and the same design as before."""

import copy
import json
from unittest import TestCase

from heat.design import VERSION, Design, completed, parse, upgraded
from heat.design.upgrade import STEPS
from heat.errors import HeatError
from heat.tests.samples import DATA

FOLDER = DATA / "documents"


def stored(version):
    return json.loads((FOLDER / f"version_{version}.json").read_text())


class Upgrades(TestCase):
    def test_every_earlier_version_has_a_step_and_a_fixture(self):
        self.assertEqual(sorted(STEPS), list(range(1, VERSION)))
        for version in STEPS:
            self.assertEqual(stored(version)["version"], version)

    def test_each_fixture_reads_as_the_design_it_was_and_round_trips(self):
        for version in STEPS:
            with self.subTest(version=version):
                before = copy.deepcopy(stored(version))
                document = completed(upgraded(before))
                self.assertEqual(before, stored(version), "reading changed what is kept")
                design = parse(document)
                self.assertEqual(parse(stored(version)), design)
                self.assertEqual(design.model_dump(mode="json"), document)
                self.assertEqual(upgraded(document), document)
                self.assertEqual((design.system.kind, design.system.faults.soiling), ("combi", 0.1))
                self.assertEqual((design.system.faults.from_day, design.system.faults.no_check_valve), (120, True))

    def test_missing_fields_are_filled_in_all_the_way_down_and_in_rows(self):
        document = stored(1)
        del document["system"]["used"], document["demand"]["pool"]["activity"], document["site"]["planes"][0]["rise_m"]
        document["demand"].pop("circulation")
        usual, read = Design(), upgraded(document)
        self.assertEqual(read["system"]["used"], [])
        self.assertEqual(read["demand"]["pool"]["activity"], usual.demand.pool.activity)
        self.assertEqual(read["demand"]["circulation"], usual.demand.circulation.model_dump(mode="json"))
        self.assertEqual(read["site"]["planes"][0]["rise_m"], parse(stored(1)).site.planes[0].rise_m)
        self.assertEqual(read["site"]["planes"][0]["tilt_deg"], 60)

    def test_parts_alone_are_read_too(self):
        survey = {"version": 1, "demand": {}, "site": {}}
        self.assertEqual(upgraded(survey)["site"], Design().site.model_dump(mode="json"))
        self.assertEqual(upgraded({"system": {"mistakes": {"cooked": 0.5}}})["system"]["faults"]["cooked"], 0.5)

    def test_later_and_odd_versions_are_refused(self):
        for version in (VERSION + 1, 0, -1, "2", True, None, 1.5):
            with self.assertRaisesRegex(HeatError, "this engine reads versions 1 to"):
                upgraded({"version": version})
