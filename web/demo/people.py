"""The demo's firm: an owner, an assessor and a viewer, one project of it, and a remark that waits for an answer."""

from web.accounts.models import User
from web.firms.models import Firm, Member, Role
from web.firms.services import found, tell
from web.projects.models import Project
from web.projects.services.remarks import say
from web.projects.services.sharing import give_to_firm

FIRM = "Merrow Heat Works"
PEOPLE = (("assessor", Role.ASSESSOR), ("viewer", Role.VIEWER))
REMARK = "The caretaker says the second tank room is dry now. Do we still want the store at this height?"


def found_firm(owner: User, project: Project, password: str) -> None:
    """The firm with its people; where it stands already, nothing."""
    if Firm.objects.of(owner).exists():
        return
    firm = found(owner=owner, name=FIRM)
    for name, role in PEOPLE:
        user, new = User.objects.get_or_create(username=name)
        if new:
            user.set_password(password)
            user.save()
        Member.objects.create(firm=firm, user=user, role=role)
        tell(firm, user, f"came as {role}")
    give_to_firm(project=project, author=owner, firm=firm)
    design = project.designs.get(letter="A")
    design.project = Project.objects.get(pk=project.pk)
    say(design=design, author=User.objects.get(username="assessor"), pin="path:system.store.volume_l", text=REMARK,
        where="scheme?part=store")  # fmt: skip
