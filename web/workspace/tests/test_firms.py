"""Firms: invitations open once and end, roles keep an owner, who leaves leaves their projects to the head."""

from datetime import timedelta

from django.core.exceptions import PermissionDenied
from django.test import Client, override_settings
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Event, Firm, Invitation, Member
from web.firms.services import call_back, come, create_firm, invite, rename, set_head, set_role
from web.projects.models import AuditEvent, Project
from web.projects.permissions import right_of
from web.projects.services.deletion import sweep
from web.projects.services.sharing import change_role, close_firm, hand_over, let_go, share, take_up
from web.projects.tests.helpers import FirmCase


class Invited(FirmCase):
    def test_an_invitation_is_taken_up_once(self):
        made, token = invite(firm=self.firm, author=self.user, role="designer", note="Bo")
        self.assertNotIn(token, Invitation.objects.values_list("hashed", flat=True))
        come(token=token, user=self.people["stranger"])
        self.assertEqual(self.firm.members.get(user=self.people["stranger"]).role, "designer")
        with self.assertRaisesMessage(HeatError, "not open"):
            come(token=token, user=User.objects.create_user("late"))
        self.assertFalse(Invitation.objects.get(pk=made.pk).is_open)

    def test_past_its_day_or_called_back_it_opens_nothing(self):
        made, token = invite(firm=self.firm, author=self.user, role="viewer", days=1)
        Invitation.objects.filter(pk=made.pk).update(until=timezone.now() - timedelta(minutes=1))
        self.assertRaises(HeatError, come, token=token, user=self.people["stranger"])
        made, token = invite(firm=self.firm, author=self.user, role="viewer")
        call_back(invitation=made, author=self.user)
        self.assertRaises(HeatError, come, token=token, user=self.people["stranger"])
        self.assertFalse(self.firm.members.filter(user=self.people["stranger"]).exists())

    def test_only_an_owner_does_anything_about_people(self):
        member = self.firm.members.get(user=self.people["viewer"])
        made, _token = invite(firm=self.firm, author=self.user, role="viewer")
        for name in ("designer", "assessor", "viewer", "editor", "stranger"):
            user = self.people[name]
            for act in (
                lambda user=user: invite(firm=self.firm, author=user, role="owner"),
                lambda user=user: call_back(invitation=made, author=user),
                lambda user=user: set_role(member=member, author=user, role="owner"),
                lambda user=user: set_head(firm=self.firm, author=user, member=member),
                lambda user=user: rename(firm=self.firm, author=user, name="Mine"),
            ):
                self.assertRaises(PermissionDenied, act)
        self.assertRaises(PermissionDenied, let_go, member=member, author=self.people["designer"])

    def test_odd_invitations_are_refused_in_words(self):
        for odd in ({"role": "king"}, {"role": "viewer", "days": 0}, {"role": "viewer", "days": 10_000}):
            self.assertRaises(HeatError, invite, firm=self.firm, author=self.user, **odd)
        self.assertRaises(HeatError, create_firm, owner=self.user, name=" \0")

    def test_a_link_opens_an_account_where_strangers_may_not(self):
        self.client.logout()
        _made, token = invite(firm=self.firm, author=self.user, role="assessor")
        form = {"username": "ida", "password1": "quiet-harbour-9", "password2": "quiet-harbour-9"}
        with override_settings(SIGN_UP=False):
            self.join_by_link(form, token)

    def test_a_link_that_was_read_opens_no_account_once_it_is_taken(self):
        self.client.logout()
        made, token = invite(firm=self.firm, author=self.user, role="assessor")
        form = {"username": "ida", "password1": "quiet-harbour-9", "password2": "quiet-harbour-9"}
        with override_settings(SIGN_UP=False):
            self.assertEqual(self.client.get(f"/invited/{token}").status_code, 200)
            call_back(invitation=made, author=self.user)
            self.assertEqual(self.client.post("/join", form).status_code, 403)

    def join_by_link(self, form, token):
        self.assertEqual(self.client.post("/join", form).status_code, 403)
        self.assertContains(self.client.get(f"/invited/{token}"), "asks you to come to Merrow Heat Works as assessor")
        answer = self.client.post("/join", form, follow=True)
        self.assertContains(answer, "you are an assessor")
        self.assertContains(self.client.get(f"/invited/{token}"), "not open", status_code=404)
        self.client.logout()
        self.assertEqual(self.client.post("/join", form | {"username": "bo"}).status_code, 403)

    def test_one_link_opens_one_account_however_many_sessions_read_it(self):
        _made, token = invite(firm=self.firm, author=self.user, role="assessor")
        form = {"password1": "quiet-harbour-9", "password2": "quiet-harbour-9"}
        readers = [Client() for _ in range(3)]
        with override_settings(SIGN_UP=False):
            for reader in readers:
                reader.get(f"/invited/{token}")
            codes = [r.post("/join", {**form, "username": f"new{i}"}).status_code for i, r in enumerate(readers)]
        self.assertEqual(codes, [302, 403, 403])
        self.assertEqual(User.objects.filter(username__startswith="new").count(), 1)


class Deletion(FirmCase):
    def test_a_firm_keeps_an_owner_and_a_head(self):
        mine = self.firm.members.get(user=self.user)
        self.assertRaises(HeatError, set_role, member=mine, author=self.user, role="viewer")
        self.assertRaises(HeatError, let_go, member=mine, author=self.user)
        other = self.firm.members.get(user=self.people["designer"])
        set_role(member=other, author=self.user, role="owner")
        other.refresh_from_db()
        self.assertRaisesMessage(HeatError, "head", let_go, member=mine, author=self.user)
        set_head(firm=self.firm, author=self.user, member=other)
        self.firm.refresh_from_db()
        let_go(member=Member.objects.get(pk=mine.pk), author=self.user)
        project = Project.objects.get(pk=self.project.pk)
        self.assertEqual(project.owner, self.people["designer"])
        self.assertFalse(Project.objects.visible_to(self.user).exists())
        self.assertIn("passed to designer", AuditEvent.objects.first().what)
        self.assertIn("left the firm", Event.objects.values_list("what", flat=True))
        self.assertIn("a share asta made still stands: Tern Lane with reader", Event.objects.first().what)

    def test_handed_over_it_is_the_others_to_delete(self):
        member = self.firm.members.get(user=self.people["designer"])
        self.assertRaises(
            PermissionDenied, hand_over, project=self.project, author=self.people["designer"], member=member
        )
        hand_over(project=self.project, author=self.user, member=member)
        self.as_("designer").client.post(f"/projects/{self.project.pk}/delete")
        self.assertIsNotNone(Project.objects.get(pk=self.project.pk).deleted)
        self.client.post(f"/projects/{self.project.pk}/delete", {"do": "restore"})
        self.assertIsNone(Project.objects.get(pk=self.project.pk).deleted)
        viewer = self.firm.members.get(user=self.people["viewer"])
        self.assertRaises(HeatError, hand_over, project=self.project, author=self.user, member=viewer)

    def test_a_deleted_account_leaves_the_firms_projects(self):
        member = self.firm.members.get(user=self.people["designer"])
        hand_over(project=self.project, author=self.user, member=member)
        long_ago = timezone.now() - timedelta(days=31)
        User.objects.filter(pk=self.people["designer"].pk).update(leaving=long_ago)
        sweep()
        self.assertEqual(Project.objects.get(pk=self.project.pk).owner, self.user)
        User.objects.filter(pk=self.user.pk).update(leaving=long_ago)
        sweep()
        self.assertTrue(User.objects.filter(pk=self.user.pk).exists())  # the head of a firm with others stays
        self.assertTrue(Project.objects.filter(pk=self.project.pk).exists())

    def test_the_last_one_closes_the_firm(self):
        self.assertRaises(HeatError, close_firm, firm=self.firm, author=self.user)
        for member in self.firm.members.exclude(user=self.user).select_related("firm__head", "user"):
            let_go(member=member, author=self.user)
        close_firm(firm=self.firm, author=self.user)
        project = Project.objects.get(pk=self.project.pk)
        self.assertEqual((project.firm, project.owner, Firm.objects.count()), (None, self.user, 0))


class LinksEndWithTheirMaker(FirmCase):
    """An invitation or a share lives only while whoever made it may still make it."""

    def setUp(self):
        super().setUp()
        self.second = User.objects.create_user("second")
        Member.objects.create(firm=self.firm, user=self.second, role="owner")
        self.member = Member.objects.select_related("firm__head", "user").get(user=self.second)

    def test_a_designer_carries_no_project_of_the_firm_off(self):
        designer = self.people["designer"]
        mine = create_firm(owner=designer, name="Mine")
        hand_over(project=self.project, author=self.user, member=self.firm.members.get(user=designer))
        self.as_("designer")
        answer = self.client.post(f"/projects/{self.project.pk}/people", {"do": "give", "firm": mine.pk})
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(Project.objects.get(pk=self.project.pk).firm, self.firm)
        self.assertEqual(self.as_("owner").client.get(f"/projects/{self.project.pk}/people").status_code, 200)

    def test_who_was_let_go_comes_back_by_no_link_of_their_own(self):
        _made, token = invite(firm=self.firm, author=self.second, role="owner")
        _link, shared = share(project=self.project, author=self.second, need="edit")
        let_go(member=self.member, author=self.user)
        for user in (self.second, self.people["stranger"]):
            self.assertRaises(HeatError, come, token=token, user=user)
            self.assertRaises(HeatError, take_up, token=shared, user=user)
        self.client.logout()
        self.assertEqual(self.client.get(f"/invited/{token}").status_code, 404)
        self.assertEqual(self.client.get(f"/shared/{shared}").status_code, 404)

    def test_nor_does_a_demoted_one_hand_rights_on(self):
        _made, token = invite(firm=self.firm, author=self.second, role="owner")
        _link, shared = share(project=self.project, author=self.second, need="edit")
        change_role(member=self.member, author=self.user, role="viewer")
        self.assertRaises(HeatError, come, token=token, user=self.people["stranger"])
        self.assertRaises(HeatError, take_up, token=shared, user=self.second)
        member = Member.objects.select_related("firm__head", "user").get(user=self.second)
        change_role(member=member, author=self.user, role="owner")  # made owner again, the old links stay shut
        self.assertRaises(HeatError, come, token=token, user=self.people["stranger"])
        self.assertRaises(HeatError, take_up, token=shared, user=self.people["stranger"])

    def test_a_link_of_others_that_one_let_go_still_holds_opens_nothing(self):
        _made, token = invite(firm=self.firm, author=self.user, role="owner")
        _link, shared = share(project=self.project, author=self.user, need="edit")
        let_go(member=self.member, author=self.user)
        self.assertRaisesMessage(HeatError, "older", come, token=token, user=self.second)
        self.assertRaisesMessage(HeatError, "older", take_up, token=shared, user=self.second)
        _made, fresh = invite(firm=self.firm, author=self.user, role="viewer")
        come(token=fresh, user=self.second)  # asked back on purpose

    def test_a_share_taken_up_before_ends_with_the_role(self):
        viewer = self.people["viewer"]
        _link, token = share(project=self.project, author=self.user, need="edit")
        take_up(token=token, user=viewer)
        self.assertEqual(right_of(viewer, Project.objects.get(pk=self.project.pk)), "edit")  # the greater counts
        member = Member.objects.select_related("firm__head", "user").get(user=viewer)
        let_go(member=member, author=self.user)
        self.assertEqual(right_of(viewer, Project.objects.get(pk=self.project.pk)), "")

    def test_who_has_it_no_longer_in_hand_shares_it_no_more(self):
        designer = self.people["designer"]
        hand_over(project=self.project, author=self.user, member=self.firm.members.get(user=designer))
        _link, token = share(project=Project.objects.get(pk=self.project.pk), author=designer, need="edit")
        hand_over(project=self.project, author=self.user, member=self.firm.members.get(user=self.user))
        self.assertRaises(HeatError, take_up, token=token, user=self.people["stranger"])


class OnThePage(FirmCase):
    def test_owners_run_it_and_others_view(self):
        page = self.client.get(f"/firms/{self.firm.pk}")
        self.assertContains(page, "Invite somebody")
        self.assertContains(self.as_("viewer").client.get(f"/firms/{self.firm.pk}"), "you are a viewer")
        self.assertNotContains(self.client.get(f"/firms/{self.firm.pk}"), "Invite somebody")
        self.assertEqual(self.client.post(f"/firms/{self.firm.pk}", {"do": "name", "name": "Mine"}).status_code, 403)
        for outside in ("editor", "stranger"):
            self.assertEqual(self.as_(outside).client.get(f"/firms/{self.firm.pk}").status_code, 404)

    def test_a_link_is_displayed_once_and_a_refusal_keeps_what_was_typed(self):
        here = f"/firms/{self.firm.pk}"
        refused = self.client.post(here, {"do": "invite", "role": "viewer", "note": "Bo Lind", "days": "many"})
        self.assertContains(refused, 'value="Bo Lind"', status_code=422)
        made = self.client.post(here, {"do": "invite", "role": "viewer", "note": "Bo Lind", "days": "7"})
        self.assertContains(made, "http://testserver/invited/")
        self.assertNotContains(self.client.get(here), "testserver/invited/")
        self.assertContains(self.client.get(here), "Bo Lind, as viewer")
        for odd in ({}, {"do": "dance"}, {"do": "role", "member": "9" * 30}, {"do": "call-back", "invitation": "x"}):
            self.assertEqual(self.client.post(here, odd).status_code, 404)

    def test_founded_from_the_account_and_its_projects_begun_there(self):
        self.as_("stranger").client.post("/firms/new", {"name": "Tarn Works"})
        firm = Firm.objects.get(name="Tarn Works")
        self.assertEqual(self.client.post("/firms/new", {"name": " "}).status_code, 422)
        self.client.post("/projects/new", {"name": "Weir House", "firm": firm.pk})
        self.assertEqual(Project.objects.get(name="Weir House").firm, firm)
        self.assertContains(self.client.get("/"), "Tarn Works")
        theirs = self.client.post("/projects/new", {"name": "Elsewhere", "firm": self.firm.pk})
        self.assertEqual((theirs.status_code, Project.objects.filter(name="Elsewhere").count()), (404, 0))
