"""Odd values in every address and form of scheme, year and catalogue: a page or a refusal, never a traceback."""

import random

from web.projects.tests.helpers import DeskCase

HTMX = {"HX-Request": "true"}
ODD = (
    "",
    "x",
    "²",
    "٣",
    "-1",
    "-0",
    "1e9",
    "1e308",
    "NaN",
    "inf",
    "\0",
    "'; --",
    "9" * 400,
    "{}",
    "[]",
    "null",
    "1:0",
    "0:0",
    "31 Feb",
    "own_1",
    "²:1",
)
PLAIN = ("1", "start", "books", "mistakes", "shape", "loop", "add", "collector", "dirt", "7")
ADDRESSES = {
    "scheme": (
        "view",
        "people",
        "tilt",
        "azimuth",
        "room",
        "plane",
        "backup",
        "care",
        "of",
        "part",
        "instead",
        "fold",
        "day",
        "hour",
        "against",
    ),
    "year": (
        "view",
        "q",
        "m",
        "from",
        "find",
        "guess",
        "day",
        "hour",
        "span",
        "start",
        "t",
        "ask",
        "date",
        "table",
        "s-dirt",
        "s-high",
    ),
    "days.csv": ("day", "span", "start", "t"),
    "values": ("q",),
    "steps": ("part", "instead"),
    "play": ("day",),
}
CHOICES = ("entry coil smooth_1", "entry coil own_²", "switch sail", "switch element", "kind bag", "kind")
CHANGES = (
    '{"system.kind": "bag"}',
    '{"plane": 5}',
    '{"system.used": [1]}',
    '{"site.planes.0.key": "x"}',
    '{"demand": null}',
    '{"weather": null}',
    '{"weather": "x"}',
    '{"weather": 1}',
    '{"system.store.volume_l": [300]}',
    '{"": 1}',
    '{"version": 9}',
)
BENCH = (
    "covers",
    "coating",
    "area_m2",
    "emittance",
    "tubes",
    "tube_inner_mm",
    "flow_kg_h",
    "cutoff_um",
    "glycol_percent",
    "tilt_deg",
    "perimeter_m",
    "cover_transmittance",
    "bond_w_mk",
    "back_mm",
)
ENTRY = (
    "name",
    "source",
    "dated",
    "family",
    "eta0",
    "ua_w_k",
    "bottom_share",
    "volume_l",
    "drive.rule",
    "iam",
    "iam_table",
    "material",
    "outer_diameter_mm",
)


class OddInput(DeskCase):
    def setUp(self):
        super().setUp()
        self.random = random.Random(3)

    def odd(self, *more):
        return self.random.choice((*ODD, *more))

    def bears(self, answer, *about):
        self.assertLess(answer.status_code, 500, about)

    def test_addresses(self):
        for _ in range(150):
            page, names = self.random.choice(list(ADDRESSES.items()))
            query = {name: self.odd(*PLAIN) for name in self.random.sample(names, min(3, len(names)))}
            self.bears(self.client.get(self.url(page), query), page, query)

    def test_choices_and_designs(self):
        for _ in range(60):
            form = {"preset": self.odd(*CHOICES), "screen": self.odd("scheme", "year")}
            self.bears(self.client.post(self.url("choose"), form, headers=HTMX), form)
            form = {"changes": self.odd(*CHANGES), "screen": "scheme"}
            self.bears(self.client.post(self.url("choose"), form, headers=HTMX), form)
            form = {
                name: self.odd("open", "version", "left", "keep", "return")
                for name in ("do", "proposal", "note", "name", "people", "version")
            }
            self.bears(self.client.post(self.url("designs"), form, headers=HTMX), form)

    def test_weather_has_its_own_entrance(self):
        before = self.project.weather_id
        for text in ('{"weather": null}', '{"weather": "x"}', f'{{"weather": {before}}}'):
            answer = self.client.post(self.url("choose"), {"changes": text, "screen": "scheme"}, headers=HTMX)
            self.assertEqual(answer.status_code, 422)
        self.project.refresh_from_db()
        self.assertEqual(self.project.weather_id, before)

    def test_bench_and_catalogue(self):
        for _ in range(60):
            query = {name: self.odd() for name in self.random.sample(BENCH, 4)}
            self.bears(self.client.get("/catalogue/builder", query), query)
            self.bears(self.client.post("/catalogue/builder/keep", {**query, "name": self.odd()}), query)
            group = self.random.choice(("collector", "coil", "store", "pump", "heater", "pipe"))
            form = {name: self.odd() for name in ENTRY} | {"text": f"name,eta0\n{self.odd()},{self.odd()}"}
            for tail in ("save", "table"):
                self.bears(self.client.post(f"/catalogue/{group}/{tail}", form), group, tail, form)
            self.assertEqual(self.client.post(f"/catalogue/{group}/away", {"pk": self.odd()}).status_code, 404)
        for query in ({"kind": "x"}, {"month": "x", "tilt": "nan"}, {"tilt": "1e9", "project": "²"}):
            self.bears(self.client.get("/catalogue/standing", query), query)
