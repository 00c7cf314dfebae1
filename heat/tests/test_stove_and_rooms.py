"""Situations: a stove beside every kind of system, radiators as a sink, a second store behind anything."""

from unittest import TestCase

import numpy as np

from heat.design import Design, parse
from heat.design.changing import kind_changes, with_changes
from heat.design.contradictions import warnings
from heat.design.schemes import SCHEMES
from heat.errors import InputError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, NEEDED
from heat.loop.stove import jacket_answer
from heat.simulation.prepare_uses import prepare_stove
from heat.simulation.year import simulate
from heat.tests.samples import example, weather_for

STOVE = "system.backup.stove."


def plain(kind):
    """A kind's example, complete; a store that is its own collector has a second one."""
    document = parse(example(kind)).model_dump(mode="json")
    document["system"]["second_store"]["fitted"] = SCHEMES[kind].driven_by == "none"
    return document


def year(document, **changes):
    design = parse(with_changes(document, changes))
    book = simulate(design, weather_for(design))
    assert book.hours_closed == 8760
    return book


class Stoves(TestCase):
    def test_fired_on_winter_evenings_it_lowers_what_is_bought_and_boils_nothing(self):
        for kind in SCHEMES:
            if kind == "pool_direct":
                continue
            with self.subTest(kind=kind):
                document = plain(kind)
                without = year(document, **{f"{STOVE}fitted": False})
                lit = year(document, **{f"{STOVE}fitted": True})
                self.assertLess(lit.total(*BOUGHT), without.total(*BOUGHT))
                if without.total(*BOUGHT) > 100:
                    self.assertLess(lit.total(*BOUGHT), 0.8 * without.total(*BOUGHT))
                self.assertLess(lit.total(acc.BOIL_OFF) - without.total(acc.BOIL_OFF), 0.06 * lit.total(acc.OWN_STOVE))
                both = lit.fractions.at_tap + lit.fractions.of_wood
                self.assertGreater(both, without.fractions.at_tap - 0.001)
                self.assertLess(lit.fractions.at_tap, both)
                self.assertEqual(without.fractions.of_wood, 0.0)
                self.assertEqual(lit.total(acc.BOUGHT_STOVE), 0.0)

    def test_its_wood_counts_as_bought_where_one_states_so(self):
        own, bought = (year(plain("combi"), **{f"{STOVE}counts_as_bought": b}) for b in (False, True))
        self.assertAlmostEqual(own.total(acc.OWN_STOVE), bought.total(acc.BOUGHT_STOVE), places=6)
        self.assertAlmostEqual(bought.total(*BOUGHT) - own.total(*BOUGHT), own.total(acc.OWN_STOVE), places=6)
        self.assertGreater(own.fractions.of_wood, 0.2)
        self.assertEqual(bought.fractions.of_wood, 0.0)
        excess = own.total(acc.STOVE_EXCESS) / own.total(*NEEDED)
        self.assertAlmostEqual(own.fractions.at_tap, bought.fractions.at_tap + excess)  # it is no sun
        months = own.fraction_by_month() @ own.by_month(*NEEDED) / own.total(*NEEDED)
        self.assertAlmostEqual(months, own.fractions.at_tap)
        self.assertAlmostEqual(own.fractions.of_supply, bought.fractions.of_supply)
        self.assertAlmostEqual(own.cost(), bought.cost())
        self.assertGreater(own.fractions.fuel_saved, bought.fractions.fuel_saved)

    def test_it_shares_its_heat_between_room_and_water_and_falls_as_the_store_warms(self):
        book = year(plain("combi"), **{f"{STOVE}room_kw": 3.0})
        water, rooms = book.hourly(acc.STOVE_TO_STORE), book.hourly(acc.STOVE_TO_ROOMS, acc.STOVE_EXCESS)
        lit = water > 0
        np.testing.assert_allclose(rooms[lit], 0.75 * water[lit])
        self.assertGreater(book.total(acc.STOVE_TO_ROOMS), 0.7 * rooms.sum() / 1000)
        stove = prepare_stove(book.design)
        shares = [jacket_answer(stove, 4000.0, c, c, 98.0)[2] for c in (15.0, 40.0, 60.0, 75.0, 90.0)]
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertTrue(shares[0] > 0.9 and shares[-1] == 0.0, shares)

    def test_by_the_rooms_need_it_burns_only_where_they_request(self):
        changes = {f"{STOVE}fired": "rooms", f"{STOVE}room_kw": 6.0, f"{STOVE}lit_hours": [True] * 24}
        book = year(plain("combi"), **changes)
        self.assertEqual(book.hourly(acc.OWN_STOVE)[book.hourly(acc.HEATING_DEMAND) == 0].sum(), 0.0)
        self.assertLess(book.total(acc.STOVE_EXCESS), 0.01 * book.total(acc.STOVE_TO_ROOMS))
        with self.assertRaises(InputError):
            year(plain("pumped_coil"), **{f"{STOVE}fitted": True, f"{STOVE}fired": "rooms"})

    def test_a_collector_that_holds_its_water_takes_no_stove_by_itself(self):
        document = Design().model_dump(mode="json")
        document["system"]["backup"]["stove"]["fitted"] = True
        made = with_changes(document, kind_changes(document, "bag"))
        self.assertTrue(parse(made).system.second_store.fitted)
        with self.assertRaises(InputError):
            parse(with_changes(made, {"system.second_store.fitted": False}))

    def test_pipes_that_cannot_carry_it_are_warned_of(self):
        document = with_changes(
            plain("combi"), {f"{STOVE}store_above_m": -2.0, f"{STOVE}rise_mm_m": 20.0, f"{STOVE}heat_trap": False}
        )
        found = {w.path for w in warnings(parse(document), -5.0)}
        self.assertTrue({f"{STOVE}{n}" for n in ("store_above_m", "rise_mm_m", "heat_trap")} <= found)
        trapped, open_ = (year(plain("combi"), **{f"{STOVE}heat_trap": t}) for t in (True, False))
        self.assertGreater(open_.total(acc.STORE_LOSS), trapped.total(acc.STORE_LOSS) + 50)

    def test_a_pump_carries_what_weight_does(self):
        by_weight, pumped = (
            year(plain("combi"), **{f"{STOVE}circulation": c, f"{STOVE}pump_kg_h": 120.0, f"{STOVE}pump_w": 20.0})
            for c in ("thermosiphon", "pump")
        )
        self.assertAlmostEqual(by_weight.total(acc.OWN_STOVE) / pumped.total(acc.OWN_STOVE), 1.0, delta=0.03)
        self.assertAlmostEqual(
            pumped.total(acc.PUMP_ELECTRICITY) - by_weight.total(acc.PUMP_ELECTRICITY), 0.02 * 1060, delta=3
        )


class Radiators(TestCase):
    def test_they_take_what_is_above_their_temperature_and_warm_rooms_that_want_it(self):
        sink = {
            "system.dump.fitted": True,
            "system.dump.above_c": 60.0,
            "system.dump.power_kw": 4.0,
            "system.dump.pump_w": 30.0,
            "system.collector.count": 12,
        }
        document = plain("combi")
        none = year(document, **{"system.collector.count": 12})
        away = year(document, **sink)
        warm = year(document, **sink, **{"system.dump.to_rooms": True})
        self.assertGreater(away.total(acc.DUMP), warm.total(acc.DUMP) + 20)
        self.assertGreater(warm.total(acc.STORE_TO_HEATING), away.total(acc.STORE_TO_HEATING) + 20)
        self.assertLess(warm.total(*BOUGHT), away.total(*BOUGHT))
        self.assertGreater(warm.total(acc.PUMP_ELECTRICITY), none.total(acc.PUMP_ELECTRICITY) + 1)
        season = year(document, **sink, **{"system.dump.from_day": 120, "system.dump.to_day": 270})
        self.assertEqual(season.hourly(acc.DUMP)[: 24 * 119].sum(), 0.0)


class Following(TestCase):
    HEATED = {
        "system.second_store.fitted": True,
        "system.backup.element.fitted": True,
        "system.backup.tankless.fitted": False,
        "system.backup.boiler.fitted": False,
    }

    def test_a_heated_store_behind_anything_serves_the_taps(self):
        for kind in ("batch_tank", "tube_bank", "bag", "thermosiphon_open"):
            with self.subTest(kind=kind):
                book = year(plain(kind), **self.HEATED)
                self.assertLess(book.total(acc.UNMET), 0.1 * book.total(acc.DEMAND))
                cut_off = year(
                    plain(kind),
                    **self.HEATED,
                    **{"system.control.mode": "bypass", "system.control.other_mode": "bypass"},
                )
                self.assertGreater(cut_off.total(*BOUGHT), book.total(*BOUGHT) + 100)
                alone = year(
                    plain(kind),
                    **self.HEATED,
                    **{"system.control.mode": "direct", "system.control.other_mode": "direct"},
                )
                self.assertEqual(alone.total(acc.BOUGHT_ELEMENT), 0.0)

    def test_two_calorifiers_are_one_of_their_volume_but_for_their_height(self):
        small = {
            "system.second_store.volume_l": 100.0,
            "system.second_store.loss_w_k": 1.0,
            "system.second_store.count": 2,
        }
        one = {"system.second_store.volume_l": 200.0, "system.second_store.loss_w_k": 2.0}
        two, whole = (year(plain("pumped_coil"), **self.HEATED, **c) for c in (small, one))
        self.assertAlmostEqual(two.total(*BOUGHT) / whole.total(*BOUGHT), 1.0, delta=0.01)


class Rooms(TestCase):
    def test_a_heavy_floor_takes_sun_and_gives_it_to_the_rooms(self):
        bare = year(plain("combi"), **{f"{STOVE}fitted": False, "system.collector.count": 14})
        sandy = year(
            plain("combi"),
            **{
                f"{STOVE}fitted": False,
                "system.collector.count": 14,
                "demand.heating.slab.fitted": True,
                "demand.heating.slab.ground_w_m2k": 0.05,
                "demand.heating.slab.room_w_m2k": 0.5,
            },
        )
        self.assertGreater(sandy.total(acc.SLAB_TO_ROOMS), 500)
        self.assertLess(sandy.total(*BOUGHT), bare.total(*BOUGHT))
        self.assertLess(sandy.stagnation_hours(), bare.stagnation_hours() + 1)

    def test_two_circuits_and_fresh_air_close_their_books(self):
        book = year(
            plain("combi"),
            **{
                "demand.heating.second.fitted": True,
                "demand.heating.second.order": "after",
                "demand.fresh_air.fitted": True,
                "demand.heating.coil.fitted": True,
            },
        )
        one = year(plain("combi"))
        self.assertAlmostEqual(book.total(acc.HEATING_DEMAND), one.total(acc.HEATING_DEMAND), places=6)
        self.assertGreater(book.total(acc.STORE_TO_FRESH), 100)
        self.assertAlmostEqual(
            book.total(acc.TO_FRESH) + book.total(acc.TO_HEATING) + book.total(acc.UNMET),
            book.total(acc.FRESH_DEMAND) + book.total(acc.HEATING_DEMAND),
            places=3,
        )
