"""Paper, step 8: a report put together, issued and shown to a client; single sheets."""

from heat.common.documents import Document
from heat.design import parse
from heat.economics.certificates import missing
from web.editor.design_page import DesignPage
from web.editor.step import Action, Download, Fragment, PaletteCommand, RowList, Step, View, address_of
from web.steps.paper.compose import draft_pdf, issue_report, issued_pdf, printing, report_view, set_letterhead, share
from web.steps.paper.single import (
    bring_design,
    commissioning_pdf,
    design_json,
    feasible_pdf,
    horizon_pdf,
    parts_spreadsheet,
    project_zip,
    scheme_pdf,
    scheme_svg,
    single_pages_view,
    valves_pdf,
)

VIEWS = (
    View(key="report", title="Report", template="paper/compose.html", build=report_view, under="p"),
    View(
        key="files",
        earlier=("sheets",),
        title="Sheets and files",
        template="paper/files.html",
        build=single_pages_view,
        under="p",
    ),
)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views."""
    return [
        PaletteCommand(text=f"Paper: {view.title.lower()}", href=address_of(page.design, "paper", view=view.key))
        for view in VIEWS
    ]


def _certificate(document: Document, preset: str) -> Document:
    """A certificate to fill in: of the first part that has none, by the standard it is usually tested by."""
    lacking = missing(parse(document))
    taken = {row["of"] for row in document["safety"]["certificates"]}
    found = next((one for one in lacking if one.part not in taken), None)
    part, standard = (found.part, found.standard) if found else ("collector", "")
    return {"of": part, "number": "", "standard": standard, "dated": "", "document": ""}


STEP = Step(
    key="paper",
    title="Paper",
    views=VIEWS,
    commands=commands,
    styles=("paper/paper.css",),
    rows={"safety.certificates": RowList(new=_certificate)},
    fragments=(Fragment(name="report-printing", path="paper/printing", answer=printing),),
    actions=(
        Action(name="report-issue", path="paper/issue", run=issue_report),
        Action(name="report-share", path="paper/share", run=share),
        Action(name="bring-design", path="paper/bring", run=bring_design),
        Action(name="letterhead", path="paper/letterhead", run=set_letterhead),
    ),
    downloads=(
        Download(name="report-pdf", path="paper/report.pdf", file="report-{letter}.pdf", make=issued_pdf),
        Download(name="report-draft", path="paper/draft.pdf", file="draft-{letter}.pdf", make=draft_pdf),
        Download(name="scheme-pdf", path="paper/scheme.pdf", file="scheme-{letter}.pdf", make=scheme_pdf),
        Download(name="scheme-svg", path="paper/scheme.svg", file="scheme-{letter}.svg", make=scheme_svg),
        Download(name="horizon-pdf", path="paper/horizon.pdf", file="horizon-{letter}.pdf", make=horizon_pdf),
        Download(name="valves-pdf", path="paper/valves.pdf", file="valves-{letter}.pdf", make=valves_pdf),
        Download(name="feasible-pdf", path="paper/feasible.pdf", file="feasible-{letter}.pdf", make=feasible_pdf),
        Download(
            name="commissioning-pdf",
            path="paper/commissioning.pdf",
            file="commissioning-{letter}.pdf",
            make=commissioning_pdf,
        ),
        Download(name="project-zip", path="paper/project.zip", file="{project}.zip", make=project_zip, needs="edit"),
        Download(name="design-json", path="paper/design.json", file="design-{letter}.json", make=design_json),
        Download(name="parts-xlsx", path="paper/parts.xlsx", file="parts-{letter}.xlsx", make=parts_spreadsheet),
    ),
)
