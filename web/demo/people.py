"""The demo's firm: an owner, an assessor and a viewer, one project of it, and a comment that waits for an answer."""

from web.accounts.models import User
from web.firms.models import Firm, Member, Role
from web.firms.services import create_firm, log_role_change
from web.projects.models import Project
from web.projects.services.comments import add_comment
from web.projects.services.sharing import give_to_firm

FIRM = "Merrow Heat Works"
PEOPLE = (("assessor", Role.ASSESSOR), ("viewer", Role.VIEWER))
COMMENT = "The caretaker says the second tank room is dry now. Do we still want the store at this height?"


def create_demo_firm(owner: User, project: Project, password: str) -> None:
    """The firm with its people; where it stands already, nothing."""
    if Firm.objects.of(owner).exists():
        return
    firm = create_firm(owner=owner, name=FIRM)
    for name, role in PEOPLE:
        user, new = User.objects.get_or_create(username=name)
        if new:
            user.set_password(password)
            user.save()
        Member.objects.create(firm=firm, user=user, role=role)
        log_role_change(firm, user, f"came as {role}")
    give_to_firm(project=project, author=owner, firm=firm)
    design = project.designs.get(letter="A")
    design.project = Project.objects.get(pk=project.pk)
    add_comment(
        design=design,
        author=User.objects.get(username="assessor"),
        pin="path:system.store.volume_l",
        text=COMMENT,
        where="scheme?part=store",
    )
