"""The command line: what it prints, writes and refuses."""

import io
import json
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest import TestCase

import pandas as pd
from fastparquet import ParquetFile

from heat.cli import main
from heat.common.compiled import PACKAGE

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class CommandLine(TestCase):
    coast = str(EXAMPLES / "weather" / "merrow_coast.json")

    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main(list(arguments))
        return status, out.getvalue(), err.getvalue()

    def test_prints_the_year_and_writes_hours_that_sum_to_it(self):
        with tempfile.TemporaryDirectory() as folder:
            for name, read in (("h.csv", pd.read_csv), ("h.parquet", lambda p: ParquetFile(p).to_pandas())):
                path = Path(folder) / name
                status, out, _err = self.run_it(
                    "simulate",
                    str(EXAMPLES / "pumped_coil.json"),
                    "--weather",
                    self.coast,
                    "--out",
                    str(path),
                    "--json",
                )
                self.assertEqual(status, 0)
                found = json.loads(out)
                table = read(path)
                self.assertEqual(len(table), 8760)
                self.assertAlmostEqual(
                    table["into_store_wh"].sum() / 1000, found["energy_kwh"]["into_store"], delta=0.1
                )
        _status, out, _err = self.run_it("simulate", str(EXAMPLES / "pumped_coil.json"), "--weather", self.coast)
        self.assertIn("licensed trades", out)
        self.assertRegex(out, r"year .*8[0-9]\.\d %")

    def test_bad_input_is_reported_without_a_traceback(self):
        with tempfile.TemporaryDirectory() as folder:

            def made(name, text):
                path = Path(folder) / name
                path.write_bytes(text.encode("latin-1"))
                return str(path)

            good = str(EXAMPLES / "pumped_coil.json")
            for design, weather, extra, words in (
                ("missing.json", self.coast, (), "missing.json: there is no such file"),
                (made("a.json", '{"plane": }'), self.coast, (), "a.json, line 1: not valid JSON"),
                (made("b.json", '{"plane": {"tilt_deg": 200}}'), self.coast, (), "plane.tilt_deg: 200.*0 to 90 deg"),
                (made("c.json", "[1]"), self.coast, (), "a design is an object"),
                (made("d.json", '{"version": 9}'), self.coast, (), "version 9"),
                (made("e.json", '{"plane": "é"}'), self.coast, (), "not text in UTF-8"),
                (good, made("w.csv", "hello"), (), "not a weather file we know"),
                (good, made("w.json", '{"kind": "monthly means", "air_c": }'), (), "line 1.*|not valid JSON"),
                (good, self.coast, ("--columns", made("m.json", '{"columns": 3}')), "columns"),
                (good, self.coast, ("--out", str(Path(folder) / "h.xls")), "written as .csv or .parquet"),
            ):
                status, _out, err = self.run_it("simulate", design, "--weather", weather, *extra)
                with self.subTest(words=words):
                    self.assertEqual(status, 2)
                    self.assertRegex(err, words)
                    self.assertNotIn("Traceback", err)


class Sweep(CommandLine):
    def test_a_question_is_answered_with_what_decides_and_its_table(self):
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "table.csv"
            status, text, _ = self.run_it(
                "sweep",
                str(EXAMPLES / "questions" / "tubes_or_plates.json"),
                "--weather",
                self.coast,
                "--out",
                str(out),
                "--workers",
                "1",
            )
            self.assertEqual(status, 0)
            rows = pd.read_csv(out)
        self.assertEqual(len(rows), 24)
        self.assertIn("24 years, 0 refused", text)
        by = rows.groupby("tilt")["fraction"].mean() * 100
        for tilt, mean in by.items():  # by hand, from the table
            self.assertRegex(text, rf"{tilt} +{mean:.1f} ")
        good = rows[rows["stagnation_h"] <= 100]
        self.assertIn(f"{good['bought_kwh'].min():.0f} kWh", text)

    def test_what_cannot_be_requested_is_reported(self):
        with tempfile.TemporaryDirectory() as folder:
            bad = Path(folder) / "q.json"
            for text, words in (("{", "not valid JSON"), ("[]", "an object"), ('{"questions": []}', "questions")):
                bad.write_text(text)
                status, _out, err = self.run_it("sweep", str(bad), "--weather", self.coast)
                self.assertEqual(status, 2)
                self.assertIn(words, err)
            status, _out, err = self.run_it(
                "sweep",
                str(EXAMPLES / "questions" / "tubes_or_plates.json"),
                "--weather",
                self.coast,
                "--out",
                f"{folder}/t.exe",
            )
            self.assertIn(".csv or .parquet", err)
