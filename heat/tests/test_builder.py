"""A collector from its materials, and the catalogue."""

from unittest import TestCase

from heat.catalogue import collector, entries, on_area
from heat.collector.builder import Build, Cover, band_fraction, rate, stagnation_c
from heat.common.compiled import PACKAGE

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class Builder(TestCase):
    def test_selective_coating_and_second_cover_lower_the_loss(self):
        black, selective = rate(Build()), rate(Build(emittance=0.05))
        double = rate(Build(covers=(Cover(), Cover())))
        self.assertTrue(selective.a1_w_m2k < 0.75 * black.a1_w_m2k)
        self.assertTrue(double.a1_w_m2k < 0.75 * black.a1_w_m2k and double.eta0 < black.eta0)
        self.assertTrue(110 < black.stagnation_c < 150 and 170 < selective.stagnation_c < 210)

    def test_fins_and_flow(self):
        self.assertLess(rate(Build(plate_mm=0.05)).efficiency_factor, rate(Build(plate_mm=1.0)).efficiency_factor)
        self.assertLess(rate(Build(tube_spacing_mm=300)).eta0, rate(Build()).eta0)
        fast = rate(Build(flow_kg_h=400))
        self.assertTrue(rate(Build()).removal_factor < fast.removal_factor < fast.efficiency_factor)

    def test_serpentine_lies_near_the_straight_tube_of_the_same_film(self):
        from heat.collector.builder import efficiency_factor, removal_factor, serpentine_removal

        build = Build(layout_serpentine=True)
        straight = removal_factor(build, 6.0, efficiency_factor(build, 6.0, 1500.0))
        self.assertAlmostEqual(serpentine_removal(build, 6.0, 1500.0) / straight, 1.0, delta=0.05)

    def test_black_body_bands(self):
        """25.0 % of a black body's radiation lies below the wavelength of its peak (Wien)."""
        self.assertAlmostEqual(band_fraction(2897.77 / 5777.0, 5777.0 - 273.15), 0.2501, delta=0.0002)
        self.assertAlmostEqual(band_fraction(4000.0 / 1000.0, 1000.0 - 273.15), 0.4809, delta=0.0005)

    def test_semi_grey_surface_stagnates_hotter_than_black_paint(self):
        semi = Build(cutoff_um=2.5, absorptance_long=0.08)
        self.assertGreater(stagnation_c(semi), stagnation_c(Build()) + 30)

    def test_a_rated_build_agrees_with_its_own_balance(self):
        from heat.collector.builder import plate_balance

        build = Build()
        made = rate(build)
        for excess in (10.0, 40.0, 65.0):
            gain = plate_balance(build, build.air_c + excess, 800.0)[0]
            fitted = made.eta0 * 800 - made.a1_w_m2k * excess - made.a2_w_m2k2 * excess**2
            self.assertAlmostEqual(fitted, gain, delta=4.0)

    def test_catalogue_entries_are_generic_and_in_range(self):
        self.assertGreaterEqual(len(entries()), 12)
        for key, entry in entries().items():
            self.assertIn("generic", entry.source)
            self.assertGreater(collector(key, 3).total_area_m2, 3.0)
        eta0, a1, a2 = on_area(0.75, 4.0, 0.01, 2.0, 2.5)
        self.assertAlmostEqual(eta0 * 2.5, 0.75 * 2.0)
        self.assertAlmostEqual(a1 * 2.5 + a2 * 2.5, 8.02)
