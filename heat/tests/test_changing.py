"""Values set in a design document."""

from copy import deepcopy
from unittest import TestCase

from heat.design import Design
from heat.design.changing import with_changes


class Changing(TestCase):
    def setUp(self):
        self.document = Design().model_dump(mode="json")

    def test_the_document_given_stays_as_it_is(self):
        before = deepcopy(self.document)
        made = with_changes(
            self.document, {"system.store.volume_l": 444.0, "system.store.loss_w_k": 1.5, "site.planes": [{"key": "x"}],
                            "site.planes.0.key": "y"}
        )  # fmt: skip
        self.assertEqual(self.document, before)
        self.assertEqual((made["system"]["store"]["volume_l"], made["system"]["store"]["loss_w_k"]), (444.0, 1.5))
        self.assertEqual(made["site"]["planes"], [{"key": "y"}])
        self.assertIs(made["demand"], self.document["demand"])

    def test_a_row_of_a_list(self):
        made = with_changes(self.document, {"demand.hour_shape.3": 7.5})
        self.assertEqual(made["demand"]["hour_shape"][3], 7.5)
        self.assertNotEqual(self.document["demand"]["hour_shape"][3], 7.5)

    def test_paths_that_are_nowhere(self):
        for path in ("", "nowhere", "system.nowhere", "system.store.volume_l.x", "demand.hour_shape.99",
                     "demand.hour_shape.x", "system..kind"):  # fmt: skip
            with self.subTest(path=path), self.assertRaises(KeyError) as told:
                with_changes(self.document, {path: 1.0})
            self.assertEqual(told.exception.args, (path,))
