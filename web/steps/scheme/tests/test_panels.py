"""The sheet of a part: its values, and what a step of its main value would buy."""

from web.sheet.tests.helpers import SheetCase, figure
from web.steps.scheme.panels import PARTS, next_step, panel


class Panels(SheetCase):
    def test_every_part_opens_with_its_values(self):
        sheet = self.sheet()
        for part, (title, paths, main, _step) in PARTS.items():
            shown = panel(sheet, part)
            self.assertEqual((shown["title"], len(shown["pens"])), (title, len(paths)))
            self.assertTrue(not main or sheet.pen(main).kind == "number")

    def test_steps_are_two_full_years(self):
        sheet = self.sheet()
        down, up = next_step(sheet, "store")
        self.assertEqual((down["text"], up["text"]), ("250 L", "350 L"))
        self.assertGreater(figure(down["bought"]), figure(up["bought"]))
        self.assertLess(figure(down["points"]), 0)

    def test_a_step_out_of_range_is_left_out(self):
        self.assertEqual(len(next_step(self.sheet(system__collector__count="1"), "collector")), 1)
