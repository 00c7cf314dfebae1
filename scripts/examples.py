"""Write docs/examples/README.md: every example's year as ./ledger simulate prints it, and why it is plausible.

PYTHONPATH=. .local/venv/bin/python scripts/examples.py
"""

from pathlib import Path

from heat.cli import report
from heat.design.schemes import SCHEMES
from heat.library import read_design, read_weather
from heat.simulation.year import simulate

FOLDER = Path(__file__).parent.parent / "docs" / "examples"
WHY = {
    "pumped_coil": """4.6 m² and 300 L give 513 kWh/m² and 84 % for 180 L a day: the coast's 1,297 kWh/m² on the
    horizontal
become 1,507 on the plane, of which a third reaches the store. The pump runs 2,650 h and nothing stagnates, because the
store is large for the roof (65 L/m²). The monthly correlation, made for mixed
stores, says 75 %; the layered store should and does lie several points above.""",
    "pumped_plate": """Six collectors on 900 L for twelve people: 491 kWh/m² and 86 %. The plate returns warm water
    high into
the store, which fills from the top, so that the controller sees a cold bottom for long and the pump runs 2,130 h only.
At 65 L/m² in summer the store reaches its limit for 95 h, and the standing collectors then reach 162 °C.""",
    "pumped_passive": """The same house as the coil with an exchanger whose store side moves by its own weight: 494
    kWh/m², within
4 % of the coil. At the low flow of 120 kg/h the loop runs hotter (collector loss 2,076 instead of 2,021 kWh) but keeps
the
store layered: 4 % less heat collected costs only 0.4 points of the fraction. The slow loop's pump runs 3,300 h.""",
    "drainback": """Plain water in the hills: 548 kWh/m², 81 %. The fluid carries 10 % more heat per kilogram than
    antifreeze and
nothing freezes, as the pipes are empty at night and lose to the room, not to the sky. Filling at each of the starts
costs
pump power: 71 kWh against 66 on the coast.""",
    "drain_down": """Store water passes the collectors without any exchanger, so the yield per m² equals the coil's
    with a quarter
fewer pump hours (1,880). The loop stands empty for the 287 h below 3 °C, mostly nights; 38 drainings waste 122 kg
of water. 82 % against 84 % with a coil: what the missing exchanger gains, the outdoor pipes and frosty mornings
take.""",
    "direct": """In a frost-free place with 1,828 kWh/m² of level sun, 4.6 m² carry 98 % of 180 L a day and the year's
    longest run
without backup is 123 days. With so little left to do the store stands at its limit for 358 h; the collectors reach 172
°C
then, and the yield of 568 kWh/m² is capped by the demand, not by the sun.""",
    "seasonal_preheat": """Emptied from November to March, it works 1,390 h and gives 384 kWh/m². The second store,
    always kept at 55 °C
by its element, loses 442 kWh a year by itself, so only 38 % of the taps' heat is saved although April to October is
mostly
carried. A summer setting of the valves that leaves the second store cold would save most of that loss.""",
    "thermosiphon_open": """Nothing but weight moves it: 116 kg/h at a mean noon, at most 178 kg/h, in step with the
    sun; 29 kg/h for
each m² at noon is what such loops are known for. At night it creeps backwards for 4,400 h at a fraction of a kg/h and
takes
about 100 kWh out again, 4 % of what the day put in; a check valve ends that. On the hottest days the open store
boils off 3 kg, and the draw coil costs a few kelvin at the tap, so a little backup is bought on most days, 72 kWh in
all.""",
    "thermosiphon_sealed": """With antifreeze and a jacket it gives 671 kWh/m², 97 %. The noon flow of 119 kg/h is that
    of the open loop.
It turns round for 458 h only, because the jacket's lower end stands in cold water, and loses 5 kWh by it; the relief
lets go 72 kg in the hottest weeks, which asks for less area or more store.""",
    "batch_tank": """2 m² of glass over 160 L: 66 % for two people and 454 kWh/m², counted behind the glass. The tank
    stands at
36 °C in the evening and 26 °C in the morning on the year's mean; the blanket from 18 to 6 h makes the difference to a
bare one. The coast hardly freezes, so the water stays above 8 °C; moved to the hill country and hardly drawn from, the
bare tank
spends 38 h below 0 °C and the covered one none.""",
    "tube_bank": """110 L in wide tubes behind one glass: 452 kWh/m² and 72 % in a sunny place. With 50 L for each m²
    it is hot at
dusk (50 °C) and cool by morning (24 °C), as there is no blanket; evening households fit it. The cover takes 2,060 kWh,
more than twice the useful heat, the price of storing behind glass.""",
    "bag": """90 mm of water under one cover lying flat: 44 °C at dusk, 27 °C at dawn, 56 % of three people's showers.
    Reckoned with
one, two and three covers from the builder, dusk is 48, 54, 56 °C and dawn 31, 38, 43 °C: each cover holds the night
better and passes less of the day. The yield of 269 kWh/m² is low because a level bag cannot lean to the winter sun.""",
    "pool_direct": """28 m² of mats on a 40 m² pool: 305 kWh/m² in the five open months, at a mean of 27 °C in the
    water. Evaporation
is the largest loss (34,500 of 60,500 kWh), as everywhere. Without the night cover the heater buys 29,600 instead of
9,300 kWh, and evaporation rises by a third.""",
    "combi": """14 m² of tubes at 62° for a house of 12,400 kWh room heat and 2,600 kWh hot water: 35 %, a usual share
    for a store of
71 L/m². Summer is carried wholly (92 days without backup) and the surplus stands: 386 h of stagnation, 250 h above 120
°C in the
fluid, for which the antifreeze must be made. The stove gives 4,240 kWh by its timetable, bought heat like any
other.""",
}
FAULTS_TRIED = """## What faults cost

On the pumped coil (378 kWh bought when all is well), from 1 January, in kWh bought more, as the tests hold them within
bands:
boiler on the solar store overnight with the pump running 3,860 (the collectors shed 3,000 kWh of it to the sky); air in
the loop 1,870; sensor 10 K high, or the store's 10 K low, 187 (the pump never rests); a grown tree of 30° 185; no
check valve
140; dirt of 15 % 130; a collector sensor that half feels the air 109; the store sensor at the top 53; spent antifreeze
12.
A flow three times too high or low costs 2 or less here, because the coil and not the flow limits this small loop.
"""


def weather_of(path: Path) -> Path:
    site = read_design(path).site
    name = "tarn_sound" if site.latitude_deg < 0 else "merrow_hills" if site.elevation_m > 100 else "merrow_coast"
    return FOLDER / "weather" / f"{name}.json"


def main() -> None:
    parts = ["# Examples", "",
        "One document for every kind of system, with made-up climates. Each year below is printed by",
             "`./ledger simulate`; the sentences say why it is plausible.", ""]  # fmt: skip
    for kind in SCHEMES:
        path = FOLDER / f"{kind}.json"
        weather_path = weather_of(path)
        weather = read_weather(weather_path)
        text = report(simulate(read_design(path), weather), weather)
        year = text[: text.index("  sun_kwh")].rstrip()
        parts += [f"## {kind}", "",
            f"`./ledger simulate docs/examples/{kind}.json --weather docs/examples/weather/{weather_path.name}`",
                  "", "```text", year, "```", "", WHY[kind], ""]  # fmt: skip
    (FOLDER / "README.md").write_text("\n".join([*parts, FAULTS_TRIED]))


if __name__ == "__main__":
    main()
