"""Values set in a design document."""

from copy import deepcopy
from unittest import TestCase

from heat.design import Design, parse
from heat.design.changing import varied, with_changes
from heat.errors import InputError


class Changing(TestCase):
    def setUp(self):
        self.document = Design().model_dump(mode="json")

    def test_the_document_given_stays_as_it_is(self):
        before = deepcopy(self.document)
        made = with_changes(
            self.document,
            {
                "system.store.volume_l": 444.0,
                "system.store.loss_w_k": 1.5,
                "site.planes": [{"key": "x"}],
                "site.planes.0.key": "y",
            },
        )
        self.assertEqual(self.document, before)
        self.assertEqual((made["system"]["store"]["volume_l"], made["system"]["store"]["loss_w_k"]), (444.0, 1.5))
        self.assertEqual(made["site"]["planes"], [{"key": "y"}])
        self.assertIs(made["demand"], self.document["demand"])

    def test_a_row_of_a_list(self):
        made = with_changes(self.document, {"demand.hour_shape.3": 7.5})
        self.assertEqual(made["demand"]["hour_shape"][3], 7.5)
        self.assertNotEqual(self.document["demand"]["hour_shape"][3], 7.5)

    def test_paths_that_are_nowhere(self):
        for path in (
            "",
            "nowhere",
            "system.nowhere",
            "system.store.volume_l.x",
            "demand.hour_shape.99",
            "demand.hour_shape.x",
            "system..kind",
        ):
            with self.subTest(path=path), self.assertRaises(KeyError) as text:
                with_changes(self.document, {path: 1.0})
            self.assertEqual(text.exception.args, (path,))


class Beyond(TestCase):
    """Documents whose year would be none that is built, or longer than others should wait."""

    def refused(self, where, words, **parts):
        with self.assertRaises(InputError) as refused:
            parse(parts)
        self.assertEqual(refused.exception.name, where)
        self.assertIn(words, refused.exception.allowed)

    def test_a_curve_by_which_a_collector_is_hotter_than_any(self):
        # by hand: 0.9 x 1000 W/m² over 0.5 W/m²K are 1800 K above 30 °C
        hot = {"eta0": 0.9, "a1_w_m2k": 0.5, "a2_w_m2k2": 0.0}
        self.refused("system.collector.a1_w_m2k", "1830 °C", system={"collector": hot})
        self.refused(
            "system.second_collector.a1_w_m2k", "1830 °C", system={"second_collector": {**hot, "fitted": True}}
        )
        calm = {"a1_w_m2k": 4.5, "a3_j_m3k": 1.6}  # 4.5 - 3 x 1.6 W/m²K in calm air
        self.refused("system.collector.a3_j_m3k", "at most 1.50", system={"collector": calm})
        parse({"system": {"collector": {**hot, "a2_w_m2k2": 0.005}}})  # 0.005 dT² + 0.5 dT = 900: 377 K
        parse({"system": {"second_collector": hot}})  # not fitted
        parse({"system": {"kind": "bag", "collector": hot}})  # the bag is its own collector

    def test_a_row_of_a_list_is_varied_and_a_path_that_is_not_there_is_refused(self):
        document = Design().model_dump(mode="json")
        shape = list(document["demand"]["hour_shape"])
        evening = varied(document, {"demand.hour_shape.18": 90.0, "demand.hour_shape.7": 0.0})
        self.assertEqual(evening["demand"]["hour_shape"][18], 90.0)
        self.assertEqual(list(document["demand"]["hour_shape"]), shape)
        self.assertEqual(varied({}, {"demand.people": 3.0})["demand"]["people"], 3.0)
        for path in ("demand.hour_shape.24", "demand.hour_shape.x", "demand.hour_shape.-1"):
            with self.assertRaisesRegex(InputError, "a row of the list"):
                varied(document, {path: 1.0})
