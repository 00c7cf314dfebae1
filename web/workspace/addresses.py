"""Addresses: what every step shares, and what each declares."""

from django.urls import URLPattern, path

from web.workspace import firms, history, links, people, projects, together, views
from web.workspace.registry import steps

DESIGN = "projects/<int:pk>/<str:letter>"
SHARED = ("edit", "rows", "choose", "undo", "redo", "save", "designs")


def patterns() -> list[URLPattern]:
    """Every address below the root: projects, the shared actions, each step's own, the steps themselves."""
    found = [
        path("", projects.projects, name="projects"),
        path("projects/new", projects.new_project, name="new-project"),
    ]
    found += [path("projects/bring", projects.bring_project, name="bring-project")]
    found += [path("projects/<int:pk>/delete", projects.delete_project, name="delete-project")]
    found += [
        path("projects/<int:pk>/people", people.people, name="people"),
        path("projects/<int:pk>/history", history.history, name="history"),
        path("shared/<str:token>", links.shared, name="shared"),
        path("firms/new", firms.new_firm, name="new-firm"),
        path("firms/<int:pk>", firms.firm, name="firm"),
        path("invited/<str:token>", links.invited, name="invited"),
        path(f"{DESIGN}/now", together.now, name="now"),
        path(f"{DESIGN}/remarks", together.remarks, name="remarks"),
    ]
    found += [path(f"{DESIGN}/{name}", getattr(views, name), name=name) for name in SHARED]
    for step in steps():
        found += [
            path(f"{DESIGN}/{action.path}", views.acted(action, action.needs or step.needs), name=action.name)
            for action in step.actions
        ]
        found += [path(f"{DESIGN}/{piece.path}", views.answered(piece), name=piece.name) for piece in step.pieces]
        found += [path(f"{DESIGN}/{file.path}", views.taken_away(file), name=file.name) for file in step.downloads]
    return [*found, path(f"{DESIGN}/<slug:screen>", views.screen, name="screen")]
