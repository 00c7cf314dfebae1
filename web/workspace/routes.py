"""Addresses: what every step shares, and what each declares."""

from django.urls import URLPattern, path

from web.workspace import find, firms, glossary, history, links, people, presence, projects, views
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
        path("glossary", glossary.glossary, name="glossary"),
        path("glossary/<slug:key>", glossary.term, name="term"),
        path("firms/new", firms.new_firm, name="new-firm"),
        path("firms/<int:pk>", firms.firm, name="firm"),
        path("invited/<str:token>", links.invited, name="invited"),
        path(f"{DESIGN}/now", presence.now, name="now"),
        path(f"{DESIGN}/find", find.find, name="find"),
        path(f"{DESIGN}/comments", presence.comments, name="comments"),
    ]
    found += [path(f"{DESIGN}/{name}", getattr(views, name), name=name) for name in SHARED]
    for step in steps():
        found += [
            path(f"{DESIGN}/{action.path}", views.acted(action, action.needs or step.needs), name=action.name)
            for action in step.actions
        ]
        found += [
            path(f"{DESIGN}/{fragment.path}", views.answered(fragment), name=fragment.name)
            for fragment in step.fragments
        ]
        found += [path(f"{DESIGN}/{file.path}", views.taken_away(file), name=file.name) for file in step.downloads]
    return [*found, path(f"{DESIGN}/<slug:screen>", views.screen, name="screen")]
