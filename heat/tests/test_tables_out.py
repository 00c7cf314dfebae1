"""Tables that are taken away: no cell a spreadsheet evaluates, no text that breaks a line; broken ones refused."""

import csv
import io
import zlib
from unittest import TestCase

from heat.common.tables import as_written, csv_table, harmless, reading
from heat.errors import HeatError, WeatherFileError

HARMFUL = ("=1+1", "+cmd|' /C calc'!A0", "-2+3+cmd", "@SUM(A1)", "\t=1", "\r=1", "  =1+1", "a\rb", "a\nb", "\x85=1")


class Out(TestCase):
    def test_no_text_is_a_formula_or_breaks_a_line(self):
        text = csv_table([["name", "kWh"], *([one, -1.5] for one in HARMFUL)])
        rows = list(csv.reader(io.StringIO(text, newline="")))
        self.assertEqual(len(rows), 1 + len(HARMFUL))
        for name, number in rows[1:]:
            self.assertNotRegex(name.lstrip(), r"^[=+\-@\t\r]")
            self.assertEqual(number, "-1.5")
        self.assertEqual((text.count("\r"), text.count("\n")), (0, 1 + len(HARMFUL)))

    def test_numbers_and_nothing_stay_what_they_are(self):
        self.assertEqual(
            csv_table([[-1.5, float("nan"), None, "", "-3.2", "-1 2.5 -3e-4", 0]]), "-1.5,,,,-3.2,-1 2.5 -3e-4,0\n"
        )

    def test_what_was_put_before_is_taken_off_again(self):
        for one in ("=1+1", "@x", "plain", "'quoted"):
            self.assertEqual(as_written(harmless(one)), one)


class In(TestCase):
    def test_whatever_a_parser_raises_is_one_refusal(self):
        for error in (KeyError("x"), zlib.error("x"), csv.Error("x"), RecursionError(), OverflowError(), EOFError()):
            with self.assertRaisesRegex(WeatherFileError, "cannot be read"), reading("book.csv"):
                raise error
        with self.assertRaisesRegex(HeatError, "^as it is$"), reading("book.csv"):
            raise HeatError("as it is")
