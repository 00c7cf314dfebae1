"""Write heat/data/propylene_glycol.csv once. Needs CoolProp, which the application does not.

uv pip install CoolProp==8.0.0 && python scripts/tabulate_glycol.py > heat/data/propylene_glycol.csv
"""

from CoolProp.CoolProp import PropsSI

PURE_DENSITY = 1036.0  # kg/m³ at 20 °C, propylene glycol
WATER_DENSITY = 998.2  # kg/m³ at 20 °C
PRESSURE = 5e5


def main() -> None:
    print("# Propylene glycol and water by share of volume (mixed at 20 °C).")
    print("# Source: CoolProp 8.0.0, fluid INCOMP::MPG (Melinder 2010), water: IAPWS-95, 5 bar.")
    print("glycol_percent,temperature_c,density_kg_m3,heat_capacity_j_kgk,viscosity_mpas,conductivity_w_mk,freezing_c")
    for percent in range(0, 61, 10):
        share = percent / 100
        mass = share * PURE_DENSITY / (share * PURE_DENSITY + (1 - share) * WATER_DENSITY)
        mass = min(mass, 0.6)  # end of the published range, 59 % by volume
        name = f"INCOMP::MPG[{mass:.5f}]" if percent else "Water"
        freezing = PropsSI("T_FREEZE", "T", 300, "P", PRESSURE, name) - 273.15 if percent else 0.0
        for celsius in range(0, 101, 10):
            kelvin = max(celsius, 0.01) + 273.15
            d, c, v, k = (PropsSI(q, "T", kelvin, "P", PRESSURE, name) for q in "DCVL")
            print(f"{percent},{celsius},{d:.1f},{c:.1f},{v * 1e3:.4f},{k:.4f},{freezing:.2f}")


if __name__ == "__main__":
    main()
