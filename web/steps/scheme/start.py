"""A guided beginning: a few questions, two or three schemes with their years, and where the schools' answers land."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any

from django.http import HttpResponse

from heat.design import Design as DesignDocument
from heat.design.changing import with_changes
from heat.errors import HeatError, InputError
from heat.ledger import BOUGHT, YearBook
from heat.sizing.first_estimate import Proposal, School, Wishes, ideas, proposal, schools, tried, wanted
from web.accounts.requests import SignedIn
from web.projects.documents import scheme_of
from web.projects.models import Design
from web.projects.services.designs import begin_design
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.sheet.typed import pitch
from web.ui import units
from web.years.reckoned import simulate_uncached

BACKUPS = {
    "tankless_gas": "tankless heater, gas", "tankless_power": "tankless heater, electric",
    "element": "element in the store",
    "boiler": "boiler on a top coil", "stove": "wood stove", "none": "none",
}  # fmt: skip
CARES = {
    "least": "as little as can be", "yearly": "a look every year", "tinker": "I build and tinker",
}  # fmt: skip
QUESTIONS = {"tilt": "Tilt", "azimuth": "Azimuth", "store": "Store volume"}


def blank_scheme() -> dict[str, Any]:
    """The scheme of a design as it is without anyone's choices."""
    return scheme_of(DesignDocument().model_dump(mode="json"))


def _number(text: str, low: float, high: float, usual: float, quantity: str, system: str) -> tuple[float, str]:
    """A typed number in the core's unit, and what is wrong with it."""
    if not text.strip():
        return usual, ""
    ends = [units.field_text(end, quantity, system) for end in (low, high)]
    span = f"{' to '.join(ends)} {units.unit_of(quantity, system).sign}"
    try:
        value = units.kept(units.parse_number(text), quantity, system)
    except ValueError as error:
        return usual, f"{units.no_number(text, error)} Allowed: {span.strip()}."
    if not low <= value <= high:
        return usual, f"Allowed: {span.strip()}."
    return value, ""


def answers(sheet: Sheet, query: Any) -> tuple[Wishes, dict[str, Any], dict[str, str]]:
    """What was answered, the plane it gives (by path), and what is wrong by question; the survey where nothing was
    asked."""
    demand, plane, system = sheet.document["demand"], sheet.document["plane"], sheet.system
    asked = "people" in query
    backup = sheet.document["system"]["backup"]
    usual = "element" if backup["element"]["fitted"] else "boiler" if backup["boiler"]["fitted"] else "tankless_gas"
    wrong = {}
    people, wrong["people"] = _number(query.get("people", ""), 0.5, 500, demand["people"], "1", system)
    room, wrong["room"] = _number(query.get("room", ""), 1, 10_000, 1e9, "m2", system)
    tilt_text = query.get("tilt", "")
    try:
        slope = pitch(tilt_text)
    except (ValueError, ZeroDivisionError):
        slope = None
    tilt, wrong["tilt"] = (
        (slope, "") if slope is not None else _number(tilt_text, 0, 90, plane["tilt_deg"], "deg", system)
    )
    azimuth, wrong["azimuth"] = _number(query.get("azimuth", ""), 0, 360, plane["azimuth_deg"], "deg", system)
    chosen: Any = query["backup"] if query.get("backup") in BACKUPS else usual
    wishes = Wishes(
        hot_water=query.get("hot_water") == "1" if asked else demand["hot_water"],
        rooms=query.get("rooms") == "1" if asked else demand["heating"]["fitted"],
        pool=query.get("pool") == "1" if asked else demand["pool"]["fitted"],
        people=people,
        backup=chosen,
        care=query["care"] if query.get("care") in CARES else "yearly",
        room_m2=room if room < 1e9 else None,
    )
    if not (wishes.hot_water or wishes.rooms or wishes.pool):
        wrong["uses"] = "Choose something to heat; hot water is taken until then."
        wishes = replace(wishes, hot_water=True)
    key = query.get("plane", plane["on"] if not asked else "")
    surveyed = next((p for p in sheet.document["site"]["planes"] if p["key"] == key), None)
    if surveyed:
        stands = {"plane.on": key, "plane.tilt_deg": surveyed["tilt_deg"], "plane.azimuth_deg": surveyed["azimuth_deg"]}
    else:
        stands = {"plane.on": "", "plane.tilt_deg": tilt, "plane.azimuth_deg": azimuth}
    return wishes, stands, {name: text for name, text in wrong.items() if text}


def proposals(sheet: Sheet, wishes: Wishes, stands: dict[str, Any]) -> list[Proposal]:
    """The schemes that fit, each sized by its own simulated years. Raises HeatError where none can be reckoned."""
    weather = sheet.weather
    base = with_changes(sheet.document, stands)
    year = lambda document: simulate_uncached(document, weather)
    fitting = ideas(wishes, float(weather.air_c.min()))

    def made(idea: Any) -> Proposal | HeatError:
        try:
            return proposal(base, idea, wishes, year)
        except HeatError as error:
            return error

    with ThreadPoolExecutor(2) as threads:
        found = list(threads.map(made, fitting))
    good = [p for p in found if isinstance(p, Proposal)]
    if not good:
        raise next(e for e in found if isinstance(e, HeatError))
    return good


def start_view(sheet: Sheet) -> dict[str, Any]:
    """Questions, proposals side by side, and the schools' answers for the chosen one."""
    query = sheet.look.query
    wishes, stands, wrong = answers(sheet, query)
    weather = sheet.weather
    page: dict[str, Any] = {
        "wishes": wishes, "wrong": wrong, "backups": BACKUPS, "cares": CARES, "stands": stands,
        "people": query.get("people", units.field_text(wishes.people, "1", sheet.system)),
        "room": query.get("room", ""), "area_sign": sheet.sign("m2"),
        "tilt": query.get("tilt", units.field_text(stands["plane.tilt_deg"], "deg", sheet.system)),
        "azimuth": query.get("azimuth", units.field_text(stands["plane.azimuth_deg"], "deg", sheet.system)),
        "on": stands["plane.on"], "planes": sheet.document["site"]["planes"],
        "coldest": f"{sheet.show(float(weather.air_c.min()), 'degC', 0)} {sheet.sign('degC')}",
        "changes_survey": bool(wanted(sheet.document, wishes)),
    }  # fmt: skip
    try:
        found = proposals(sheet, wishes, stands)
    except HeatError as error:
        return page | {"problem": error.allowed if isinstance(error, InputError) else str(error)}
    chosen = min(max(int(query["of"]), 0), len(found) - 1) if query.get("of") in ("0", "1", "2") else 0
    best = max(found, key=lambda p: p.book.fractions.at_tap)
    page["proposals"] = [_column(sheet, p, i, p is best and len(found) > 1) for i, p in enumerate(found)]
    page["rows"] = [
        (label, [column[key] for column in page["proposals"]], key)
        for key, label in (
            ("area", "Collectors"), ("store", "Store"), ("fraction", "Solar fraction"), ("bought", "Bought a year"),
            ("yield", "Yield into store"), ("stagnation", "Stagnation"), ("money", "Money for it"),
        )
    ]  # fmt: skip
    page["of"] = chosen
    page["schools"] = _schools(sheet, found[chosen])
    return page


def _per_area(sheet: Sheet, litres_m2: float) -> str:
    """A store volume for each unit of area, without its sign."""
    return units.number(
        units.shown(litres_m2, "L", sheet.system) / units.shown(1.0, "m2", sheet.system),
        0 if sheet.system == "si" else 1,
    )


def size_words(sheet: Sheet, made: Proposal) -> list[str]:
    """Why a proposal has its sizes, in the reader's units."""
    sizes = made.sizes
    area = lambda v: f"{sheet.show(v, 'm2', 1)} {sheet.sign('m2')}"
    rule = {
        "person": f"{area(sizes.by_rule)} a person, where the rule says {sheet.show(1.0, 'm2', 1)} to {area(1.5)}",
        "pool": f"{sizes.by_rule:.2f} of the pool’s surface, where the rule says half to nine tenths",
        "rooms": f"the rule says {sheet.show(1.0, 'm2', 1)} to {area(1.5)} a person for hot water, and more for rooms",
    }[sizes.rule]
    told = [f"{sizes.count} collector{'s' if sizes.count > 1 else ''}, {area(sizes.area_m2)}: {rule}."]
    if sizes.more is not None:
        told.append(
            f"{sizes.more} instead of {sizes.count} would save {sheet.show(sizes.more_saves_kwh, 'kWh')} "
            f"{sheet.sign('kWh')} a year each, "
            f"less than half of the {sheet.show(sizes.first_saves_kwh, 'kWh')} the first ones do."
        )
    if len(sizes.litres_tried) > 1:
        others = ", ".join(_per_area(sheet, v) for v in sizes.litres_tried if v != sizes.litres_m2)
        told.append(
            f"Store of {_per_area(sheet, sizes.litres_m2)} {sheet.sign('L')}/{sheet.sign('m2')}, which does better "
            f"than {others}."
        )
    return told


def _column(sheet: Sheet, made: Proposal, index: int, best: bool) -> dict[str, Any]:
    book, design = made.book, made.book.design
    scheme = design.system.scheme
    has_store = scheme.exchange != "pool"
    collector = design.system.collector
    each = units.field_text(collector.total_gross_m2 / collector.count, "m2", sheet.system)
    volume = design.system.store.volume_l
    if design.system.kind == "bag":
        volume = design.system.collector.total_area_m2 * design.system.integral.depth_mm
    return {
        "index": index, "words": made.idea.words, "kind": design.system.kind, "best": best,
        "reasons": [*made.idea.reasons, *size_words(sheet, made)],
        "area": f"{collector.count} × {each} {sheet.sign('m2')}",
        "store": f"{sheet.show(volume, 'L', 0)} {sheet.sign('L')}" if has_store else "the pool",
        "fraction": f"{units.number(100 * book.fractions.at_tap, 1)} %",
        "bought": f"({sheet.show(book.total(*BOUGHT), 'kWh')}) {sheet.sign('kWh')}",
        "yield": f"{sheet.show(book.yield_kwh_m2()[0], 'kWh/m2')} {sheet.sign('kWh/m2')}",
        "stagnation": f"{units.number(book.stagnation_hours(), 0)} h",
        "money": f"({units.number(book.cost(), 0)}) {sheet.project.currency}",
    }  # fmt: skip


def _schools(sheet: Sheet, made: Proposal) -> list[dict[str, Any]]:
    """Each school's answer with its year, question by question; the best of each question is marked."""
    weather = sheet.weather
    answers_of = schools(made.document, sheet.document["site"]["latitude_deg"])
    with ThreadPoolExecutor(2) as threads:
        books = list(threads.map(lambda s: tried(lambda d: simulate_uncached(d, weather), s), answers_of))
    groups = []
    for question, title in QUESTIONS.items():
        mine = [(s, b) for s, b in zip(answers_of, books, strict=True) if s.question == question]
        top = max((b.fractions.at_tap for _s, b in mine if b), default=0.0)
        rows = [_school_row(sheet, s, b, top) for s, b in mine if b]
        if rows:
            groups.append({"title": title, "rows": rows})
    return groups


def _school_row(sheet: Sheet, school: School, book: YearBook, top: float) -> dict[str, Any]:
    words = school.answer
    if school.litres_m2 is not None:
        words = f"{_per_area(sheet, school.litres_m2)} {sheet.sign('L')}/{sheet.sign('m2')}, {words}"
    winter = (10, 11, 0, 1) if school.document["site"]["latitude_deg"] >= 0 else (4, 5, 6, 7)
    cold = book.fraction_by_month()[list(winter)].mean()
    return {
        "words": words, "fraction": units.number(100 * book.fractions.at_tap, 1), "winter": units.number(100 * cold, 0),
        "bought": sheet.show(book.total(*BOUGHT), "kWh"), "yield": sheet.show(book.yield_kwh_m2()[0], "kWh/m2"),
        "stagnation": units.number(book.stagnation_hours(), 0), "best": book.fractions.at_tap >= top - 5e-4,
    }  # fmt: skip


def begin(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """A design begun: the chosen proposal, or a blank scheme on the plane as it is. Undone by putting it away."""
    try:
        made = open_proposal(sheet, request.POST) if request.POST.get("do") == "open" else open_blank(sheet)
    except HeatError as error:
        return Shown(sheet=sheet.noting(f"Not done: {getattr(error, 'allowed', error)}."), step="scheme", status=422)
    return sent_to(made, "scheme")


def open_blank(sheet: Sheet) -> Design:
    """A scheme without anyone's choices as a design of its own. Raises HeatError."""
    scheme = {**blank_scheme(), "plane": sheet.design.scheme["plane"]}
    return begin_design(
        design=sheet.design, author=sheet.user, name="blank scheme", note="", document=scheme, wanted={}
    )


def open_proposal(sheet: Sheet, query: Any) -> Design:
    """Make the chosen proposal a design of its own; what it asks of the survey is one edit. Raises HeatError."""
    wishes, stands, _wrong = answers(sheet, query)
    found = proposals(sheet, wishes, stands)
    made = found[min(int(query.get("proposal")), len(found) - 1) if query.get("proposal") in ("0", "1", "2") else 0]
    reasons = " ".join((*made.idea.reasons, *size_words(sheet, made)))
    return begin_design(
        design=sheet.design, author=sheet.user, name=made.idea.words, note=f"First estimate. {reasons}",
        document=made.document, wanted=wanted(sheet.document, wishes),
    )  # fmt: skip
