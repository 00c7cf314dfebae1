"""The core from Python: the examples of docs/library.md run as printed, and the names are stable."""

import io
import re
from contextlib import redirect_stdout
from pathlib import Path
from unittest import TestCase

import numpy as np

import heat
from heat.ledger import accounts as acc

ROOT = Path(__file__).parents[2]
COAST, COIL = "docs/examples/weather/merrow_coast.json", "docs/examples/pumped_coil.json"


class Library(TestCase):
    def setUp(self):
        self.weather = heat.read_weather(ROOT / COAST)
        self.design = heat.read_design(ROOT / COIL)

    def test_the_printed_examples_run(self):
        blocks = re.findall(r"```python\n(.*?)```", (ROOT / "docs" / "library.md").read_text(), re.S)
        self.assertEqual(len(blocks), 3)
        for block in blocks:
            with self.subTest(block=block.splitlines()[2]), redirect_stdout(io.StringIO()) as out:
                exec(block.replace('"docs/', f'"{ROOT}/docs/'), {})
            self.assertTrue(out.getvalue())

    def test_a_year_answers_by_standard_names(self):
        year = heat.simulate(self.design, self.weather)
        self.assertEqual(set(year.fractions), {"at_use", "of_supply", "fuel_saved"})
        self.assertEqual(tuple(year.energy_kwh), acc.NAMES)
        self.assertEqual(set(heat.ACCOUNTS), set(year.energy_kwh))
        sun = sum(year.energy_kwh[name] for name in ("sun_beam", "sun_sky", "sun_ground", "sun_mirror", "sky_exchange"))
        self.assertAlmostEqual(sun, year.figures["sun_kwh"], places=6)
        self.assertEqual(year.months.shape, (12, len(acc.NAMES)))
        for name, total in year.energy_kwh.items():
            self.assertAlmostEqual(year.months[f"{name}_kwh"].sum(), total, places=6)
        self.assertEqual(len(year.hours), 8760)
        self.assertAlmostEqual(year.hours.into_store_wh.sum() / 1000, year.energy_kwh["into_store"], places=6)

    def test_numerics_and_mappings(self):
        fine = heat.simulate(self.design, self.weather, layers=40, step_minutes=3)
        self.assertEqual((fine.design.numerics.layers, fine.design.numerics.step_minutes), (40, 3))
        usual = heat.simulate({"system": {"store": {"volume_l": 400}}}, self.weather)
        self.assertEqual(usual.design.system.store.volume_l, 400)
        with self.assertRaises(heat.HeatError) as caught:
            heat.simulate(self.design, self.weather, layers=0)
        self.assertIn("layers", str(caught.exception))

    def test_designs_are_compared_by_name_and_by_number(self):
        named = heat.compare({"coil": self.design}, self.weather)
        self.assertEqual(list(named.index), ["coil"])
        self.assertEqual(named.loc["coil"].to_dict(), heat.compare([self.design], self.weather).loc[0].to_dict())
        axes = {"system.collector.count": [1, 2], "system.store.volume_l": [200, 300]}
        table = heat.compare(heat.variants(self.design, axes), self.weather)
        grid = table["fraction_at_use"].unstack().to_numpy()
        self.assertEqual(grid.shape, (2, 2))
        self.assertTrue((np.diff(grid, axis=0) > 0).all())

    def test_what_is_exported_is_there(self):
        for name in heat.__all__:
            self.assertTrue(getattr(heat, name))
        with self.assertRaises(AttributeError):
            heat.__getattr__("nothing_of_that_name")
