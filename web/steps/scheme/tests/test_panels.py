"""The sheet of a part: its values, and what a step of its main value would buy."""

from web.editor.tests.helpers import DesignPageCase, figure
from web.projects.services.edits import change_values
from web.steps.scheme.panels import next_step, panel
from web.steps.scheme.parts import BY_PUMP, PARTS


class Panels(DesignPageCase):
    def test_every_part_opens_with_its_values(self):
        page = self.page()
        for part, (title, paths, main, _step) in PARTS.items():
            displayed = panel(page, part)
            if part == "integral":  # a depth is a bag's alone
                paths = tuple(path for path in paths if not path.endswith("depth_mm"))
            if part == "stove":  # by weight nothing is pumped
                paths = tuple(path for path in paths if not path.endswith(BY_PUMP))
            self.assertEqual((displayed["title"], len(displayed["fields"])), (title, len(paths)))
            self.assertTrue(not main or page.field(main).kind == "number")

    def test_a_bag_is_reported_by_its_depth(self):
        displayed = [field.path for field in panel(self.page(system__kind="bag"), "integral")["fields"]]
        self.assertIn("system.integral.depth_mm", displayed)
        self.assertNotIn("system.integral.diameter_mm", displayed)
        self.assertNotIn("system.store.volume_l", displayed)

    def test_steps_are_two_full_years(self):
        page = self.page()
        down, up = next_step(page, "store")
        self.assertEqual((down["text"], up["text"]), ("250 L", "350 L"))
        self.assertGreater(figure(down["bought"]), figure(up["bought"]))
        self.assertLess(figure(down["points"]), 0)

    def test_a_step_out_of_range_is_left_out(self):
        self.assertEqual(len(next_step(self.page(system__collector__count="1"), "collector")), 1)

    def test_a_step_of_a_plane_that_is_on_a_surveyed_one_is_another_year(self):
        roof = {"key": "P1", "name": "roof", "tilt_deg": 20, "azimuth_deg": 180}
        change_values(design=self.fresh(), author=self.user, changes={"site.planes": [roof], "plane.on": "P1"})
        down, up = next_step(self.page(), "plane")
        self.assertNotEqual(down["bought"], up["bought"])
        self.assertGreater(figure(up["points"]), figure(down["points"]))
        self.assertEqual(self.document()["site"]["planes"][0]["tilt_deg"], 20)
