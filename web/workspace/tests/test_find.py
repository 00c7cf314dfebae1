"""The command line: what a typed text finds, and what a term of the trade means."""

from web.projects.services.designs import copy_design
from web.projects.tests.helpers import HTMX, FirmCase


class Find(FirmCase):
    def found(self, text, at="scheme"):
        where = {**HTMX, "HX-Current-URL": f"http://t/{at}"}
        answer = self.client.get(self.url("find"), {"q": text, "screen": at.split("?")[0]}, headers=where)
        self.assertEqual(answer.status_code, 200)
        return answer

    def test_parts_views_and_commands_by_any_of_their_words(self):
        self.assertContains(self.found("horiz"), "Site: horizon")
        self.assertContains(self.found("coil part"), "Part: coil")
        self.assertContains(self.found("undo"), 'data-press="[data-undo]"')
        self.assertContains(self.found("make drainback"), "kind drainback")
        self.assertNotContains(self.found("zzz"), "<li")
        self.assertEqual(self.found("").content.decode().count("<li"), 12)

    def test_values_by_their_names(self):
        self.assertContains(self.found("tilt"), "Value: Tilt")
        self.assertContains(self.found("volume"), "scheme?part=store")
        self.assertContains(self.found("interest"), "money?view=years")
        self.assertContains(self.found("reference wind"), "cautions?view=load")
        self.assertContains(self.found("stagnation"), 'class="meaning"')

    def test_a_date_however_it_is_written(self):
        for text in ("Jun 21", "21.6.", "21/6", "2026-06-21", "21 June 2026", "june 21st", "21. 6. 2026"):
            self.assertContains(self.found(text), "day=171&amp;hour=12")
        self.assertContains(self.found("Jun 21, 15 h"), "day=171&amp;hour=15")
        self.client.post("/units", {"units": "us"})
        self.assertContains(self.found("6/21"), "day=171&amp;hour=12")

    def test_a_date_leads_to_its_hour_where_the_year_shows_hours(self):
        self.assertContains(self.found("12 Mar 15"), "scheme?day=70&amp;hour=15")
        self.assertContains(self.found("1. january"), "day=0&amp;hour=12")
        self.assertContains(self.found("31 dec, 23:00", at="year"), 'hx-get="?day=364&amp;hour=23&amp;start="')
        self.assertContains(self.found("31 dec", at="year?view=shape"), "scheme?day=364&amp;hour=12")
        for none in ("31 Feb", "29 feb", "0 May", "12 Mar 24", "March", "12 Foo"):
            self.assertNotIn("Drawing at", self.found(none).content.decode(), none)

    def test_a_word_answers_with_its_meaning_and_its_page(self):
        for words in ("payback", "legionella", "efficiency", "help"):
            self.assertContains(self.found(words), 'class="meaning"')
        self.assertContains(self.client.get("/glossary/payback"), "in the glossary")
        self.assertEqual(self.client.get("/glossary/moonshine").status_code, 404)

    def test_other_designs_are_found_and_strangers_find_nothing(self):
        copy_design(design=self.fresh(), author=self.user)
        self.assertContains(self.found("compare"), "against=B")
        self.assertContains(self.found("design b"), "/B/scheme")
        self.assertEqual(self.as_("stranger").client.get(self.url("find?q=undo")).status_code, 404)
