"""Site, step 2: place, weather, planes, horizon."""

from collections.abc import Callable

from heat.sun.shade import has_horizon
from heat.weather.world import KIND
from web.editor.design_page import DesignPage
from web.editor.step import Action, Context, Fragment, PaletteCommand, Step, View, address_of, value_commands
from web.simulations.rough import sun_uncertainty_text
from web.steps.site import intake
from web.steps.site.horizon import horizon_view
from web.steps.site.lists import CHOICES, ROWS
from web.steps.site.place import place_view
from web.steps.site.planes import planes_view
from web.steps.site.weather import weather_view


def _with_hemisphere_words(build: Callable[[DesignPage], Context]) -> Callable[[DesignPage], Context]:
    """A view with the words for the hemisphere it lies in."""

    def whole(page: DesignPage) -> Context:
        north = page.year.book.design.site.latitude_deg >= 0
        words = {
            "hemisphere": "north" if north else "south",
            "toward": "south (180°)" if north else "north (0°)",
            "equator_word": "south" if north else "north",
        }
        return words | build(page)

    return whole


VIEWS = (
    View(key="place", title="Place", template="site/place.html", build=_with_hemisphere_words(place_view)),
    View(key="weather", title="Weather", template="site/weather.html", build=_with_hemisphere_words(weather_view)),
    View(key="planes", title="Planes", template="site/planes.html", build=_with_hemisphere_words(planes_view)),
    View(key="horizon", title="Horizon", template="site/horizon.html", build=_with_hemisphere_words(horizon_view)),
)


def next_line(page: DesignPage) -> str:
    """What the scheme needs of the site, in one line."""
    design, file = page.year.book.design, page.project.weather
    plane = design.plane
    valid = next((p.name for p in design.site.planes if p.key == plane.on), "")
    roof = f"{valid or 'a plane'} {plane.tilt_deg:.0f}° steep facing {plane.azimuth_deg:.0f}°"
    sky = "horizon drawn" if has_horizon(design.site) else "no horizon drawn yet, so open sky"
    year = "a made-up year" if file.made_up else f"a year from {file.kind}"
    if file.kind == KIND:
        year = f"a rough climate, its sun {sun_uncertainty_text(file)}"
    return f"The scheme takes from here: {year}, {roof}, {sky}."


PLANE_VALUES = ("plane.tilt_deg", "plane.azimuth_deg", "site.albedo")
"""Values of a plane that the command line finds."""


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views and the surveyed planes."""
    at = lambda **query: address_of(page.design, "site", **query)
    found = [PaletteCommand(text=f"Site: {view.title.lower()}", href=at(view=view.key)) for view in VIEWS]
    found += value_commands(page, PLANE_VALUES, at(view="planes"), "the plane")
    return found + [
        PaletteCommand(text=f"Plane: {plane.key} {plane.name}", href=at(view="planes", plane=plane.key))
        for plane in page.year.book.design.site.planes
    ]


STEP = Step(
    styles=("site/site.css",),
    scripts=("places/towns.js", "site/sky.js", "site/place.js"),
    key="site",
    title="Site",
    views=VIEWS,
    rows=ROWS,
    choices=CHOICES,
    commands=commands,
    next_line=next_line,
    needs="survey",
    actions=(
        Action(name="move-place", path="place", run=intake.move),
        Action(name="weather", path="weather", run=intake.upload),
        Action(name="use-weather", path="weather/use", run=intake.use),
        Action(name="shift-weather", path="weather/shift", run=intake.shift),
        Action(name="delete-weather", path="weather/delete", run=intake.delete),
        Action(name="means", path="weather/means", run=intake.means),
        Action(name="draft", path="weather/draft", run=intake.draft),
        Action(name="weather-table", path="weather/table/<int:upload>", run=intake.table),
    ),
    fragments=(
        Fragment(name="spread", path="weather/spread", answer=intake.spread),
        Fragment(name="download-weather", path="weather/<int:file>.<slug:kind>", answer=intake.download),
    ),
)
