"""Documents of earlier versions: read, completed, and the same design as before."""

import copy
import json
from unittest import TestCase

from heat.design import VERSION, Design, completed, current_path, current_values, parse, upgraded
from heat.design.upgrade import RENAMED
from heat.errors import HeatError
from heat.tests.samples import DATA

FOLDER = DATA / "documents"


def stored(version):
    return json.loads((FOLDER / f"version_{version}.json").read_text())


class Upgrades(TestCase):
    def test_every_earlier_version_has_a_step_and_a_fixture(self):
        self.assertEqual(sorted(RENAMED), list(range(1, VERSION)))
        for version in RENAMED:
            self.assertEqual(stored(version)["version"], version)

    def test_each_fixture_reads_as_the_design_it_was_and_round_trips(self):
        for version in RENAMED:
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
        design = parse(stored(2))
        self.assertEqual((design.numerics.layers, design.demand.heating.slab.area_m2), (24, 61))
        self.assertTrue(design.system.collector.diffuse_calculated)
        self.assertEqual(
            (design.site.mains.source, design.system.backup.stove.circulation), ("calculated", "thermosiphon")
        )

    def test_what_nobody_need_have_typed_stands_empty_and_what_was_typed_stays(self):
        design = parse(stored(3))
        self.assertEqual((design.exposure.wind_m_s, design.exposure.snow_kg_m2), (None, 60.0))
        self.assertIsNone(design.safety.branch_m)
        backup = design.system.backup
        self.assertEqual((backup.boiler.price_kwh, backup.stove.co2_kg_kwh), (None, None))
        self.assertEqual((backup.element.price_kwh, backup.element.co2_kg_kwh), (0.3, None))
        self.assertEqual(parse({"version": VERSION, "exposure": {"wind_m_s": 25}}).exposure.wind_m_s, 25)
        self.assertEqual(parse({"exposure": {"wind_m_s": 25}}).exposure.wind_m_s, 25, "written by hand")
        self.assertEqual(current_values({"exposure.wind_m_s": 25}), {"exposure.wind_m_s": 25}, "typed and undone")

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

    def test_a_document_without_a_number_may_hold_the_names_of_any_version(self):
        self.assertEqual(parse({"reckoning": {"layers": 12}, "site": {}}), parse({"numerics": {"layers": 12}}))
        self.assertEqual(parse({"system": {"mistakes": {"cooked": 0.5}}}).system.faults.cooked, 0.5)

    def test_paths_and_values_stored_with_edits_are_brought_up_too(self):
        for earlier, now in (
            ("reckoning.layers", "numerics.layers"),
            ("reckoning", "numerics"),
            ("system.mistakes.soiling", "system.faults.soiling"),
            ("demand.heating.bed.area_m2", "demand.heating.slab.area_m2"),
            ("system.collector.diffuse_reckoned", "system.collector.diffuse_calculated"),
            ("reckoning_is_no_part", "reckoning_is_no_part"),
            ("site.trees.0.tree_deg", "site.trees.0.tree_deg"),
            ("", ""),
        ):
            with self.subTest(earlier=earlier):
                self.assertEqual(current_path(earlier), now)
                self.assertEqual(current_path(now), now)
        before = {
            "site.mains.source": "reckoned",
            "system.backup": {"stove": {"circulation": "weight", "fitted": True}},
            "demand.heating": {"bed": {"fitted": True}, "loss_w_k": 90},
            "site.planes.1.tilt_deg": 40,
            "version": 9,
        }
        self.assertEqual(
            current_values(before),
            {
                "site.mains.source": "calculated",
                "system.backup": {"stove": {"circulation": "thermosiphon", "fitted": True}},
                "demand.heating": {"slab": {"fitted": True}, "loss_w_k": 90},
                "site.planes.1.tilt_deg": 40,
                "version": 9,
            },
        )

    def test_later_and_odd_versions_are_refused(self):
        for version in (VERSION + 1, 0, -1, "2", True, None, 1.5):
            with self.assertRaisesRegex(HeatError, "this engine reads versions 1 to"):
                upgraded({"version": version})
