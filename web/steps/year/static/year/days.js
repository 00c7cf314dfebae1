/* The days: values at the cursor, a click chooses, a drag pans, Shift and a drag zooms. */
import { HOURS, dateOf, hourOf } from "../ui/calendar.js";
import { clamp, draggable, within } from "../ui/drag.js";
import { to } from "../ui/send.js";

const days = () => document.querySelector("svg[data-traces]");

/* where on the days a pointer is: hours from the window's first, with their part */
function along(svg, event) {
  return (within(svg, event).x - Number(svg.dataset.left)) / Number(svg.dataset.step);
}
const wide = (svg) => Number(svg.dataset.count);
const first = (svg) => Number(svg.dataset.first);

function tell(svg, n) {
  const values = JSON.parse(svg.dataset.traces);
  for (const place of svg.querySelectorAll("[data-value]")) place.textContent = values[place.dataset.value][n];
  const plate = svg.closest("section").querySelector("[data-at]");
  plate.textContent = n === Number(svg.dataset.chosen) ? plate.dataset.at : `${dateOf(first(svg) + n)} under the pointer`;
}
function hair(svg, n) {
  const line = svg.querySelector("[data-hair]");
  const x = Number(svg.dataset.left) + Number(svg.dataset.step) * (n + 0.5);
  line.setAttribute("transform", `translate(${x} 0)`);
  line.setAttribute("visibility", "visible");
}
function rest(svg) {
  svg.querySelector("[data-hair]").setAttribute("visibility", "hidden");
  tell(svg, Number(svg.dataset.chosen));
}

const DRAG_PX = 4;
const [SHORTEST, LONGEST] = [6, 336];

const holding = draggable("svg[data-traces]", {
  start(svg, event) {
    const from = along(svg, event);
    if (from < 0 || from > wide(svg)) return null;
    document.activeElement?.blur?.();
    return { svg, from, now: from, x: event.clientX, sweep: event.shiftKey, moved: false };
  },
  move(held, event) {
    const { svg } = held;
    held.moved ||= Math.abs(event.clientX - held.x) > DRAG_PX;
    if (!held.moved) return;
    held.now = clamp(along(svg, event), 0, wide(svg));
    if (held.sweep) {
      const box = svg.querySelector("[data-sweep]");
      const [left, step] = [Number(svg.dataset.left), Number(svg.dataset.step)];
      box.setAttribute("x", String(left + step * Math.min(held.now, held.from)));
      box.setAttribute("width", String(step * Math.abs(held.now - held.from)));
      box.setAttribute("visibility", "visible");
    } else {
      held.start = clamp(Math.round(first(svg) + held.from - held.now), 0, HOURS - wide(svg));
      svg.closest("section").querySelector("[data-at]").textContent = `from ${dateOf(held.start)}`;
    }
  },
  end({ svg, from, now, sweep, moved, start }) {
    const chosen = first(svg) + Number(svg.dataset.chosen);
    if (!moved) to({ ...hourOf(first(svg) + Math.floor(clamp(from, 0, wide(svg) - 1))), start: first(svg) });
    else if (sweep) {
      const [low, high] = [Math.floor(Math.min(now, from)), Math.ceil(Math.max(now, from))];
      look(first(svg) + low, clamp(high - low, SHORTEST, LONGEST), chosen);
    } else if (start !== undefined) look(start, wide(svg), chosen);
  },
});

document.addEventListener("pointermove", (event) => {
  const svg = event.target.closest?.("svg[data-traces]");
  if (!svg || holding() || event.pointerType === "touch") return;
  const at = along(svg, event);
  if (at < 0 || at >= wide(svg)) {
    rest(svg);
    return;
  }
  tell(svg, Math.floor(at));
  hair(svg, Math.floor(at));
});
document.addEventListener("pointerout", (event) => {
  const svg = event.target.closest?.("svg[data-traces]");
  if (svg && !svg.contains(event.relatedTarget) && !holding()) rest(svg);
});

/* show other hours: the chosen one comes along where it would be lost */
function look(start, span, chosen) {
  const begin = clamp(start, 0, HOURS - span);
  to({ start: begin, span, ...hourOf(clamp(chosen, begin, begin + span - 1)) });
}
function pan(share) {
  const svg = days();
  const by = Math.max(Math.round(wide(svg) / 4), 1) * share;
  look(first(svg) + by, wide(svg), first(svg) + Number(svg.dataset.chosen) + by);
}
function zoom(span, about) {
  const svg = days();
  if (!span) return;
  const n = about ?? Number(svg.dataset.chosen);
  const whole = span >= 24 ? 24 : 1;
  const begin = first(svg) + n - span * (n / wide(svg));
  const chosen = first(svg) + Number(svg.dataset.chosen);
  look(span >= wide(svg) ? whole * Math.round(begin / whole) : span >= 24 ? 24 * Math.floor(chosen / 24) : Math.round(begin), span, chosen);
}
document.addEventListener("wheel", (event) => {
  const svg = event.target.closest?.("svg[data-traces]");
  if (!svg || !event.ctrlKey) return;
  event.preventDefault();
  const button = document.querySelectorAll("[data-zoom]")[event.deltaY > 0 ? 1 : 0];
  zoom(Number(button.dataset.zoom), clamp(along(svg, event), 0, wide(svg)));
}, { passive: false });
document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-zoom], [data-pan]");
  if (!button || !days()) return;
  if (button.dataset.pan) pan(Number(button.dataset.pan));
  else zoom(Number(button.dataset.zoom));
});
document.addEventListener("keydown", (event) => {
  if (!days() || !event.shiftKey || event.target.matches?.("input, select, textarea, [role=slider]")) return;
  if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
    event.preventDefault();
    pan(event.key === "ArrowLeft" ? -1 : 1);
  }
});

/* traces chosen, a date typed, the table of what is shown */
document.addEventListener("change", (event) => {
  if (event.target.dataset?.trace) {
    const on = [...document.querySelectorAll("[data-trace]")].filter((box) => box.checked).map((box) => box.dataset.trace);
    to({ t: on.join(",") });
  }
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches?.("[data-date-form]")) return;
  event.preventDefault();
  to({ day: "", start: "", date: new FormData(event.target).get("date") });
});
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("[data-with-address]");
  if (!link) return;
  const url = new URL(link.href);
  url.search = location.search;
  const place = document.querySelector("[data-hour]");
  for (const name of ["day", "hour"]) url.searchParams.set(name, place.dataset[name]);
  url.searchParams.delete("date");
  link.href = url;
});
