"""Many designs: same numbers in any order, refusals, stopping and going on."""

from concurrent.futures import ProcessPoolExecutor
from multiprocessing import current_process
from unittest import TestCase

from heat.common.compiled import PACKAGE
from heat.design import parse
from heat.simulation.year import simulate
from heat.studies.sweep import grid, sweep, usual_figures, varied
from heat.tests.samples import case_design, tmy3

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class Sweeps(TestCase):
    points = grid(system__store__volume_l=[200, 300, 400], plane__tilt_deg=[30, 50], system__coil__ua_w_k=[200.0, 2.0])

    def test_same_numbers_in_any_order_and_executor(self):
        threads = sweep(case_design(), tmy3(), self.points)
        backwards = sweep(case_design(), tmy3(), self.points[::-1], workers=1)[::-1]
        self.assertEqual([o.figures for o in threads], [o.figures for o in backwards])
        current = current_process().daemon
        current_process()._config["daemon"] = False  # a suite run in parallel forbids its workers children of their own
        try:
            with ProcessPoolExecutor(1) as executor:
                processes = sweep(case_design(), tmy3(), self.points[:2], executor=executor)
        finally:
            current_process()._config["daemon"] = current
        self.assertEqual([o.figures for o in processes], [o.figures for o in threads[:2]])
        document = varied(case_design().model_dump(mode="json"), self.points[2])
        self.assertEqual(threads[2].figures, usual_figures(simulate(parse(document), tmy3())))

    def test_a_row_of_a_list_is_varied_and_the_document_stays(self):
        document = case_design().model_dump(mode="json")
        shape = list(document["demand"]["hour_shape"])
        evening = varied(document, {"demand.hour_shape.18": 90.0, "demand.hour_shape.7": 0.0})
        self.assertEqual(evening["demand"]["hour_shape"][18], 90.0)
        self.assertEqual(list(document["demand"]["hour_shape"]), shape)
        outcomes = sweep(document, tmy3(), [{"demand.hour_shape.18": v} for v in (0.0, 90.0)])
        self.assertNotEqual(outcomes[0].figures["bought_kwh"], outcomes[1].figures["bought_kwh"])
        for path in ("demand.hour_shape.24", "demand.hour_shape.x", "demand.hour_shape.-1"):
            self.assertIn("a row of the list", sweep(document, tmy3(), [{path: 1.0}])[0].refused)

    def test_refused_points_state_why_and_the_rest_goes_on(self):
        outcomes = sweep(case_design(), tmy3(), self.points)
        refused = [o for o in outcomes if o.refused]
        self.assertEqual(len(refused), 6)
        self.assertRegex(refused[0].refused, "system.coil.ua_w_k.*5 to 50000 W/K")
        self.assertEqual(len(outcomes), 12)

    def test_cancelled_and_taken_up_again(self):
        done, text = {}, []
        first = sweep(
            case_design(),
            tmy3(),
            self.points,
            workers=1,
            done=done,
            progress=text.append,
            cancelled=lambda: len(done) >= 4,
        )
        self.assertTrue(4 <= len(first) < 12)
        self.assertEqual(text, sorted(text))
        again = sweep(case_design(), tmy3(), self.points, done=done)
        self.assertEqual([o.index for o in again], list(range(12)))
        self.assertEqual(again[0].figures, sweep(case_design(), tmy3(), self.points[:1])[0].figures)
