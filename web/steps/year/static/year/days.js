/* The component “days”: values at the cursor, a click chooses, a drag pans, Shift and a drag zooms. */
import { HOURS, dateOf, hourOf } from "../ui/calendar.js";
import { clamp, dragging, within } from "../ui/drag.js";
import { look } from "../ui/edits.js";

const days = () => document.querySelector("svg[data-traces]");

/* where on the days a pointer is: hours from the window's first, with their part */
function along(svg, event) {
  return (within(svg, event).x - Number(svg.dataset.left)) / Number(svg.dataset.step);
}
const wide = (svg) => Number(svg.dataset.count);
const first = (svg) => Number(svg.dataset.first);

function showValues(svg, n) {
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
  showValues(svg, Number(svg.dataset.chosen));
}

const DRAG_PX = 4;
const [SHORTEST, LONGEST] = [6, 336];

const drag = dragging("svg[data-traces]", {
  start(svg, event) {
    const from = along(svg, event);
    if (from < 0 || from > wide(svg)) return null;
    document.activeElement?.blur?.();
    return { svg, from, now: from, x: event.clientX, sweep: event.shiftKey, moved: false };
  },
  move(taken, event) {
    const { svg } = taken;
    taken.moved ||= Math.abs(event.clientX - taken.x) > DRAG_PX;
    if (!taken.moved) return;
    taken.now = clamp(along(svg, event), 0, wide(svg));
    if (taken.sweep) {
      const box = svg.querySelector("[data-sweep]");
      const [left, step] = [Number(svg.dataset.left), Number(svg.dataset.step)];
      box.setAttribute("x", String(left + step * Math.min(taken.now, taken.from)));
      box.setAttribute("width", String(step * Math.abs(taken.now - taken.from)));
      box.setAttribute("visibility", "visible");
    } else {
      taken.start = clamp(Math.round(first(svg) + taken.from - taken.now), 0, HOURS - wide(svg));
      svg.closest("section").querySelector("[data-at]").textContent = `from ${dateOf(taken.start)}`;
    }
  },
  end({ svg, from, now, sweep, moved, start }) {
    const chosen = first(svg) + Number(svg.dataset.chosen);
    if (!moved) look({ ...hourOf(first(svg) + Math.floor(clamp(from, 0, wide(svg) - 1))), start: first(svg) });
    else if (sweep) {
      const [low, high] = [Math.floor(Math.min(now, from)), Math.ceil(Math.max(now, from))];
      show(first(svg) + low, clamp(high - low, SHORTEST, LONGEST), chosen);
    } else if (start !== undefined) show(start, wide(svg), chosen);
  },
});

/* show other hours: the chosen one comes along where it would be lost */
function show(start, span, chosen) {
  const begin = clamp(start, 0, HOURS - span);
  look({ start: begin, span, ...hourOf(clamp(chosen, begin, begin + span - 1)) });
}
function pan(share) {
  const svg = days();
  const by = Math.max(Math.round(wide(svg) / 4), 1) * share;
  show(first(svg) + by, wide(svg), first(svg) + Number(svg.dataset.chosen) + by);
}
function zoom(span, about) {
  const svg = days();
  if (!span) return;
  const n = about ?? Number(svg.dataset.chosen);
  const whole = span >= 24 ? 24 : 1;
  const begin = first(svg) + n - span * (n / wide(svg));
  const chosen = first(svg) + Number(svg.dataset.chosen);
  show(span >= wide(svg) ? whole * Math.round(begin / whole) : span >= 24 ? 24 * Math.floor(chosen / 24) : Math.round(begin), span, chosen);
}
document.addEventListener("alpine:init", () => {
  Alpine.data("days", () => ({
    dragged: drag.attributes,
    point(event) {
      const svg = days();
      if (drag.held() || event.pointerType === "touch") return;
      const at = along(svg, event);
      if (at < 0 || at >= wide(svg)) return rest(svg);
      showValues(svg, Math.floor(at));
      hair(svg, Math.floor(at));
    },
    leave() {
      if (!drag.held()) rest(days());
    },
    wheel(event) {
      if (!event.ctrlKey) return;
      event.preventDefault();
      const button = this.$root.querySelectorAll("[data-zoom]")[event.deltaY > 0 ? 1 : 0];
      zoom(Number(button.dataset.zoom), clamp(along(days(), event), 0, wide(days())));
    },
    zoom(event) {
      zoom(Number(event.currentTarget.dataset.zoom));
    },
    pan(event) {
      pan(Number(event.currentTarget.dataset.pan));
    },
    press(event) {
      if (!event.shiftKey || event.target.matches?.("input, select, textarea, [role=slider]") || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
      event.preventDefault();
      pan(event.key === "ArrowLeft" ? -1 : 1);
    },
    /* a file of what the page shows */
    address(event) {
      const link = event.currentTarget;
      const url = new URL(link.href);
      url.search = location.search;
      const { day, hour } = document.querySelector("[data-hour]").dataset;
      for (const [name, value] of Object.entries({ day, hour })) url.searchParams.set(name, value);
      url.searchParams.delete("date");
      link.href = url;
    },
  }));
  Alpine.data("traces", () => ({
    choose() {
      const on = [...this.$root.querySelectorAll("[data-trace]")].filter((box) => box.checked).map((box) => box.dataset.trace);
      look({ t: on.join(",") });
    },
  }));
});
