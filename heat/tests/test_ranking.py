"""Which use first: needs, temperatures and order, by hand and by the year."""

from unittest import TestCase

import numpy as np

from heat.design import parse
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.sizing.ranking import APPROACH_K, pool_need, rank_uses
from heat.tests.samples import case_design, clear_year, tmy3


def with_uses(**demand):
    made = case_design().model_dump(mode="json")
    made["demand"] |= demand
    return parse(made)


class Ranking(TestCase):
    def test_needs_are_those_of_the_year(self):
        design = with_uses(heating={"fitted": True}, process={"fitted": True}, circulation={"fitted": True})
        book = simulate(design, tmy3())
        found = {r.use: r.year_kwh for r in rank_uses(design, tmy3())}
        for use, column in (
            ("hot water", acc.DEMAND),
            ("rooms", acc.HEATING_DEMAND),
            ("process", acc.PROCESS_DEMAND),
            ("circulation", acc.CIRCULATION_DEMAND),
        ):
            self.assertAlmostEqual(found[use], book.total(column), delta=0.001 * found[use])

    def test_temperatures_and_efficiency_by_hand(self):
        process = {"fitted": True, "hourly_kw": [1.0] * 24, "supply_c": 60, "return_c": 40}
        rank = next(r for r in rank_uses(with_uses(process=process), tmy3()) if r.use == "process")
        self.assertAlmostEqual(rank.collector_c, 50 + APPROACH_K)
        x = 57.0 - tmy3().air_c.mean()
        self.assertAlmostEqual(rank.efficiency["flat_selective"], 0.75 - (3.6 * x + 0.014 * x * x) / 600, places=6)

    def test_cooler_and_sunnier_ranks_higher(self):
        cool = {"fitted": True, "hourly_kw": [1.0] * 24, "supply_c": 30, "return_c": 20}
        ranks = {r.use: r for r in rank_uses(with_uses(process=cool, heating={"fitted": True}), tmy3())}
        self.assertGreater(ranks["process"].carried, ranks["rooms"].carried)
        self.assertGreater(ranks["process"].match, ranks["rooms"].match)
        self.assertIn("dark months", ranks["rooms"].reason)

    def test_a_pool_wants_more_when_it_is_warmer(self):
        watts = [pool_need(with_uses(pool={"fitted": True, "set_c": c}), clear_year()).sum() for c in (24, 28)]
        self.assertGreater(watts[1], watts[0])
        closed = pool_need(with_uses(pool={"fitted": True, "months": [False] * 12}), clear_year())
        self.assertEqual(float(np.abs(closed).sum()), 0.0)
