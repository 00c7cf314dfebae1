"""Prices of energy by the hour, and one house without solar that designs are measured against."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.design.money import Money, Old, Rate
from heat.economics.offer import offered
from heat.economics.prices import PRICES
from heat.economics.tariff import (
    by_hour,
    charged_wh,
    emission_row,
    energy_of,
    old_heaters,
    price_row,
    water_saved_m3,
    with_old_heaters,
)
from heat.errors import InputError
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.tests.samples import case_design, tmy3


class Tariffs(TestCase):
    DAY_NIGHT = (Rate(from_hour=6, price_kwh=0.32), Rate(from_hour=22, price_kwh=0.18))

    def test_hours_wrap_and_seasons_change(self):
        prices = by_hour(self.DAY_NIGHT)
        self.assertEqual([prices[h] for h in (0, 5, 6, 21, 22)], [0.18, 0.18, 0.32, 0.32, 0.18])
        money = Money(
            tariff=self.DAY_NIGHT,
            summer_tariff=(Rate(from_hour=0, price_kwh=0.2),),
            summer_from_month=11,
            summer_to_month=2,
        )
        row = price_row(money, 0.5)
        self.assertEqual((row[12], row[8759], row[24 * 181 + 12]), (0.2, 0.2, 0.32))
        self.assertTrue((price_row(Money(), 0.5) == 0.5).all())

    def test_a_flat_tariff_is_the_flat_price_and_night_power_pays_the_night(self):
        design = case_design()
        element = {"system.backup.element.fitted": True, "system.backup.element.price_kwh": 0.3}
        made = parse(with_changes(design.model_dump(mode="json"), element))
        book = simulate(made, tmy3())
        flat = energy_of(book, Money(pump_price_kwh=0.3))
        even = energy_of(book, Money(tariff=(Rate(from_hour=0, price_kwh=0.3),), pump_price_kwh=0.9))
        self.assertAlmostEqual(flat.bought["element"], even.bought["element"], places=8)
        self.assertAlmostEqual(flat.pump, even.pump, places=8)
        self.assertAlmostEqual(flat.without, even.without, places=6)
        self.assertAlmostEqual(flat.bought["element"], book.total(acc.BOUGHT_ELEMENT) * 0.3, places=8)
        cheap = energy_of(book, Money(tariff=self.DAY_NIGHT))
        hours = np.arange(8760) % 24
        night = (hours >= 22) | (hours < 6)
        watt_hours = book.hourly(acc.BOUGHT_ELEMENT)
        by_hand = (watt_hours[night].sum() * 0.18 + watt_hours[~night].sum() * 0.32) / 1000
        self.assertAlmostEqual(cheap.bought["element"], by_hand, places=6)
        self.assertAlmostEqual(flat.saved, flat.without - flat.with_sun)

    def test_power_emits_by_month_and_hour(self):
        made = parse(with_changes(case_design().model_dump(mode="json"), {"system.backup.element.fitted": True}))
        book = simulate(made, tmy3())
        flat = energy_of(book, Money())
        self.assertAlmostEqual(flat.co2_kg, book.co2_kg() + book.total(acc.PUMP_ELECTRICITY) * 0.35, places=6)
        self.assertAlmostEqual(flat.co2_saved_kg, book.co2_saved_kg(), places=6)
        months = tuple(0.1 * (m + 1) for m in range(12))
        hours = tuple(2.0 if h >= 12 else 0.0 for h in range(24))
        row = emission_row(Money(co2_by_month=months, co2_by_hour=hours), 9.9)
        self.assertEqual((row[0], row[13]), (0.0, 0.2))
        self.assertAlmostEqual(row[-1], 2.4)
        self.assertAlmostEqual(emission_row(Money(), 0.35).mean(), 0.35)
        dirty = energy_of(book, Money(co2_by_month=(0.7,) * 12))
        self.assertAlmostEqual(dirty.co2_kg, 2 * flat.co2_kg, places=6)

    def test_the_old_heater_as_it_was_reported(self):
        made = parse(with_changes(case_design().model_dump(mode="json"), {"system.backup.element.fitted": True}))
        book = simulate(made, tmy3())
        old = Old(efficiency=0.7, price_kwh=0.12, co2_kg_kwh=0.25, standing_w=150.0)
        found = energy_of(book, Money(old=old))
        need = book.total(acc.DEMAND, acc.CIRCULATION_DEMAND) + 0.15 * 8760
        self.assertAlmostEqual(found.without, need / 0.7 * 0.12, places=6)
        self.assertAlmostEqual(found.co2_saved_kg + found.co2_kg, need / 0.7 * 0.25, places=6)
        self.assertAlmostEqual(
            found.with_sun, energy_of(book, Money()).with_sun, delta=0.2 * book.total(acc.UNMET) + 1e-6
        )

    def test_one_house_without_solar_for_every_design(self):
        gas = case_design()
        power = parse(with_changes(gas.model_dump(mode="json"), {
            "system.backup.tankless.burns": "power", "system.backup.tankless.efficiency": 0.98,
        }))  # fmt: skip
        books = [simulate(design, tmy3()) for design in (gas, power)]
        of = lambda i, design: energy_of(books[i], design.money)
        self.assertAlmostEqual(of(0, gas).without, of(1, power).without * (0.14 / 0.92) / (0.28 / 0.98), delta=0.01)
        old = old_heaters(gas)
        measured = [parse(with_old_heaters(d.model_dump(mode="json"), old)) for d in (gas, power)]
        self.assertAlmostEqual(of(0, measured[0]).without, of(1, measured[1]).without, places=6)
        self.assertAlmostEqual(of(0, measured[0]).without, of(0, gas).without, places=6)
        self.assertEqual(old_heaters(measured[1]), old)

    def test_heaters_pay_the_project_s_price_or_their_own(self):
        document = case_design().model_dump(mode="json")
        fuels = [{**fuel, "price_kwh": 0.2} if fuel["energy"] == "gas" else fuel for fuel in document["money"]["fuels"]]
        for changes, price in (
            ({}, 0.14),
            ({"money.fuels": fuels}, 0.2),
            ({"money.fuels": fuels, "system.backup.tankless.price_kwh": 0.1}, 0.1),
            ({"money.fuels": fuels, "system.backup.tankless.burns": "oil"}, 0.12),
            ({"money.fuels": []}, 0.14),
        ):
            with self.subTest(changes=list(changes)):
                book = simulate(parse(with_changes(document, changes)), tmy3())
                self.assertAlmostEqual(book.cost(), book.total(acc.BOUGHT_TANKLESS) / 0.92 * price, places=6)

    def test_a_tank_charged_at_night_is_priced_at_night_without_solar_too(self):
        night = [h >= 22 or h < 6 for h in range(24)]
        element = "system.backup.element"
        document = with_changes(case_design().model_dump(mode="json"), {
            "system.backup.tankless.fitted": False, f"{element}.fitted": True, f"{element}.height_share": 0.3,
            f"{element}.sensor_share": 0.4, f"{element}.set_c": 60.0, f"{element}.hours_on": night,
            "money.tariff": [{"from_hour": 22, "price_kwh": 0.14}, {"from_hour": 6, "price_kwh": 0.34}],
        })  # fmt: skip
        design, weather, none = parse(document), tmy3(), np.zeros(8760)
        sunny = energy_of(simulate(design, weather), design.money)
        # the same plant in a year without sun is the house without solar
        dark_year = simulate(design, replace(weather, ghi_w_m2=none, dni_w_m2=none, dhi_w_m2=none))
        dark = energy_of(dark_year, design.money)
        self.assertAlmostEqual(sunny.without, dark.with_sun, delta=0.1 * dark.with_sun)  # its tank loses otherwise
        without = simulate(design, weather).without_solar()[0].kwh
        bought = dark_year.total(acc.BOUGHT_ELEMENT)
        self.assertAlmostEqual(sunny.without / without, dark.bought["element"] / bought, delta=0.002)
        wanted = np.tile(np.arange(24.0) == 19, 365) * 5000.0
        charged = charged_wh(wanted, tuple(night), 3000.0)
        self.assertAlmostEqual(charged.sum(), wanted.sum())
        self.assertEqual([round(v) for v in charged[22:26]], [3000, 2000, 0, 0])
        self.assertEqual(charged[~np.tile(night, 365)].sum(), 0.0)

    def test_water_that_fixtures_no_longer_take_is_reported_and_counted_when_requested(self):
        fixture = {"name": "shower", "flow_l_min": 12, "minutes_day": 5, "flow_after_l_min": 8, "at_c": 39}
        document = with_changes(
            case_design().model_dump(mode="json"),
            {
                "demand.counted": "fixtures",
                "demand.fixtures": [fixture],
                "demand.people": 3,
                "demand.before.leaks_l_day": 10.0,
            },
        )
        made = parse(document)
        saved = 365 * (3 * 5 * (12 - 8) + 10) / 1000
        self.assertAlmostEqual(water_saved_m3(made), saved)
        book = simulate(made, tmy3())
        self.assertEqual(offered(made, book, PRICES).case.water, 0.0)
        counted = parse(with_changes(document, {"money.water_counts": True, "money.water_price_m3": 5.0}))
        self.assertAlmostEqual(offered(counted, book, PRICES).case.water, 5 * saved)

    def test_an_hour_has_one_price(self):
        for changes, words in (
            ({"money.tariff": [{"from_hour": 6, "price_kwh": p} for p in (0.2, 0.3)]}, "begins twice"),
            ({"money.tariff": [{"from_hour": 6.5, "price_kwh": 0.2}]}, "whole hours"),
            ({"money.summer_tariff": [{"from_hour": 6, "price_kwh": 0.2}]}, "other months"),
            ({"money.tariff": [{"from_hour": 24, "price_kwh": 0.2}]}, "0 to 23"),
            ({"money.interest": 400}, "-5 to 30"),
            ({"money.horizon_years": 0}, "1 to 50"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(InputError, words):
                parse(with_changes(Design().model_dump(mode="json"), changes))
