"""Several people in one project: what each may, whose edit it was, comments, who is here, and what is written down."""

import json

from django.utils import timezone

from web.logs.services import begin_log
from web.logs.upkeep import open_calendar
from web.prices.books import own_prices
from web.projects.models import AuditEvent, Comment, Edit, Presence, Project
from web.projects.services.deletion import delete_project
from web.projects.services.edits import change_values
from web.projects.services.sharing import end_share
from web.projects.tests.helpers import HTMX, FirmCase
from web.reports.models import Report
from web.reports.services import open_to_client
from web.workspace.presence import _written

VOLUME = "system.store.volume_l"


class EachTheirPart(FirmCase):
    def test_an_assessor_changes_demand_and_site_alone(self):
        self.as_("assessor")
        self.assertEqual(self.edit("demand.people", "6").status_code, 200)
        self.assertEqual(self.edit("site.wind_share", "0.5").status_code, 200)
        refused = self.edit(VOLUME, "410")
        self.assertContains(refused, "the rest is its designers’", status_code=422)
        response = self.post("choose", changes=json.dumps({VOLUME: 410.0, "demand.people": 7.0}))
        self.assertContains(response, "the rest is its designers’", status_code=422)
        self.assertEqual(self.document()["demand"]["people"], 6)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 300)

    def test_what_is_not_theirs_is_closed_on_the_page(self):
        field = f'data-path="{VOLUME}" disabled'
        self.assertNotContains(self.client.get(self.url("scheme")), field)
        self.assertContains(self.as_("assessor").client.get(self.url("scheme")), field)
        self.assertContains(self.client.get(self.url("scheme")), "this page is for looking")
        self.assertNotContains(self.client.get(self.url("demand")), "disabled value=")
        self.assertContains(self.as_("viewer").client.get(self.url("demand")), "You look at this project")

    def test_a_viewer_is_reported_why_in_words(self):
        for name in ("viewer", "reader"):
            answer = self.as_(name).edit("demand.people", "6")
            self.assertContains(answer, "leave comments", status_code=403)
            self.assertTrue(answer["Content-Type"].startswith("text/plain"))
            page = self.client.post(self.url("save"))
            self.assertContains(page, "Not yours to do", status_code=403)
        self.assertEqual(Edit.objects.count(), 0)

    def test_the_log_is_an_assessors_too(self):
        self.assertEqual(self.as_("assessor").client.post(self.url("log/begin")).status_code, 200)
        self.assertEqual(self.project.logs.count(), 1)
        self.assertEqual(self.client.post(self.url("log/measured")).status_code, 403)

    def test_prices_are_the_firms(self):
        self.as_("designer").post("money/price", item="store_plain", value="3")
        self.as_("editor")
        answer = self.post("money/price", item="store_plain", value="9")
        self.assertContains(answer, "asta’s", status_code=403)
        self.assertEqual(own_prices(self.people["editor"]), {})
        self.assertNotIn(9.0, own_prices(self.user).values())

    def test_with_the_account_closed_nothing_opens(self):
        self.people["designer"].is_active = False
        self.people["designer"].save()
        self.assertEqual(self.as_("designer").client.get(self.url("scheme")).status_code, 302)


class Whose(FirmCase):
    def test_one_value_by_two_requests_and_names_the_other(self):
        change_values(design=self.fresh(), author=self.people["designer"], changes={VOLUME: 410.0})
        answer = self.edit(VOLUME, "520", expected="300.0")
        self.assertContains(answer, "designer made this 410 L; you typed 520", status_code=422)
        other = self.edit("demand.people", "7", revision="0")
        self.assertEqual(other.status_code, 200)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 410)

    def test_different_values_are_and_the_other_is_named(self):
        change_values(design=self.fresh(), author=self.user, changes={"demand.people": 3.0})
        change_values(design=self.fresh(), author=self.people["designer"], changes={VOLUME: 410.0})
        answer = self.edit("demand.tap_c", "48", revision="1")
        self.assertContains(answer, "Also changed by designer: Volume. Both edits stand.")

    def test_undo_requests_before_it_takes_anothers_edit_back(self):
        change_values(design=self.fresh(), author=self.people["designer"], changes={VOLUME: 410.0})
        answer = self.post("undo")
        self.assertContains(answer, "The last edit is designer’s: Volume", status_code=422)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 410)
        self.post("choose", changes=json.dumps({VOLUME: 300.0}))
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 300)
        self.assertEqual(self.post("undo").status_code, 200)  # one's own
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 410)

    def test_an_assessor_undoes_no_designers_value(self):
        change_values(design=self.fresh(), author=self.user, changes={VOLUME: 410.0})
        Edit.objects.update(author=None)
        answer = self.as_("assessor").client.post(self.url("undo"), headers=HTMX)
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 410)


class Now(FirmCase):
    def setUp(self):
        super().setUp()
        _written.clear()

    def now(self, name, **query):
        answer = self.as_(name).client.get(self.url("now"), query)
        return json.loads(answer["HX-Trigger"])["stands"]

    def test_who_is_here_and_what_they_changed(self):
        self.assertEqual(self.now("designer", step="scheme", r=0)["people"], [])
        payload = self.now("owner", step="year", r=0)
        self.assertEqual(payload["people"], [{"name": "designer", "at": "A Scheme"}])
        change_values(design=self.fresh(), author=self.user, changes={VOLUME: 410.0})
        payload = self.now("designer", step="scheme", r=0)
        self.assertEqual(payload["revision"], 1)
        self.assertEqual(payload["edits"], [{"who": "asta", "paths": [VOLUME], "what": "Volume", "letter": "A"}])
        self.assertEqual(self.now("owner", r=0)["edits"], [])  # one's own are no news

    def test_who_left_is_not_here(self):
        self.now("designer", step="scheme")
        Presence.objects.update(at=timezone.now() - timezone.timedelta(seconds=30))
        self.assertEqual(self.now("owner")["people"], [])

    def test_a_page_that_waits_costs_little(self):
        self.now("designer", step="scheme", r=0)
        with self.assertNumQueries(4):  # session, person, project, people
            self.client.get(self.url("now"), {"step": "scheme", "r": 0})

    def test_many_pages_that_request_without_rest_are_reported_to_wait(self):
        codes = [self.client.get(self.url("now?r=0&step=scheme")).status_code for _ in range(60)]
        self.assertEqual((codes[0], codes[-1]), (200, 429))
        self.assertEqual(self.as_("viewer").client.get(self.url("now?r=0&step=scheme")).status_code, 200)

    def test_strangers_learn_nothing(self):
        self.assertEqual(self.as_("stranger").client.get(self.url("now")).status_code, 404)


class Comments(FirmCase):
    def comment(self, name, **values):
        return self.as_(name).post("comments", view="part=store", **values)

    def test_stated_answered_closed_and_opened_again(self):
        self.comment("viewer", do="say", pin=f"path:{VOLUME}", text="Too large?")
        comment = Comment.objects.get()
        page = self.as_("owner").client.get(self.url("demand"))
        self.assertContains(page, "Comments (1)")
        self.assertContains(page, f'href="/projects/{self.project.pk}/A/scheme?part=store">A: Volume</a>')
        self.comment("designer", do="answer", comment=comment.pk, text="Six people.")
        self.assertContains(self.client.get(self.url("scheme")), "Six people.")
        self.assertEqual(self.comment("reader", do="close", comment=comment.pk).status_code, 403)
        self.comment("assessor", do="close", comment=comment.pk)
        self.assertContains(self.client.get(self.url("scheme")), "closed by assessor")
        self.comment("viewer", do="open", comment=comment.pk)
        self.assertContains(self.client.get(self.url("scheme")), "Comments (1)")

    def test_odd_ones_are_refused_and_stored_on_the_page(self):
        refused = self.comment("viewer", do="say", pin="path:{}", text="What is kept")
        self.assertContains(refused, "What is kept</textarea>", status_code=422)
        for odd in (
            {"do": "say", "pin": "day:365", "text": "x"},
            {"do": "say", "pin": "step:year", "text": " \0"},
            {"do": "say", "pin": "step:year", "text": "x" * 1001},
            {"do": "answer", "comment": "99999", "text": "x"},
        ):
            self.assertEqual(self.comment("viewer", **odd).status_code, 422)
        for odd in ({}, {"do": "dance"}, {"do": "close", "comment": "1" * 40}):
            self.assertIn(self.comment("viewer", **odd).status_code, (404, 422))
        self.assertEqual(self.comment("stranger", do="say", pin="step:year", text="x").status_code, 404)
        self.assertEqual(Comment.objects.count(), 0)

    def test_words_are_words(self):
        self.comment("viewer", do="say", pin="day:170", text="<script>alert(1)</script>")
        page = self.client.get(self.url("year"))
        self.assertContains(page, "&lt;script&gt;alert(1)")
        self.assertContains(page, "A: 20 Jun")


class WrittenDown(FirmCase):
    def test_edits_with_their_values_in_the_readers_units(self):
        change_values(design=self.fresh(), author=self.people["designer"], changes={VOLUME: 410.0})
        change_values(design=self.fresh(), author=self.people["assessor"], changes={"demand.people": 6.0})
        self.post("undo")
        page = self.client.get(f"/projects/{self.project.pk}/history")
        self.assertContains(page, "300 L → 410 L")
        self.assertContains(page, "made it a project of Merrow Heat Works")
        self.assertContains(page, "took the link up: may look at it")
        self.user.units = "us"
        self.user.save()
        self.assertContains(self.client.get(f"/projects/{self.project.pk}/history"), "gal →")

    def test_pages_of_a_hundred(self):
        design = self.fresh()
        rows = [
            Edit(
                project=self.project,
                design=design,
                place=i,
                revision=i,
                path="demand.people",
                before=i,
                after=i + 1,
                author=self.user,
            )
            for i in range(1, 131)
        ]
        Edit.objects.bulk_create(rows)
        Project.objects.filter(pk=self.project.pk).update(cursor=130)
        page = self.client.get(f"/projects/{self.project.pk}/history")
        self.assertContains(page, "older ›")
        self.assertEqual(self.client.get(f"/projects/{self.project.pk}/history?before=never").status_code, 200)

    def test_viewers_read_it_and_strangers_do_not(self):
        here = f"/projects/{self.project.pk}/history"
        self.assertEqual(self.as_("viewer").client.get(here).status_code, 200)
        self.assertEqual(self.as_("stranger").client.get(here).status_code, 404)


class Shared(FirmCase):
    def test_a_link_is_one_persons_and_ends(self):
        here = f"/projects/{self.project.pk}/people"
        page = self.client.post(here, {"do": "share", "need": "view", "note": "Ole", "days": "7"})
        link = page.content.decode().partition("http://testserver")[2].partition('"')[0]
        self.assertContains(
            self.as_("stranger").client.get(link), "shares the project Tern Lane with you: to look at it"
        )
        self.assertRedirects(self.client.post(link), self.url("scheme"))
        self.assertEqual(self.edit("demand.people", "9").status_code, 403)
        self.client.logout()
        self.assertEqual(self.client.get(link).status_code, 404)
        share = self.project.shares.get(user=self.people["stranger"])
        self.as_("owner").client.post(here, {"do": "end", "share": share.pk})
        self.assertEqual(self.as_("stranger").client.get(self.url("scheme")).status_code, 404)
        self.assertEqual(AuditEvent.objects.first().what, "ended the share with stranger")

    def test_who_has_it_shared_may_go_and_others_may_not_share_on(self):
        here = f"/projects/{self.project.pk}/people"
        mine = self.project.shares.get(user=self.people["reader"])
        self.assertRedirects(self.as_("reader").client.post(here, {"do": "end", "share": mine.pk}), "/")
        for name in ("editor", "designer", "viewer"):
            answer = self.as_(name).client.post(here, {"do": "share", "need": "edit", "days": "7"})
            self.assertEqual(answer.status_code, 403)

    def test_out_of_the_firm_and_in_again(self):
        here = f"/projects/{self.project.pk}/people"
        self.assertContains(self.client.get(here), "take it out of Merrow Heat Works")
        self.client.post(here, {"do": "take-out"})
        self.assertEqual(self.as_("designer").client.get(self.url("scheme")).status_code, 404)
        self.as_("owner").client.post(here, {"do": "give", "firm": self.firm.pk})
        self.assertEqual(self.as_("designer").client.get(self.url("scheme")).status_code, 200)
        for odd in ({}, {"do": "give", "firm": "x"}, {"do": "hand-over", "member": "0"}, {"do": "end", "share": "1e9"}):
            self.assertEqual(self.client.post(here, odd).status_code, 404)


class WhatAStateHandsOut(FirmCase):
    """A share to look shows the project: not its whole file, its owner's price book, or addresses that outlive it."""

    def setUp(self):
        super().setUp()
        self.report = Report.objects.create(
            project=self.project,
            number=1,
            title="R",
            letters="A",
            html="",
            client="<p>plain words</p>",
            pdf=b"%PDF",
            requested={},
            inputs={"designs": {}, "weather": None, "engine": "", "prices": {}},
        )
        open_to_client(report=self.report, author=self.user)
        begin_log(design=self.fresh(), author=self.user)
        self.calendar = open_calendar(project=self.project, author=self.people["editor"])

    def test_neither_file_nor_prices_nor_addresses(self):
        for name in ("reader", "viewer"):
            self.as_(name)
            for tail in ("paper/project.zip", "money/prices.csv", "money/prices.xlsx"):
                self.assertEqual(self.client.get(self.url(tail)).status_code, 403, tail)
            page = self.client.get(self.url("money?view=prices"))
            self.assertContains(page, "The price book of this project is asta’s")
            self.assertNotContains(page, "data-price")
            self.assertNotContains(self.client.get(self.url("paper")), self.report.token)
            self.assertNotContains(self.client.get(self.url("log?view=upkeep")), self.calendar.token)
        self.assertEqual(self.as_("editor").client.get(self.url("paper/project.zip")).status_code, 200)

    def test_a_calendar_is_ones_own_and_ends_with_the_share(self):
        mine = open_calendar(project=self.project, author=self.user)
        here = f"/upkeep/{self.calendar.token}.ics"
        self.assertEqual(self.client.get(here).status_code, 200)
        end_share(share=self.project.shares.get(user=self.people["editor"]), author=self.user)
        self.assertEqual(self.client.get(here).status_code, 404)
        self.assertEqual(self.client.get(f"/upkeep/{mine.token}.ics").status_code, 200)

    def test_a_deleted_projects_pages_are_shut(self):
        for tail in ("", "report.pdf"):
            self.assertEqual(self.client.get(f"/read/{self.report.token}/{tail}").status_code, 200)
        delete_project(project=self.project, author=self.user, deleted=True)
        for tail in ("", "report.pdf"):
            self.assertEqual(self.client.get(f"/read/{self.report.token}/{tail}").status_code, 404)
