"""What stood in a draw coil, beside a program of ten thousand slices that shares no code, and figures by hand."""

from unittest import TestCase

import numpy as np

from heat.constants import WATER_J_KGK
from heat.loop.coil import Coil
from heat.loop.own_water import own_water_deliver, own_water_mean_c

LAYERS, STORE_KG, FLOW_W_K, UA_W_K, OWN_KG = 40, 300.0, 8.0 / 60.0 * WATER_J_KGK, 900.0, 6.3


def sloped():
    """A store from 20 °C at the foot to 60 °C at the top, straight between."""
    heights = (np.arange(LAYERS) + 0.5) / LAYERS
    return 20.0 + 40.0 * heights, np.full(LAYERS, STORE_KG / LAYERS)


def sliced_c(part, ua_w_k=UA_W_K, slices=2000):
    """Mean outlet of the upper ``part`` of a coil's own water, slice by slice up the coil in a store that stays."""
    ntu = ua_w_k / FLOW_W_K
    at = (np.arange(slices) + 0.5) / slices
    water = 20.0 + 40.0 * at
    step = 1.0 / slices
    out = []
    for start in np.flatnonzero(at > 1.0 - part):
        c = water[start]
        for z in at[start:]:
            c += ntu * step * (20.0 + 40.0 * z - c)
        out.append(c)
    return float(np.mean(out))


class OwnWater(TestCase):
    def mean_c(self, part, ua_w_k=UA_W_K):
        layers, mass = sloped()
        return own_water_mean_c(Coil(ua_w_k, 0.0, 1.0), FLOW_W_K, part, layers, mass, LAYERS, STORE_KG)

    def test_it_passes_the_coil_above_it(self):
        for part in (1.0, 0.6, 0.2):
            self.assertAlmostEqual(self.mean_c(part), sliced_c(part), delta=0.3)

    def test_eight_litres_by_hand(self):
        """6.3 L of its own and 1.7 L of mains at 12 °C: 45.4 °C in a store that cools a little, 45.6 in one that
        does not, worked out by hand with the exchanger equation; all at the top's temperature they would be 55.3."""
        ntu = UA_W_K / FLOW_W_K
        own = 60.0 - 40.0 / ntu * (1.0 - (1.0 - np.exp(-ntu)) / ntu)
        fresh = 60.0 - 40.0 / ntu + (12.0 - 20.0 + 40.0 / ntu) * np.exp(-ntu)
        by_hand = (OWN_KG * own + (8.0 - OWN_KG) * fresh) / 8.0
        self.assertAlmostEqual(by_hand, 45.6, delta=0.05)
        self.assertAlmostEqual((OWN_KG * self.mean_c(1.0) + (8.0 - OWN_KG) * fresh) / 8.0, by_hand, delta=0.2)

    def test_an_even_store_gives_its_temperature(self):
        layers, mass = np.full(LAYERS, 50.0), np.full(LAYERS, STORE_KG / LAYERS)
        for ua in (90.0, 900.0, 9000.0):
            self.assertAlmostEqual(
                own_water_mean_c(Coil(ua, 0.1, 0.9), FLOW_W_K, 1.0, layers, mass, LAYERS, STORE_KG), 50.0, places=9
            )

    def test_layers_give_what_it_carries_off(self):
        layers, mass = sloped()
        before = layers.copy()
        heat = OWN_KG * (self.mean_c(1.0) - 12.0) * WATER_J_KGK
        given = own_water_deliver(
            Coil(UA_W_K, 0.0, 1.0), FLOW_W_K, heat, 12.0, layers, mass, LAYERS, STORE_KG, np.zeros(LAYERS)
        )
        self.assertEqual(given, heat)
        self.assertAlmostEqual(float(((before - layers) * mass).sum()) * WATER_J_KGK, heat, delta=1e-6 * heat)
        self.assertTrue((before - layers >= 0.0).all())
