"""Numbers of nature and of the trade, each with unit, uncertainty and source."""

from typing import Final

HOURS: Final = 8760
"""Hours in the year of account (h); 29 February is dropped."""

HOURS_OF_MONTH: Final = tuple(24 * d for d in (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31))
"""Hours in each month of the year of account (h)."""

WATER_J_KGK: Final = 4186.0
"""Specific heat of water (J/kgK), the 15 °C calorie; 4174 to 4197 between 0 and 90 °C (±0.3 %).
Source: IAPWS-95 tables; NIST Chemistry WebBook."""

WATER_KG_L: Final = 1.0
"""Density of water in stores and at taps (kg/L); 0.965 at 90 °C, so litres are kilograms to 3.5 %.
Source: IAPWS-95 tables."""

STEFAN_BOLTZMANN: Final = 5.670374419e-8
"""Stefan-Boltzmann constant (W/m²K⁴), exact. Source: CODATA 2018."""

SOLAR_CONSTANT: Final = 1361.1
"""Total solar irradiance at one astronomical unit (W/m²), ±0.5. Source: Gueymard (2018),
Solar Energy 168, 2-12."""

KELVIN: Final = 273.15
"""0 °C in kelvin (K), exact. Source: SI."""

PIPE_FILM_W_M2K: Final = 10.0
"""Film coefficient outside an insulated pipe (W/m²K), indoors about 8 to 10, in wind 20 and more.
Source: VDI Heat Atlas, 2nd ed., part F (combined convection and radiation near room temperature)."""

SOIL_W_MK: Final = 1.5
"""Conductivity of moist ground (W/mK), 0.5 dry to 2.5 wet. Source: VDI 4640-1, table 1."""

TANK_HEATER_STANDING_W: Final = 60.0
"""Standing loss of the tank heater a house without solar would have (W), 30 to 90 for 100 to 200 L.
Source: EU 812/2013, annex II: the border of classes B and C, 12 + 5.93 V^0.4 W, is 56 W for 150 L."""
