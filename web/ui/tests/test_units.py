"""Units of display: there and back, and numbers as people type them."""

from datetime import date
from unittest import TestCase

from web.ui.calendar import date_text, date_typed
from web.ui.units import THIN, UNITS, Ambiguous, field_text, number, parse_number, to_core, to_display, words, written


class Conversion(TestCase):
    def test_known_values(self):
        for value, quantity, expected in (
            (100.0, "degC", 212.0),
            (10.0, "delta_degC", 18.0),
            (1.0, "kWh", 3.41214),
            (29.3001, "kWh gas", 1.0),
            (37.9, "kWh oil", 1.0),
            (7.0, "kWh power", 7.0),
            (3.785411784, "L", 1.0),
            (1.0, "W/K", 1.895634),
            (1.0, "W/m2/K", 0.1761102),
            (25.4, "mm", 1.0),
            (1.0, "kWh/m2", 0.3169983),
        ):
            with self.subTest(quantity=quantity):
                self.assertAlmostEqual(to_display(value, quantity, "us"), expected, delta=2e-6 * abs(expected))

    def test_there_and_back(self):
        for quantity in UNITS:
            for system in ("si", "us"):
                self.assertAlmostEqual(to_core(to_display(12.5, quantity, system), quantity, system), 12.5, places=9)


class Numbers(TestCase):
    def test_typed(self):
        for text, value in (("1.5", 1.5), ("1,5", 1.5), ("1 200", 1200), ("1,200.5", 1200.5), ("−3", -3), (" 7 ", 7)):
            self.assertEqual(parse_number(text), value)
        for text, value in (
            ("1.500,5", 1500.5),
            ("1.500.000", 1.5e6),
            ("1,500,000", 1.5e6),
            ("12.345,6", 12345.6),
            ("1.500", 1.5),
            ("0,500", 0.5),
            ("1,5000", 1.5),
            ("2,25", 2.25),
            ("−0,125", -0.125),
            ("1’200", 1200),
            ("1 200,5", 1200.5),
        ):
            self.assertEqual(parse_number(text), value, text)
        for text, small, large in (("1,500", 1.5, 1500), ("12,345", 12.345, 12345), ("−1,250", -1.25, -1250)):
            with self.assertRaisesRegex(Ambiguous, "can be read as") as caught:
                parse_number(text)
            self.assertEqual(caught.exception.readings, (small, large))
        for text in ("", "x", "nan", "inf", "1.2.3", "1,50,000.5", "1,2.3,4", "1.50,000", "1,5.5"):
            with self.assertRaises(ValueError):
                parse_number(text)

    def test_sentences_are_in_the_readers_units(self):
        rule = "a valve that mixes to 45 to 50 °C, below −10 °C in 800 W/m², 5 K apart, 3 W/m²K"
        self.assertEqual(words(rule, "si"), rule)
        us = "a valve that mixes to 113 to 122 °F, below 14 °F in 254 Btu/h ft², 5 K apart, 3 W/m²K"
        self.assertEqual(words(rule, "us"), us)

    def test_gallons_are_whole_unless_typed_with_a_tenth(self):
        for litres, text in ((300.0, "79"), (20.0, "5"), (3.0, "0.8"), (to_core(79.5, "L", "us"), "79.5")):
            self.assertEqual(field_text(litres, "L", "us"), text)
        self.assertEqual(field_text(378.541, "L", "us"), "100")

    def test_numbers_are_displayed_with_the_sign_a_person_writes_and_read_back(self):
        for habit, sign in (("ask", "."), ("point", "."), ("comma", ",")):
            with self.subTest(habit=habit), written(habit):
                self.assertEqual(number(-12345.67, 1), f"−12{THIN}345{sign}7")
                self.assertEqual(number(1500, 0), f"1{THIN}500")
                for value, quantity in ((1.125, "1"), (45.5, "degC"), (0.125, "1")):
                    text = field_text(value, quantity, "si")
                    self.assertEqual(text, f"{value:g}".replace(".", sign))
                    self.assertEqual(parse_number(text), value)
                self.assertEqual(field_text(300.0, "L", "si"), "300")
        self.assertEqual(number(1.5, 1), "1.5")

    def test_a_persons_way_of_writing_settles_what_can_be_read_twice(self):
        table = (
            # typed, asked, with commas for thousands, with commas for decimals
            ("1,500", None, 1500, 1.5), ("1.500", 1.5, 1.5, None), ("12,345", None, 12345, 12.345),
            ("−1,250", None, -1250, -1.25), ("1.500,5", 1500.5, 1500.5, 1500.5), ("1,500.5", 1500.5, 1500.5, 1500.5),
            ("1,5", 1.5, 1.5, 1.5), ("0,125", 0.125, 0.125, 0.125), ("0.125", 0.125, 0.125, 0.125),
            ("1 500", 1500, 1500, 1500), ("1,500,000", 1.5e6, 1.5e6, 1.5e6), ("1.500.000", 1.5e6, 1.5e6, 1.5e6),
            ("1500", 1500, 1500, 1500), ("12.5", 12.5, 12.5, 12.5), ("1,5000", 1.5, 1.5, 1.5),
        )  # fmt: skip
        for text, *readings in table:
            for habit, wanted in zip(("ask", "point", "comma"), readings, strict=True):
                with self.subTest(text=text, habit=habit), written(habit):
                    if wanted is None:
                        with self.assertRaises(Ambiguous):
                            parse_number(text)
                    else:
                        self.assertEqual(parse_number(text), wanted)
        with written("odd"), self.assertRaises(Ambiguous):
            parse_number("1,500")

    def test_printed(self):
        self.assertEqual(number(-1234.56, 1), "−1\u202f234.6")
        self.assertEqual(number(-0.001, 1), "0.0")
        self.assertEqual(field_text(0.014, "W/m2/K2", "si"), "0.014")
        self.assertEqual(field_text(300.0, "L", "si"), "300")


class Dates(TestCase):
    def test_as_people_write_them(self):
        for text in ("28 Nov 2026", "nov 28, 2026", "28.11.2026", "2026-11-28", "28/11/2026", "28. November 2026"):
            self.assertEqual(date_typed(text), date(2026, 11, 28), text)
        self.assertEqual(date_typed("11/28/2026", us=True), date(2026, 11, 28))
        self.assertEqual(date_typed(date_text(date(2026, 3, 1))), date(2026, 3, 1))
        for text in ("", "May", "31 Feb 2026", "28 Nov", "2026-13-01", "1 2 3 4", "0 Mar 2026"):
            with self.assertRaisesRegex(ValueError, "write it as 28 Nov 2026"):
                date_typed(text)
