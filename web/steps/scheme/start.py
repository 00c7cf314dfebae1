"""A guided beginning: a few questions, three schemes with their years, what else fits and what does not, and where the
answers of the rules of thumb land."""

from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from math import isfinite
from typing import Any

from django.http import HttpResponse

from heat.design import Design as DesignDocument
from heat.design.changing import with_changes
from heat.design.needs import PoolUse
from heat.design.schemes import SCHEMES
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, NEEDED, YearBook
from heat.sizing.first_estimate import Guideline, Proposal, at_area, guidelines, proposal, tried
from heat.sizing.fitting import Idea, fitting
from heat.sizing.requirements import Wishes, wanted
from heat.studies.merit import measure, usual
from heat.weather.cold import cold_of
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.presentation.band import widened
from web.presentation.kinds import KINDS
from web.projects.documents import scheme_of
from web.projects.models import Design
from web.projects.services.designs import begin_design
from web.simulations.cache import simulate_uncached
from web.simulations.rough import fraction_band, is_rough, sun_uncertainty_text
from web.steps.scheme.questions import answers, questions
from web.ui import units
from web.ui.rows import Row

COLUMNS = 3
"""Schemes shown side by side, each sized by its own years."""
QUESTIONS = {"tilt": "Tilt", "azimuth": "Azimuth", "store": "Store volume"}


def blank_scheme() -> dict[str, object]:
    """The scheme of a design as it is without anyone's choices."""
    return scheme_of(DesignDocument().model_dump(mode="json"))


def ordered(page: DesignPage, wishes: Wishes, first: str) -> tuple[list[Idea], list[dict[str, str]]]:
    """Ideas that fit, the one asked for leading, and what was left out with the reason."""
    fit, left = fitting(wishes, cold_of(page.weather).safe_from_c)
    fit.sort(key=lambda idea: _named(idea) != first)
    return fit, [{"name": KINDS[one.kind], "why": one.why} for one in left]


def _named(idea: Idea) -> str:
    """An idea by kind and collector: a kind may have several."""
    return f"{idea.kind}-{idea.collector}"


def _years(page: DesignPage, make: Any, ideas: list[Idea]) -> list[Any]:
    """What is made of each idea, two at a time; an error where nothing can be calculated."""

    def made(idea: Idea) -> Any:
        try:
            return make(idea)
        except HeatError as error:
            return error

    with ThreadPoolExecutor(2) as threads:
        return list(threads.map(made, ideas))


def proposals(page: DesignPage, wishes: Wishes, stands: dict[str, object], first: str = "") -> list[Proposal]:
    """The schemes that fit best, each sized by its own simulated years. Raises HeatError where none "
    "can be calculated."""
    weather, base = page.weather, with_changes(page.document, stands)
    year = lambda document: simulate_uncached(document, weather)
    fit, _left = ordered(page, wishes, first)
    found = _years(page, lambda idea: proposal(base, idea, wishes, year), fit[:COLUMNS])
    good = [p for p in found if isinstance(p, Proposal)]
    if not good:
        raise next(e for e in found if isinstance(e, HeatError))
    return good


def also_fitting(
    page: DesignPage, wishes: Wishes, stands: dict[str, object], ideas: list[Idea], area_m2: float
) -> list[dict[str, object]]:
    """What else fits, each with one year on about the area (m²) of the first proposal."""
    weather, base = page.weather, with_changes(page.document, stands)
    books = _years(page, lambda i: simulate_uncached(at_area(base, i, wishes, area_m2), weather), ideas)
    return [
        {
            "name": _named(idea),
            "words": idea.words,
            "why": idea.reasons[0],
            "fraction": units.number(100 * book.fractions.at_tap, 0),
            "bought": page.show(book.total(*BOUGHT), "kWh"),
        }
        for idea, book in zip(ideas, books, strict=True)
        if isinstance(book, YearBook)
    ]


def start_view(page: DesignPage) -> dict[str, object]:
    """Questions, proposals side by side, what else fits, and the answers of the rules of thumb for the chosen one."""
    query = page.state.query
    wishes, valid, wrong = answers(page, query)
    weather, file = page.weather, page.project.weather
    first = query.get("with", "")[:40]
    context: dict[str, object] = {
        "wishes": wishes,
        "wrong": wrong,
        "wrong_where": [wrong[name] for name in ("tilt", "azimuth", "room", "pipe", "floors") if name in wrong],
        "stands": valid,
        "with": first,
        **questions(page, query, wishes, valid),
        "coldest": f"{page.show(cold_of(weather).safe_from_c, 'degC', 0)} {page.sign('degC')}",
        "rough": sun_uncertainty_text(file) if is_rough(file) else "",
        "made_up": file.made_up,
        "weather": file.name,
    }
    try:
        found = proposals(page, wishes, valid, first)
    except HeatError as error:
        return context | {"problem": units.words(getattr(error, "allowed", str(error)), page.system)}
    chosen = min(max(int(query["of"]), 0), len(found) - 1) if query.get("of") in ("0", "1", "2") else 0
    fit, left = ordered(page, wishes, first)
    best = max(found, key=_value_of)
    columns = [_column(page, p, i, p is best and len(found) > 1) for i, p in enumerate(found)]
    return context | {
        "proposals": columns,
        "rows": _rows(columns),
        "of": chosen,
        "left": left,
        "guidelines": _guidelines(page, found[chosen]),
        "degree_sign": page.sign("degC"),
        "by_warmth": usual(found[chosen].book.design) == "pool",
        "others": also_fitting(page, wishes, valid, fit[COLUMNS:], found[0].sizes.area_m2),
        "beside": f"{page.show(found[0].sizes.area_m2, 'm2', 1)} {page.sign('m2')}",
        "changes_survey": bool(wanted(page.document, wishes, found[chosen].idea.kind)),
    }


def _value_of(made: Proposal) -> float:
    """How good a proposal is by what its need is about: the sun's share, or how warm it makes a pool."""
    return measure(made.book, "pool") if usual(made.book.design) == "pool" else made.book.fractions.at_tap


def unheated_c(page: DesignPage, book: YearBook) -> float:
    """Mean temperature of the pool in its season if nothing flowed through the collectors (°C)."""
    document = book.design.model_dump(mode="json")
    without = with_changes(document, {"system.faults.air_lock": True, "system.faults.from_day": 1})
    return measure(simulate_uncached(without, page.weather), "pool")


def _rows(columns: list[Row]) -> list[tuple[str, list[str], str]]:
    """The figures of the proposals, line by line; lines that say nothing are left out."""
    lines = (
        ("area", "Collectors"),
        ("store", "Store"),
        ("fraction", "Solar fraction"),
        ("band", "with this rough climate"),
        ("bought", "Bought a year"),
        ("missing", "Unmet a year"),
        ("wood", "of it, own wood besides"),
        ("pool", "Pool in season, mean"),
        ("warmer", "above the unheated pool"),
        ("yield", "Yield into store"),
        ("stagnation", "Stagnation"),
        ("money", "Cost of it"),
    )
    rows = [(label, [column[key] for column in columns], key) for key, label in lines]
    return [row for row in rows if any(row[1])]


def _per_area(page: DesignPage, litres_m2: float) -> str:
    """A store volume for each unit of area, without its sign."""
    return units.number(
        units.to_display(litres_m2, "L", page.system) / units.to_display(1.0, "m2", page.system),
        0 if page.system == "si" else 1,
    )


def size_words(page: DesignPage, made: Proposal) -> list[str]:
    """Why a proposal has its sizes, in the reader's units."""
    sizes = made.sizes
    area = lambda v: f"{page.show(v, 'm2', 1)} {page.sign('m2')}"
    rule = {
        "person": f"{area(sizes.by_rule)} a person, where the rule says {page.show(1.0, 'm2', 1)} to {area(1.5)}",
        "pool": f"{units.number(sizes.by_rule, 2)} of the pool’s surface, where the rule says half to nine tenths",
        "several": "several uses at once, so the years alone decide, not a rule",
        "rooms": f"the rule says {page.show(1.0, 'm2', 1)} to {area(1.5)} a person for hot water, and more for rooms",
    }[sizes.rule]
    sentences = [f"{sizes.count} collector{'s' if sizes.count > 1 else ''}, {area(sizes.area_m2)}: {rule}."]
    grown = ", the store growing with them," if SCHEMES[made.idea.kind].exchange != "pool" else ""
    if sizes.more is not None:
        sentences.append(
            f"{sizes.more} instead of {sizes.count}{grown} would save {page.show(sizes.more_saves_kwh, 'kWh')} "
            f"{page.sign('kWh')} a year each, "
            f"less than half of the {page.show(sizes.first_saves_kwh, 'kWh')} the first ones do."
        )
    if len(sizes.litres_tried) > 1:
        others = ", ".join(_per_area(page, v) for v in sizes.litres_tried if v != sizes.litres_m2)
        sentences.append(
            f"Store of {_per_area(page, sizes.litres_m2)} {page.sign('L')}/{page.sign('m2')}, which does better "
            f"than {others}."
        )
    return sentences


def _column(page: DesignPage, made: Proposal, index: int, best: bool) -> Row:
    book, design = made.book, made.book.design
    scheme = design.system.scheme
    has_store = scheme.exchange != "pool"
    collector = design.system.collector
    each = units.field_text(collector.total_gross_m2 / collector.count, "m2", page.system)
    volume = design.system.store.volume_l
    if design.system.kind == "bag":
        volume = design.system.collector.total_area_m2 * design.system.integral.depth_mm
    by_warmth = usual(design) == "pool"
    band = None if by_warmth else fraction_band(book, page.project.weather)
    band = widened(book, page.weather, *band) if band else None
    missing = book.total(acc.UNMET)
    pool, cold_c = design.demand.pool, unheated_c(page, book) if by_warmth else 0.0
    enough = [_warm_enough(page, pool, cold_c)] if by_warmth and cold_c >= pool.set_c else []
    return {
        "index": index,
        "words": made.idea.words,
        "kind": design.system.kind,
        "best": best,
        "reasons": [*enough, *made.idea.reasons, *size_words(page, made)],
        "area": f"{collector.count} × {each} {page.sign('m2')}",
        "store": f"{page.show(volume, 'L', 0)} {page.sign('L')}" if has_store else "the pool",
        "fraction": "" if by_warmth else f"{units.number(100 * book.fractions.at_tap, 1)} %",
        "wood": f"{units.number(100 * book.fractions.of_wood, 1)} %" if book.fractions.of_wood > 0.0005 else "",
        "band": f"{units.number(100 * band[0], 0)} to {units.number(100 * band[1], 0)} %" if band else "",
        "bought": f"({page.show(book.total(*BOUGHT), 'kWh')}) {page.sign('kWh')}",
        "missing": f"({page.show(missing, 'kWh')}) {page.sign('kWh')}" if missing > 1.0 else "",
        "pool": f"{page.show(_pool_mean(book), 'degC', 1)} {page.sign('degC')}" if pool.fitted else "",
        "warmer": _warmer(page, book, cold_c) if by_warmth else "",
        "yield": f"{page.show(book.yield_kwh_m2()[0], 'kWh/m2')} {page.sign('kWh/m2')}",
        "stagnation": f"{units.number(book.stagnation_hours(), 0)} h",
        "money": f"({units.number(book.cost(), 0)}) {page.project.currency}",
    }


def _pool_mean(book: YearBook) -> float:
    """Mean temperature of the pool while it is in use (°C)."""
    mean = measure(book, "pool")
    return mean if isfinite(mean) else 0.0


def _warmer(page: DesignPage, book: YearBook, cold_c: float) -> str:
    """How much warmer than unheated a pool is in its season."""
    return f"{page.show(measure(book, 'pool') - cold_c, 'delta_degC', 1)} {page.sign('delta_degC')}"


def _warm_enough(page: DesignPage, pool: PoolUse, cold_c: float) -> str:
    """That a pool is as warm as wanted without any collector (its mean then in °C), and what collectors are for."""
    at = lambda celsius: f"{page.show(celsius, 'degC', 1)} {page.sign('degC')}"
    covered = ", covered as it is," if any(pool.covered) else ""
    return (
        f"Without any collector{covered} this pool is {at(cold_c)} on the mean of its season, where {at(pool.set_c)} "
        "is wanted: collectors only lengthen the season and warm its cool weeks."
    )


def _guidelines(page: DesignPage, made: Proposal) -> list[Row]:
    """Each rule's answer with its year, question by question; the best of each question is marked."""
    weather = page.weather
    answers_of = guidelines(made.document, page.document["site"]["latitude_deg"])
    with ThreadPoolExecutor(2) as threads:
        books = list(threads.map(lambda s: tried(lambda d: simulate_uncached(d, weather), s), answers_of))
    by_warmth = usual(made.book.design) == "pool"
    cold = unheated_c(page, made.book) if by_warmth else 0.0
    groups = []
    for question, title in QUESTIONS.items():
        mine = [(s, b) for s, b in zip(answers_of, books, strict=True) if s.question == question]
        value_of = (lambda b: measure(b, "pool")) if by_warmth else (lambda b: b.fractions.at_tap)
        top = max((value_of(b) for _s, b in mine if b), default=0.0)
        rows = [
            _guideline_row(page, s, b)
            | {"best": value_of(b) >= top - 5e-4}
            | (_warmth(page, b, cold) if by_warmth else {})
            for s, b in mine
            if b
        ]
        if rows:
            groups.append({"title": title, "rows": rows})
    return groups


def _warmth(page: DesignPage, book: YearBook, cold_c: float) -> Row:
    """A pool's warmth in its season, and above the unheated one: in place of the sun's share, which is always whole."""
    return {"fraction": page.show(measure(book, "pool"), "degC", 1), "winter": _warmer(page, book, cold_c)}


def _guideline_row(page: DesignPage, guideline: Guideline, book: YearBook) -> Row:
    words = guideline.answer
    if guideline.litres_m2 is not None:
        words = f"{_per_area(page, guideline.litres_m2)} {page.sign('L')}/{page.sign('m2')}, {words}"
    winter = (10, 11, 0, 1) if guideline.document["site"]["latitude_deg"] >= 0 else (4, 5, 6, 7)
    heated_in_winter = book.by_month(*NEEDED)[list(winter)].sum() > 0.1
    cold = book.fraction_by_month()[list(winter)].mean()
    return {
        "words": words,
        "fraction": units.number(100 * book.fractions.at_tap, 1),
        "winter": units.number(100 * cold, 0) if heated_in_winter else "–",
        "bought": page.show(book.total(*BOUGHT), "kWh"),
        "yield": page.show(book.yield_kwh_m2()[0], "kWh/m2"),
        "stagnation": units.number(book.stagnation_hours(), 0),
    }


def begin(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """A design begun: the chosen proposal, or a blank scheme on the plane as it is. Undone by putting it away."""
    try:
        made = open_proposal(page, request.POST) if request.POST.get("do") == "open" else open_blank(page)
    except HeatError as error:
        return PageResult(
            page=page.with_note(f"Not done: {getattr(error, 'allowed', error)}."), step="scheme", status=422
        )
    return sent_to(made, "scheme")


def open_blank(page: DesignPage) -> Design:
    """A scheme without anyone's choices as a design of its own. Raises HeatError."""
    scheme = {**blank_scheme(), "plane": page.design.scheme["plane"]}
    return begin_design(design=page.design, author=page.user, name="blank scheme", note="", document=scheme, wanted={})


def open_proposal(page: DesignPage, query: Mapping[str, str]) -> Design:
    """Make the chosen proposal a design of its own; what it asks of the survey is one edit. Raises HeatError."""
    wishes, valid, _wrong = answers(page, query)
    found = proposals(page, wishes, valid, query.get("with", "")[:40])
    chosen = int(query["proposal"]) if query.get("proposal") in ("0", "1", "2") else 0
    made = found[min(chosen, len(found) - 1)]
    reasons = " ".join((*made.idea.reasons, *size_words(page, made)))
    return begin_design(
        design=page.design,
        author=page.user,
        name=made.idea.words,
        note=f"First estimate. {reasons}",
        document=made.document,
        wanted=wanted(page.document, wishes, made.idea.kind),
    )
