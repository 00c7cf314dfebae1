"""Every published number in the validation table holds, and the committed table is the current one."""

import re
from unittest import TestCase

from heat.common.compiled import PACKAGE
from heat.tests.validation import Row, all_rows, as_table


class Published(TestCase):
    def test_every_row_holds(self):
        for row in all_rows():
            with self.subTest(row=row.name):
                self.assertAlmostEqual(row.got, row.expected, delta=row.tolerance, msg=row.source)

    def test_a_wrong_number_is_noticed(self):
        self.assertFalse(Row("x", 1.0, 1.2, 0.1, "").ok)

    def test_the_committed_table_names_the_same_rows(self):
        committed = (PACKAGE.parent / "docs" / "validation.md").read_text()
        names = re.findall(r"^\| (.+?) \|", committed, re.M)[2:]
        self.assertEqual(names, [row.name for row in all_rows()])
        self.assertNotIn("| NO |", as_table(all_rows()))
