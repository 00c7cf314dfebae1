"""What a page shows: one design's document and year, in the reader's units, with refusals in place."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, get_args, get_origin

from heat.common.documents import value_at
from heat.design import Design as CoreDesign
from heat.design import bounds, field_at
from heat.design import parse as parse_document
from heat.design.money import Old
from heat.economics.tariff import with_old_heaters
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT
from heat.sizing.circuit import PipeSize
from heat.sizing.pipe_tables import Norm, SoldPipe
from heat.weather.year import WeatherYear
from web.accounts.models import User
from web.editor.fields import CHOICE_WORDS, Field, Refusal, expected_text, pairs_text, spans_text
from web.editor.typed import COMPASS, DATES, PAIR_SAMPLES, PAIR_UNITS, PAIRS, ROW_WORDS, declination, quantity_of
from web.editor.view_state import PLAIN, ViewState, parse
from web.projects.documents import surveyed_path
from web.projects.models import Design, Upload, Version, WeatherFile
from web.projects.old_heaters import old_heaters_of
from web.projects.permissions import Need, may, need_of, right_of
from web.simulations.cache import SimulatedYear, simulate
from web.simulations.tallies import Tallied, saved, tallied
from web.simulations.weather import weather_year
from web.ui import units
from web.ui.calendar import WEEKDAYS
from web.ui.money import amount_text, currencies, sign_of
from web.ui.rows import Row

PRICED = ("money", "1/kWh", "1/m3")
"""Units that begin with the sign of the project's currency."""


def _none_words(path: str) -> str:
    """What stands in an empty field: where its value comes from."""
    if path.startswith("money.old."):
        return "as drawn"
    if path.endswith((".price_kwh", ".co2_kg_kwh")):
        return "the project’s"
    return "as now" if "after" in path or ".before." in path else "calculated"


@dataclass(frozen=True)
class DesignPage:
    """One design as one person sees it. What an action has to say comes with it: refusals by path, a note, things
    handed on."""

    design: Design
    user: User
    state: ViewState = PLAIN
    refusals: Mapping[str, Refusal] = field(default_factory=dict)
    note: str = ""
    given: Mapping[str, Any] = field(default_factory=dict)
    units: str = ""
    """Units asked for, where they are not the person's own."""
    displayed_paths: set[str] = field(default_factory=set)
    """Paths the page drawn so far shows: the one thing written while a page is drawn."""

    def refused(self, path: str, refusal: Refusal) -> "DesignPage":
        """The same page with a value not taken."""
        return replace(self, refusals={**self.refusals, path: refusal}, displayed_paths=set())

    def of(self, design: Design) -> "DesignPage":
        """A fresh page of a design, such as this one after an edit, as the same person sees it."""
        return DesignPage(design, self.user, self.state)

    def with_note(self, note: str) -> "DesignPage":
        """The same page with something said above it."""
        return replace(self, note=note, displayed_paths=set())

    def with_state(self, state: ViewState) -> "DesignPage":
        """The same design seen otherwise."""
        return replace(self, state=state, displayed_paths=set())

    def at(self, view: str) -> "DesignPage":
        """The same design in another view."""
        stored = tuple((name, value) for name, value in self.state.requested if name != "view")
        return self.with_state(parse((*stored, ("view", view))))

    def with_given(self, **given: Any) -> "DesignPage":
        """The same page with things an action hands on to its page."""
        return replace(self, given={**self.given, **given}, displayed_paths=set())

    @property
    def project(self) -> Any:
        return self.design.project

    @cached_property
    def system(self) -> str:
        """Units of the page: those it was asked in, else its reader's."""
        return self.units or self.user.units

    @cached_property
    def document(self) -> Row:
        return self.design.document()

    @cached_property
    def parsed(self) -> CoreDesign:
        """The document as the core reads it, with what is on its papers, measured against the project's house without
        solar; the year's own may hold older papers. Raises HeatError."""
        return parse_document(self.compared)

    @cached_property
    def old_heaters(self) -> Old:
        """The heaters of the house without solar that every design of the project is measured against. Raises
        HeatError."""
        return old_heaters_of(self.design)

    @cached_property
    def compared(self) -> Row:
        """The document with those heaters. Raises HeatError."""
        return with_old_heaters(self.document, self.old_heaters)

    @cached_property
    def weather(self) -> WeatherYear:
        """The weather year in use."""
        return weather_year(self.project.weather)

    @cached_property
    def year(self) -> SimulatedYear:
        return simulate(self.parsed, self.project.weather)

    @cached_property
    def simulates(self) -> bool:
        """False for a document that the core refuses, such as one kept by an older version."""
        try:
            return bool(self.year)
        except HeatError:
            return False

    @cached_property
    def version(self) -> Version | None:
        return self.versions[0] if self.versions else None

    @cached_property
    def versions(self) -> list[Version]:
        """Saved versions of the design, newest first, without their documents."""
        return list(self.design.versions.order_by("-at").defer("document")[:50])

    @cached_property
    def base(self) -> Tallied | None:
        """The tally of the saved version's year, calculated anew: inputs are kept, never results."""
        if self.version is None:
            return None
        try:
            same = self.version.weather_id == self.project.weather_id
            return tallied(self.design, self.version, self.project.weather if same else self.version.weather)
        except HeatError:
            return None

    @cached_property
    def edits_since(self) -> int:
        """Edits that stand between the saved version and now; 0 when the documents are alike."""
        if self.version is None:
            return 0
        same = saved(self.version) == self.document
        if same and self.version.weather_id == self.project.weather_id:
            return 0
        return max(abs(self.project.revision - self.version.revision), 1)

    @cached_property
    def against(self) -> Design | None:
        """The other design of the project that this one is held against, if there is one by that letter."""
        if not self.state.against:
            return None
        return self.project.designs.filter(letter=self.state.against).exclude(pk=self.design.pk).first()

    @cached_property
    def compared_weather(self) -> WeatherFile | None:
        """The weather year looked at beside the one in use."""
        return self.project.weather_files.filter(pk=self.state.weather).first() if self.state.weather else None

    @cached_property
    def upload(self) -> Upload | None:
        """The table whose columns are being named: as an action hands it on, else by the address."""
        given: Upload | None = self.given.get("upload")
        if given or not self.state.upload:
            return given
        return self.project.uploads.filter(pk=self.state.upload).first()

    @property
    def undoable(self) -> bool:
        return self.project.cursor > 0

    @property
    def redoable(self) -> bool:
        return self.project.undone > 0

    def sign(self, quantity: str) -> str:
        return units.unit_of(quantity, self.system).sign

    def show(self, value: float, quantity: str, decimals: int | None = None) -> str:
        places = units.places_of(value, quantity, self.system) if decimals is None else decimals
        return units.number(units.to_display(value, quantity, self.system), places)

    @property
    def pipe_norm(self) -> Norm:
        """Whose pipe sizes the reader buys: nominal inches go with US units."""
        return "ASTM" if self.system == "us" else "EN"

    def pipe_text(self, pipe: SoldPipe | PipeSize) -> str:
        """A pipe by the name it is sold under."""
        return pipe.nominal or f"{units.field_text(pipe.outer_mm, 'mm', self.system)} {self.sign('mm')}"

    @property
    def currency(self) -> str:
        """The sign of the project's currency."""
        return sign_of(self.document["money"]["currency"])

    def money(self, value: float, decimals: int = 0) -> str:
        """An amount with the sign of the project's currency."""
        return amount_text(float(value), self.document["money"]["currency"], decimals)

    @cached_property
    def right(self) -> str:
        """The most the reader may with the project."""
        return right_of(self.user, self.project)

    def may(self, need: Need) -> bool:
        """Whether the reader may so much."""
        return may(self.user, need, self.project)

    def may_set(self, path: str) -> bool:
        """Whether the reader may change the value at a path."""
        return self.right in ("edit", "own") or self.may(need_of([surveyed_path(self.document, path)]))

    def field(self, path: str, label: str = "") -> Field:
        """The editable value at a path, with its unit, range and any refusal."""
        displayed, path = path, path.removesuffix(COMPASS)
        value = value_at(self.document, path)
        item = field_at(path)
        quantity = quantity_of(path)
        refusal = self.refusals.get(displayed)
        self.displayed_paths.add(displayed)
        common: Row = {
            "path": displayed,
            "label": label or item.title or path,
            "expected": expected_text(value),
            "refusal": refusal,
            "closed": not self.may_set(path),
        }
        if path in PAIRS or path in DATES:
            paired = path in PAIRS
            written = pairs_text(value, PAIRS[path], PAIR_UNITS[path], self.system) if paired else spans_text(value)
            return Field(
                **common,
                kind="pairs" if path in PAIRS else "text",
                text=refusal.typed if refusal else written,
                sign="",
                none=PAIR_SAMPLES[path][self.system == "us"] if path in PAIRS else "",
            )
        if isinstance(value, bool):
            return Field(**common, kind="switch", text="1" if value else "", sign="")
        options = get_args(item.annotation) if get_origin(item.annotation) is not None else ()
        if options and all(isinstance(o, str | int) for o in options):
            words = tuple((str(o), CHOICE_WORDS.get(str(o), str(o))) for o in options)
            return Field(**common, kind="choice", text=str(value), sign=self.sign(quantity), choices=words)
        if path in ROW_WORDS:
            row = " ".join(units.field_text(v, quantity, self.system) for v in value or ())
            return Field(
                **common,
                kind="pairs",
                text=refusal.typed if refusal else row,
                sign=self.sign(quantity),
                none="one value all year",
            )
        if path == "money.currency":
            return Field(**common, kind="choice", text=str(value), sign="", choices=currencies())
        if path.endswith("first_weekday"):
            days = tuple((str(n), name) for n, name in enumerate(WEEKDAYS))
            return Field(**common, kind="choice", text=str(value), sign="", choices=days)
        if isinstance(value, str):
            return Field(**common, kind="text", text=refusal.typed if refusal else value, sign="")
        if displayed != path:
            value = (value - declination(self.document["site"])) % 360.0
        unit = units.unit_of(quantity, self.system)
        low, high = bounds(path)
        text = "" if value is None else units.field_text(value, quantity, self.system)
        return Field(
            **common,
            kind="number",
            text=refusal.typed if refusal else text,
            sign=f"{self.currency}{unit.sign}" if quantity in PRICED else unit.sign,
            low="" if low is None else units.field_text(low, quantity, self.system),
            high="" if high is None else units.field_text(high, quantity, self.system),
            step=f"{unit.step:g}" if "count" not in path and "people" not in path else "1",
            empty=type(None) in options,
            none=_none_words(path),
        )

    def label_of(self, path: str) -> str:
        """What the value at a path is called on its page; empty where no field can show it, or none any more."""
        try:
            value_at(self.document, path.removesuffix(COMPASS))
            title = field_at(path.removesuffix(COMPASS)).title
        except (KeyError, ValueError):
            return ""
        return title or ""

    def range_text(self, path: str) -> str:
        """The allowed range in the reader's units: what a refusal says."""
        low, high = bounds(path)
        if low is None or high is None:
            return ""
        a, b = (units.field_text(v, quantity_of(path), self.system) for v in (low, high))
        return f"{a} to {b} {self.sign(quantity_of(path))}".strip()

    @cached_property
    def bought_kwh(self) -> float:
        return self.year.book.total(*BOUGHT)

    @cached_property
    def unmet_kwh(self) -> float:
        return self.year.book.total(acc.UNMET)

    @property
    def fraction_text(self) -> str:
        if not self.simulates:
            return "not calculated"
        return units.number(100 * self.year.book.fractions.at_tap, 1)

    @property
    def bought_text(self) -> str:
        if not self.simulates:
            return ""
        return self.show(self.bought_kwh, "kWh")

    @property
    def what(self) -> str:
        """One line of what the project is."""
        latitude = self.document["site"]["latitude_deg"]
        side = "N" if latitude >= 0 else "S"
        if not self.simulates:
            return f"{units.number(abs(latitude), 1)}° {side}"
        design = self.year.book.design
        litres = f"{self.show(design.demand.litres_per_day, 'L', 0)} {self.sign('L')}"
        tap = f"{self.show(design.demand.tap_c, 'degC', 0)} {self.sign('degC')}"
        return f"{units.number(abs(latitude), 1)}° {side} · {litres} a day at {tap}"

    def untold(self) -> list[Refusal]:
        """Refusals whose value the page drawn so far does not show; each is handed out once."""
        found = [refusal for path, refusal in self.refusals.items() if path not in self.displayed_paths]
        self.displayed_paths.update(self.refusals)
        return found

    @property
    def energy_sign(self) -> str:
        return self.sign("kWh")

    @property
    def litre_sign(self) -> str:
        return self.sign("L")

    @property
    def temperature_sign(self) -> str:
        return self.sign("degC")

    @property
    def sun_sign(self) -> str:
        return self.sign("kWh/m2")

    @property
    def irradiance_sign(self) -> str:
        return self.sign("W/m2")

    @property
    def wind_sign(self) -> str:
        return self.sign("m/s")

    @property
    def area_sign(self) -> str:
        return self.sign("m2")

    @property
    def weight_sign(self) -> str:
        return self.sign("kg")

    @property
    def load_sign(self) -> str:
        return self.sign("kg/m2")

    @property
    def azimuth_text(self) -> str:
        return f"{self.document['plane']['azimuth_deg']:.0f}"

    @property
    def has_tankless(self) -> bool:
        return bool(self.document["system"]["backup"]["tankless"]["fitted"])

    @property
    def has_element(self) -> bool:
        return bool(self.document["system"]["backup"]["element"]["fitted"])
