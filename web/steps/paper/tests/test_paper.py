"""Paper: a report says what the screen says, is frozen when issued, and a client reads it and nothing else."""

import io
from datetime import timedelta
from pathlib import Path
from subprocess import run
from unittest.mock import patch
from xml.etree import ElementTree

from django.test import Client
from django.utils import timezone
from openpyxl import load_workbook
from PIL import Image
from weasyprint.urls import FatalURLFetchingError

from heat.design import Design, parse
from heat.design.schemes import SCHEMES
from heat.ledger.year_book import BOUGHT
from heat.sizing.vessel import expansion_vessel
from web.editor.tests.helpers import DesignPageCase, figure
from web.prices.books import set_prices
from web.projects.tests.helpers import HTMX
from web.reports.models import Report
from web.reports.pdf import render_pdf
from web.reports.services import letterhead_of, print_issued, rendered_again
from web.steps.paper.commissioning import checks
from web.steps.paper.compose import composed, design_pages, report_request, report_view
from web.steps.paper.on_site import feasible, sun, valve_rows
from web.steps.paper.sections import SECTIONS, _list_text, _unusual, key_figures, months, offer, parts, unusual
from web.ui.tests.browser import DemoCase


def png(wide=40, high=20, kind="PNG"):
    out = io.BytesIO()
    Image.new("RGB", (wide, high), "#1B4F7A").save(out, kind)
    out.seek(0)
    out.name = f"logo.{kind.lower()}"
    return out


class Certificates(DesignPageCase):
    def test_a_certificate_is_added_stands_on_the_list_and_what_is_missing_is_named(self):
        files = self.url("paper?view=files")
        self.assertContains(
            self.client.get(files), "No certificate is known of: collector (usually tested by EN ISO 9806)"
        )
        row = {"path": "safety.certificates", "preset": "next", "screen": "paper", "here": "view=files"}
        self.client.post(self.url("rows"), row, headers=HTMX)
        self.assertEqual(self.document()["safety"]["certificates"][0]["standard"], "EN ISO 9806")
        self.edit("safety.certificates.0.number", "MC 011-7S")
        self.edit("safety.certificates.0.dated", "2025-04")
        page = self.page()
        collector = parts(page)["groups"][0]["rows"][0]
        self.assertEqual(collector["certificate"], "MC 011-7S, EN ISO 9806, 2025-04")
        self.assertTrue(parts(page)["missing"].startswith("No certificate is known of: store"))
        self.client.post(self.url("rows"), row, headers=HTMX)
        self.assertEqual(self.document()["safety"]["certificates"][1]["of"], "store")
        self.client.post(self.url("rows"), {"path": "money.grants", "preset": "sum", "screen": "money"}, headers=HTMX)
        self.assertContains(self.client.get(self.url("money?view=years")), "Permits and grants often ask for it")
        self.client.post(self.url("choose"), {"preset": "kind batch_tank", "screen": "scheme"}, headers=HTMX)
        self.assertEqual(parts(self.page())["missing"], "")  # nothing but its collector is asked for one


class PaperCase(DesignPageCase):
    def do(self, action, status=200, **values):
        reply = self.client.post(self.url(f"paper/{action}"), {"screen": "paper", **values}, headers=HTMX)
        self.assertEqual(reply.status_code, status, reply.content[:300])
        return reply

    def issue(self, **values):
        self.do("issue", **values)
        return Report.objects.first()

    def html(self, **payload):
        page = self.page()
        lists = lambda name: payload.get(name, [])
        requested = report_request(page, payload, lists)
        return composed(page, requested, design_pages(page, requested), 1, draft=True).html


class Composing(PaperCase):
    def test_the_report_states_what_the_screen_states(self):
        page, book, money = self.html(), self.page().year.book, offer(self.page())
        for text in (
            f"{100 * book.fractions.at_tap:.1f} %",
            self.page().money(float(money.cost)),
            self.page().show(book.total(*BOUGHT), "kWh", 0),
            f"{money.economics.cost_kwh:.3f}",
            self.page().weather and self.project.weather.checksum[:16],
        ):
            self.assertIn(text, page)
        for section in [section for section in SECTIONS[1:] if section.usual]:
            self.assertIn(section.title, page)  # the cover lists them all
        sums = months(self.page())["sums"]
        self.assertEqual(figure(sums[4]["text"].strip("()")), figure(self.page().bought_text.strip("()")))
        rows = [row for group in parts(self.page())["groups"] for row in group["rows"]]
        self.assertAlmostEqual(sum(figure(row["sum"]) for row in rows), float(money.parts + money.work), places=2)

    def test_units_paper_sections_and_designs_are_chosen(self):
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"}, headers=HTMX)
        page = self.html(section=["cover", "parts"], design=["A", "B"], units="us", title="A <b>bold</b> plan")
        self.assertIn("Parts and prices of design B", page)
        self.assertNotIn("Commissioning sheet", page)
        self.assertIn("gal", page)
        both = self.html(section=["compared"])
        self.assertIn("Designs compared", both)
        self.assertEqual(both.count("copy of"), 1)
        self.assertIn("A &lt;b&gt;bold&lt;/b&gt; plan", page)
        figures = [f["value"] for f in key_figures(self.page())]
        self.assertTrue(any("kWh" in value for value in figures))

    def test_the_pages_as_pdf_hold_the_text_and_are_the_same_twice(self):
        page = self.html(section=["cover", "client", "drawing", "account"])
        for paper, size in (("A4", "595.276 x 841.89"), ("Letter", "612 x 792")):
            made = render_pdf(page, paper)
            self.assertEqual(made, render_pdf(page, paper))
            self.assertTrue(made.startswith(b"%PDF"))
            if paper == "A4":
                try:
                    text = run(["pdftotext", "-layout", "-", "-"], input=made, capture_output=True, check=True).stdout
                except FileNotFoundError:  # a reader of PDF is not part of the set-up
                    continue
                self.assertIn(f"{100 * self.page().year.book.fractions.at_tap:.1f} %", text.decode())
                info = run(["pdfinfo", "-"], input=made, capture_output=True, check=True).stdout.decode()
                self.assertIn("Tagged:          yes", info)
                self.assertIn(size, info)

    def test_nothing_is_fetched_for_it(self):
        for address in ("http://127.0.0.1:1/x.png", "file:///etc/passwd", "font:../app.css"):
            with self.subTest(address=address), self.assertRaises(FatalURLFetchingError):
                render_pdf(f'<img alt="x" src="{address}">')

    def test_values_that_are_not_usual_are_reported(self):
        self.edit("system.store.volume_l", "412")
        listed = {(row["part"], row["text"]) for row in unusual(self.page())}
        self.assertIn(("system, store", "412 L"), listed)

    def test_lists_are_reported_by_their_names(self):
        page = self.page()
        trees = [{"name": name, "from_deg": 100, "to_deg": 120, "altitude_deg": 20} for name in ("ash", "yew")]
        document = {**page.document, "site": {**page.document["site"], "trees": trees}}
        found: list = []
        _unusual(page, document, Design().model_dump(mode="json"), "", found)
        self.assertIn("2: ash, yew", [row["text"] for row in found])
        self.assertEqual(_list_text([True] * 5 + [False] * 19), "5 of 24")
        self.assertEqual(_list_text([1.5, 2.0]), "1.5, 2")
        self.assertEqual(_list_text([]), "none")

    def test_which_way_to_face_is_reported_from_the_sun(self):
        facing = sun(self.page())
        shares = {row["tilt"]: [int(cell["text"]) for cell in row["cells"]] for row in facing["rows"]}
        self.assertEqual(shares["0°"], [shares["0°"][0]] * 7)  # a flat plane faces nowhere
        self.assertGreater(shares["30°"][3], max(shares["30°"][0], shares["30°"][6]))
        self.assertEqual(max(max(row) for row in shares.values()), 100)
        self.assertEqual(sum(cell["here"] for row in facing["rows"] for cell in row["cells"]), 1)

    def test_what_can_be_built_is_checked_against_the_plane(self):
        rows = {row["words"]: row for row in feasible(self.page())["rows"]}
        self.assertEqual(rows["Collectors on the plane"]["fits"], None)
        planes = [{"key": "P1", "name": "shed", "width_m": 1.0, "height_m": 1.0, "load_kg_m2": 10.0}]
        self.project.survey["site"]["planes"] = planes
        self.project.save()
        design = self.project.designs.get(letter="A")
        design.scheme["plane"]["on"] = "P1"
        design.save()
        rows = {row["words"]: row for row in feasible(self.page())["rows"]}
        self.assertEqual((rows["Collectors on the plane"]["fits"], rows["Weight on it, wet"]["fits"]), (False, False))

    def test_valves_by_season_for_every_kind(self):
        for kind in SCHEMES:
            with self.subTest(kind=kind):
                document = {
                    "system": {"kind": kind, "loop": {"glycol_percent": 0}},
                    "demand": {"pool": {"fitted": True}},
                }
                rows = {row[0]: row[1:] for row in valve_rows(parse(document), "50 °C")}
                water = SCHEMES[kind].exchange in ("direct", "none", "pool")
                self.assertEqual("Drain at the lowest point" in rows, water)
                self.assertTrue(all(all(row) for row in rows.values()))

    def test_the_commissioning_sheet_prints_what_the_design_aims_at(self):
        aims = dict(checks(self.page()))
        vessel = expansion_vessel(self.page().parsed)
        self.assertEqual(aims["Gas pressure of the vessel before filling"], f"{vessel.gas_bar:.1f} bar")
        self.assertEqual(aims["Pump on and off at"], "7 K, 3 K")
        self.assertRegex(aims["Antifreeze: first ice measured at"], r"^−\d+ °C or below$")
        self.assertRegex(aims["Flow at full speed"], r"^200 kg/h$")
        self.user.units = "us"
        self.user.save()
        self.assertIn("psi", dict(checks(self.page()))["Filled cold to"])

    def test_single_pages(self):
        for name in (
            "draft.pdf",
            "scheme.pdf?paper=A3",
            "commissioning.pdf?paper=Letter",
            "horizon.pdf",
            "valves.pdf",
            "feasible.pdf?paper=Letter",
        ):
            answer = self.client.get(self.url(f"paper/{name}"))
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"), name)
        drawn = self.client.get(self.url("paper/scheme.svg")).content.decode()
        self.assertEqual(ElementTree.fromstring(drawn).tag, "{http://www.w3.org/2000/svg}svg")
        page = load_workbook(io.BytesIO(self.client.get(self.url("paper/parts.xlsx")).content)).active
        self.assertAlmostEqual(page.cell(page.max_row, 6).value, float(offer(self.page()).cost), places=2)


class Issuing(PaperCase):
    def test_numbered_frozen_and_the_same_when_rendered_again(self):
        first, second = self.issue(title="One"), self.issue(title="Two", section=["cover"])
        self.assertEqual((first.number, second.number), (1, 2))
        report = Report.objects.get(number=1)
        self.assertEqual(rendered_again(report), bytes(report.pdf))
        got = self.client.get(self.url("paper/report.pdf?report=1"))
        self.assertEqual(got.content, bytes(report.pdf))
        self.assertEqual(self.client.get(self.url("paper/report.pdf?report=9")).status_code, 422)

    def test_a_long_one_is_printed_by_a_worker(self):
        with patch("web.reports.services.PARTS_AT_ONCE", 1):
            report = self.issue(section=["cover", "client"])
        self.assertIsNone(report.printed)
        self.assertContains(self.client.get(self.url("paper/printing")), "is being printed")
        self.assertContains(self.client.get(self.url("paper?view=report")), "being printed")
        self.assertEqual(self.client.get(self.url("paper/report.pdf?report=1")).status_code, 422)
        self.do("share", report="1", open="1", days="30")
        address = f"/read/{Report.objects.get().token}/"
        self.assertContains(Client().get(address), "in plain words")
        self.assertEqual(Client().get(address + "report.pdf").status_code, 503)
        print_issued(report.pk)
        made = bytes(Report.objects.get().pdf)
        print_issued(report.pk)  # a worker that comes twice changes nothing
        self.assertEqual(Client().get(address + "report.pdf").content, made)
        self.assertEqual(rendered_again(Report.objects.get()), made)
        self.assertContains(self.client.get(self.url("paper/printing")), 'hx-get="?"')

    def test_what_changed_since_is_reported(self):
        self.issue(section=["cover"])
        moved = lambda: report_view(self.page())["reports"][0]["moved"]
        self.assertEqual(moved(), [])
        self.edit("system.collector.count", "4")
        set_prices(owner=self.user, changes={"pump": 999.0})
        self.assertEqual(moved(), ["design A", "prices"])
        before = Report.objects.get().html
        self.edit("system.collector.count", "5")
        self.assertEqual(Report.objects.get().html, before)

    def test_a_design_that_does_not_simulate_and_too_many_are_refused_in_words(self):
        with patch("web.steps.paper.compose.MOST_DESIGNS", 0):
            self.assertContains(self.do("issue", 422), "at most", status_code=422)
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"}, headers=HTMX)
        broken = self.project.designs.get(letter="B")
        broken.scheme["system"]["store"]["volume_l"] = -5
        broken.save()
        self.assertContains(self.do("issue", 422, design="B"), "Design B cannot be calculated", status_code=422)
        self.assertEqual(Report.objects.count(), 0)

    def test_a_letterhead_is_stored_and_a_picture_that_is_none_refused(self):
        self.do("letterhead", name="Holm & Daughters", address="3 Quay\nMerrow", logo=png())
        head = letterhead_of(self.user)
        self.assertEqual((head.name, bytes(head.logo)[:4]), ("Holm & Daughters", b"\x89PNG"))
        self.assertIn("Holm &amp; Daughters", self.html(section=["cover"]))
        bad = io.BytesIO(b"\x89PNG\r\n\x1a\nrubbish")
        bad.name = "logo.png"
        script = io.BytesIO(b"<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>")
        script.name = "logo.svg"
        for file, words in (
            (bad, "no JPEG or PNG"),
            (script, "no JPEG or PNG"),
            (png(kind="GIF"), "no JPEG or PNG"),
            (png(60_001, 700), "more than"),
        ):
            self.assertContains(self.do("letterhead", 422, name="x", logo=file), words, status_code=422)
        large = io.BytesIO(b"\x89PNG" + b"0" * 2_100_000)
        large.name = "logo.png"
        self.assertContains(self.do("letterhead", 422, name="kept", logo=large), "kept", status_code=422)
        self.assertEqual(letterhead_of(self.user).name, "Holm & Daughters")
        self.do("letterhead", name="Holm & Daughters", without="1")
        self.assertIsNone(letterhead_of(self.user).logo)


class ForTheClient(PaperCase):
    def setUp(self):
        super().setUp()
        self.issue(section=["cover", "client"])
        self.stranger = Client()

    def address(self):
        return f"/read/{Report.objects.get().token}/"

    def test_read_by_a_stranger_until_it_is_taken_back(self):
        self.do("share", report="1", open="1", days="30")
        page = self.stranger.get(self.address())
        self.assertContains(page, "in plain words")
        self.assertEqual(page["X-Robots-Tag"], "noindex, nofollow")
        self.assertEqual(self.stranger.get(self.address() + "report.pdf").content, bytes(Report.objects.get().pdf))
        self.assertEqual(self.stranger.get(self.url("scheme")).status_code, 302)  # nothing else
        stored = self.address()
        self.do("share", report="1", open="0")
        for path in (stored, stored + "report.pdf"):
            self.assertEqual(self.stranger.get(path).status_code, 404)
        self.do("share", report="1", open="1", days="30")
        self.assertNotEqual(self.address(), stored)  # the old address stays closed
        self.assertEqual(self.stranger.get(stored).status_code, 404)

    def test_an_ended_address_and_one_that_never_was(self):
        self.do("share", report="1", open="1", days="5")
        Report.objects.update(until=timezone.localdate() - timedelta(days=1))
        self.assertEqual(self.stranger.get(self.address()).status_code, 404)
        for path in ("/read/x/", "/read/None/", "/read/" + "a" * 300 + "/"):
            self.assertEqual(self.stranger.get(path).status_code, 404)
        for days in ("0", "731", "-3", "soon"):
            self.assertContains(self.do("share", 422, report="1", open="1", days=days), "1 to 730", status_code=422)
        self.do("share", 404, report="7", open="1", days="5")


class PaperInTheBrowser(DemoCase):
    def test_issued_read_as_a_stranger_and_taken_back(self):
        self.open_scheme()
        self.page.keyboard.press("9")
        self.page.wait_for_selector("#report")
        self.accessible()
        for box in self.page.locator("#report [name=section]").all()[3:]:
            box.uncheck()
        self.page.click("text=Issue it")
        self.page.wait_for_selector("text=Report 1 was issued")
        self.page.click("text=open a page")
        self.page.wait_for_selector("a.address")
        self.accessible()
        address = self.page.get_attribute("a.address", "href")
        stranger = self.page.context.browser.new_context().new_page()
        stranger.goto(self.live_server_url + address)
        self.assertIn("plain words", stranger.inner_text("main"))
        at_noon = stranger.inner_html("[data-drawing]")
        stranger.locator("[data-hour]").fill("4")
        self.assertIn("4 h", stranger.inner_text("[data-when]"))
        self.assertNotEqual(stranger.inner_html("[data-drawing]"), at_noon)
        stranger.click("[data-play]")
        stranger.wait_for_selector("[data-when]:has-text(', 6 h')")
        self.page.click("text=take it back")
        self.page.wait_for_selector("text=open a page")
        self.assertEqual(stranger.goto(self.live_server_url + address).status, 404)
        stranger.context.close()
        self.page.goto(self.page.url.split("?")[0] + "?view=files")
        self.page.wait_for_selector("text=The drawing with its numbers")
        self.accessible()
        with self.page.expect_download() as waiting:
            self.page.click("main a[href$='project.zip']")
        self.page.goto(self.live_server_url + "/")
        before = self.page.locator("tr:has(.link)").count()
        self.page.set_input_files(
            "#id_file",
            {"name": "project.zip", "mimeType": "application/zip", "buffer": Path(waiting.value.path()).read_bytes()},
        )
        self.page.click("text=Import")
        self.page.wait_for_selector(".steps td, .tabs")
        self.page.goto(self.live_server_url + "/")
        self.assertEqual(self.page.locator("tr:has(.link)").count(), before + 1)
