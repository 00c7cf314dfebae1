"""Write docs/examples/README.md: every example's year as ./ledger simulate prints it, and why it is plausible. Every
number in the sentences is that of the year it stands below.

PYTHONPATH=. .local/venv/bin/python scripts/examples.py
"""

from collections import defaultdict
from pathlib import Path
from textwrap import fill

from heat.cli import report
from heat.design import parse
from heat.design.schemes import SCHEMES
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, YearBook
from heat.library import read_design, read_weather
from heat.monitoring.faults import FAULTS, faulty_document, sized, suffers
from heat.simulation.year import simulate
from heat.studies.figures import figures

FOLDER = Path(__file__).parent.parent / "docs" / "examples"
SIGNS = {"delta_degC": "K", "degC": "°C", "percent": "%", "deg": "°", "W/m/K": "W/mK"}
WHY = {
    "pumped_coil": """{area:.1f} m² and {litres:.0f} L give {yield_kwh_m2_gross:.0f} kWh/m² and {pct:.1f} % for
        180 L a day: of the sun on the collectors a third reaches the store. The pump runs {pump_h:.0f} h and
        {stagnation_h:.0f} h are spent at a limit, because the store is large for the roof. The monthly correlation,
        made for mixed stores, says {monthly:.0f} %; a layered store should and does lie some points above, and the
        pages widen their band by the difference.""",
    "pumped_plate": """Six collectors on {litres:.0f} L for twelve people: {yield_kwh_m2_gross:.0f} kWh/m² and
        {pct:.0f} %. The plate returns warm water high into the store, which fills from the top, so that the controller
        sees a cold bottom for long and the pump runs {pump_h:.0f} h only. In summer the store reaches its limit for
        {stagnation_h:.0f} h, and the standing collectors then reach {collector_peak_c:.0f} °C.""",
    "pumped_passive": """The same house as the coil with an exchanger whose store side moves by its own weight:
        {yield_kwh_m2_gross:.0f} kWh/m². At the low flow the loop runs hotter but keeps the store layered: a little less
        heat collected costs next to nothing of the fraction, {pct:.1f} %. The slow loop's pump runs {pump_h:.0f} h.""",
    "drainback": """Plain water in the hills: {yield_kwh_m2_gross:.0f} kWh/m², {pct:.0f} %. The fluid carries 10 % more
        heat per kilogram than antifreeze and nothing freezes, as the pipes are empty at night and lose to the room, not
        to the sky. Filling at each of the starts costs pump power: {pump_kwh:.0f} kWh in all.""",
    "drain_down": """Store water passes the collectors without any exchanger: {yield_kwh_m2_gross:.0f} kWh/m² with
        fewer pump hours than a coil needs ({pump_h:.0f}). The loop stands empty below 3 °C, mostly at night.
        {pct:.0f} %: what the missing exchanger gains, the outdoor pipes and frosty mornings take in part.""",
    "direct": """In a frost-free place with much sun, {area:.1f} m² carry {pct:.0f} % of 180 L a day and the year's
        longest run without backup is {longest_run_days:.0f} days. With so little left to do the store stands at its
        limit for {stagnation_h:.0f} h; the collectors reach {collector_peak_c:.0f} °C then, and the yield of
        {yield_kwh_m2_gross:.0f} kWh/m² is capped by the demand, not by the sun.""",
    "seasonal_preheat": """Emptied from November to March, it works {pump_h:.0f} h and gives
        {yield_kwh_m2_gross:.0f} kWh/m². The second store, always kept hot by its element, loses heat all year by
        itself, so only {pct:.0f} % of the taps' heat is saved although April to October is mostly carried.""",
    "thermosiphon_open": """Nothing but weight moves it, in step with the sun. At night it creeps backwards for
        {reversed_h:.0f} h at a fraction of a kg/h; a check valve ends that. On the hottest days the open store boils
        off {boiled_kg:.0f} kg, and the draw coil costs a few kelvin at the tap, so a little backup is bought on many
        days, {bought_kwh:.0f} kWh in all.""",
    "thermosiphon_sealed": """With antifreeze and a jacket it gives {yield_kwh_m2_gross:.0f} kWh/m², {pct:.0f} %. It
        turns round for {reversed_h:.0f} h at a fraction of its noon flow; the relief lets go {boiled_kg:.0f} kg in
        the hottest weeks, which asks for less area or more store.""",
    "batch_tank": """{area:.0f} m² of glass over {litres:.0f} L: {pct:.0f} % for two people and
        {yield_kwh_m2_gross:.0f} kWh/m², counted behind the glass. The tank stands at {dusk:.0f} °C in the evening and
        {dawn:.0f} °C in the morning on the year's mean; the blanket at night makes the difference to a bare one. The
        coast hardly freezes, so the water stays above {store_coldest_c:.0f} °C in an ordinary year.""",
    "tube_bank": """{litres:.0f} L in wide tubes behind one glass: {yield_kwh_m2_gross:.0f} kWh/m² and {pct:.0f} % in a
        sunny place. With 50 L for each m² it is hot at dusk ({dusk:.0f} °C) and cool by morning ({dawn:.0f} °C), as
        there is no blanket; evening households fit it. The cover takes more than the useful heat, the price of storing
        behind glass.""",
    "bag": """90 mm of water under one cover lying flat: {dusk:.0f} °C at dusk, {dawn:.0f} °C at dawn, {pct:.0f} % of
        three people's showers. More covers hold the night better and pass less of the day. The yield of
        {yield_kwh_m2_gross:.0f} kWh/m² is low because a level bag cannot lean to the winter sun.""",
    "pool_direct": """{area:.0f} m² of mats on a 40 m² pool: {yield_kwh_m2_gross:.0f} kWh/m² in the five open months,
        at a mean of {pool_mean_in_season_c:.0f} °C in the water, the heater's {bought_kwh:.0f} kWh included.
        Evaporation is the largest loss, as everywhere.""",
    "combi": """{area:.0f} m² of tubes at 62° for a house and its hot water: the sun carries {pct:.0f} %, own wood
        {wood:.0f} %. Summer is carried wholly ({days_without_backup:.0f} days without backup) and the surplus stands:
        {stagnation_h:.0f} h of stagnation, {fluid_above_120_c_h:.0f} h above 120 °C in the fluid, for which the
        antifreeze must be made. The stove's wood is one's own: neither bought nor sun.""",
}


def weather_of(path: Path) -> Path:
    site = read_design(path).site
    name = "tarn_sound" if site.latitude_deg < 0 else "merrow_hills" if site.elevation_m > 100 else "merrow_coast"
    return FOLDER / "weather" / f"{name}.json"


def numbers(book: YearBook, found: dict[str, float]) -> dict[str, float]:
    """What a sentence may name: the sheet's figures, sizes, the water at dusk and dawn."""
    mean_c = lambda hour: float(book.profile[hour::24].mean())
    system = book.design.system
    return defaultdict(float, found) | {
        "area": system.gross_m2,
        "litres": system.store.volume_l,
        "pct": 100 * found["fraction_at_use"],
        "monthly": 100 * found.get("fraction_monthly_correlation", 0.0),
        "wood": 100 * book.fractions.of_wood,
        "dusk": mean_c(18),
        "dawn": mean_c(6),
    }


def faults_tried() -> str:
    """What each fault costs the pumped coil, as the tests keep it within bands."""
    path = FOLDER / "pumped_coil.json"
    weather, design = read_weather(weather_of(path)), read_design(path)
    document = design.model_dump(mode="json")
    sound = simulate(design, weather).total(*BOUGHT)
    keys = [key for key in FAULTS if suffers(design, key)]
    cost = {}
    for key, size in sized(keys).items():
        fault = FAULTS[key]
        book = simulate(parse(faulty_document(document, {key: size}, 1)), weather)
        unit = {"delta_degC": "K", "degC": "°C", "percent": "%", "deg": "°", "W/m/K": "W/mK"}.get(
            fault.unit, fault.unit
        )
        words = f"{fault.words} {size:g} {unit}".strip() if fault.unit else fault.words
        cost[words] = book.total(*BOUGHT, acc.UNMET) - sound
    listed = "; ".join(f"{words}: {kwh:+.0f}" for words, kwh in sorted(cost.items(), key=lambda item: -item[1]))
    lead = (
        f"On the pumped coil ({sound:.0f} kWh bought when all is well), from 1 January, in kWh bought or unmet more: "
    )
    return f"## What faults cost\n\n{fill(lead + listed + '.', 116)}\n"


def main() -> None:
    parts = ["# Examples", "",
        "One document for every kind of system, with made-up climates. Each year below is printed by",
             "`./ledger simulate`; the sentences say why it is plausible.", ""]  # fmt: skip
    for kind in SCHEMES:
        path = FOLDER / f"{kind}.json"
        weather_path = weather_of(path)
        weather = read_weather(weather_path)
        book = simulate(read_design(path), weather)
        text = report(book, weather)
        year = text[: text.index("  sun_kwh")].rstrip()
        why = " ".join(WHY[kind].split()).format(**numbers(book, figures(book, weather)))
        parts += [f"## {kind}", "",
            f"`./ledger simulate docs/examples/{kind}.json --weather docs/examples/weather/{weather_path.name}`",
                  "", "```text", year, "```", "", fill(why, 116), ""]  # fmt: skip
    (FOLDER / "README.md").write_text("\n".join([*parts, faults_tried()]))


if __name__ == "__main__":
    main()
