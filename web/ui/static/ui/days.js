/* The days and the carpet under the pointer: values at the cursor, a click chooses, a drag pans, Shift and a drag zooms. */
"use strict";

(() => {
  const HOURS = 8760;
  const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
  const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
  const days = () => document.querySelector("svg[data-traces]");
  const to = (values) => window.redLedger.to(values);
  const clamp = (value, low, high) => Math.min(Math.max(value, low), high);
  const hourOf = (index) => ({ day: Math.floor(index / 24), hour: index % 24 });

  function dateOf(index) {
    let left = Math.floor(index / 24);
    let month = 0;
    while (left >= LENGTHS[month]) left -= LENGTHS[month++];
    return `${left + 1} ${MONTHS[month]}, ${index % 24} h`;
  }

  /* where on the days a pointer is: hours from the window's first, with their part */
  function along(svg, event) {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return (at.x - Number(svg.dataset.left)) / Number(svg.dataset.step);
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

  let held = null;
  document.addEventListener("pointerdown", (event) => {
    const svg = event.target.closest?.("svg[data-traces]");
    if (!svg || event.button !== 0) return;
    const from = along(svg, event);
    if (from < 0 || from > wide(svg)) return;
    held = { svg, from, x: event.clientX, sweep: event.shiftKey, moved: false, id: event.pointerId };
    event.preventDefault();
    document.activeElement?.blur?.();
  });
  document.addEventListener("pointermove", (event) => {
    if (held) {
      const { svg } = held;
      held.moved ||= Math.abs(event.clientX - held.x) > 4;
      if (!held.moved) return;
      const now = clamp(along(svg, event), 0, wide(svg));
      if (held.sweep) {
        const box = svg.querySelector("[data-sweep]");
        const [left, step] = [Number(svg.dataset.left), Number(svg.dataset.step)];
        box.setAttribute("x", String(left + step * Math.min(now, held.from)));
        box.setAttribute("width", String(step * Math.abs(now - held.from)));
        box.setAttribute("visibility", "visible");
      } else {
        const start = clamp(Math.round(first(svg) + held.from - now), 0, HOURS - wide(svg));
        const plate = svg.closest("section").querySelector("[data-at]");
        plate.textContent = `from ${dateOf(start)}`;
        held.start = start;
      }
      return;
    }
    const svg = event.target.closest?.("svg[data-traces]");
    if (!svg || event.pointerType === "touch") return;
    const at = along(svg, event);
    if (at < 0 || at >= wide(svg)) return rest(svg);
    tell(svg, Math.floor(at));
    hair(svg, Math.floor(at));
  });
  document.addEventListener("pointerout", (event) => {
    const svg = event.target.closest?.("svg[data-traces]");
    if (svg && !svg.contains(event.relatedTarget) && !held) rest(svg);
  });
  document.addEventListener("pointerup", (event) => {
    if (!held) return;
    const { svg, from, sweep, moved, start } = held;
    held = null;
    if (!moved) return to({ ...hourOf(first(svg) + Math.floor(clamp(from, 0, wide(svg) - 1))), start: first(svg) });
    const now = clamp(along(svg, event), 0, wide(svg));
    const chosen = first(svg) + Number(svg.dataset.chosen);
    if (sweep) {
      const [low, high] = [Math.floor(Math.min(now, from)), Math.ceil(Math.max(now, from))];
      const span = clamp(high - low, 6, 336);
      look(first(svg) + low, span, chosen);
    } else if (start !== undefined) look(start, wide(svg), chosen);
  });
  document.addEventListener("pointercancel", () => {
    held = null;
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

  /* readings with and without a mistake: one hair through all, values beside it */
  const readings = () => document.querySelector("[data-readings]");
  function read(box, n) {
    box.dataset.readings = String(n);
    box.querySelector("[data-at]").textContent = `At ${dateOf(Number(box.dataset.first) + n)}:`;
    for (const svg of box.querySelectorAll("[data-reading]")) {
      const [usual, odd] = JSON.parse(svg.dataset.reading);
      svg.querySelector("[data-usual]").textContent = usual[n];
      svg.querySelector("[data-odd]").textContent = odd[n];
      svg.querySelector("[data-hair]").setAttribute("transform", `translate(${Number(box.dataset.left) + Number(box.dataset.step) * n} 0)`);
    }
  }
  const readAgain = () => readings() && read(readings(), Number(readings().dataset.readings));
  window.addEventListener("load", readAgain);
  document.addEventListener("readings", readAgain);
  document.addEventListener("pointermove", (event) => {
    const svg = event.target.closest?.("[data-reading]");
    if (!svg) return;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse()).x;
    const box = readings();
    read(box, clamp(Math.round((at - Number(box.dataset.left)) / Number(box.dataset.step)), 0, 71));
  });
  document.addEventListener("keydown", (event) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!by || !readings() || event.target.matches?.("input[type=text], input:not([type]), select, textarea")) return;
    event.preventDefault();
    read(readings(), clamp(Number(readings().dataset.readings) + by, 0, 71));
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

  /* the carpet: a click chooses day and hour; the pointer tells them, with the value */
  const part = (at, from, size, count) => clamp(Math.floor(((at - from) / size) * count), 0, count - 1);
  function under(carpet, event) {
    const box = carpet.getBoundingClientRect();
    return 24 * part(event.clientX, box.left, box.width, 365) + part(event.clientY, box.top, box.height, 24);
  }
  let told = { of: "", values: null };
  async function valuesOf(carpet) {
    const of = `${carpet.dataset.values} ${document.querySelector("[data-revision]").dataset.revision}`;
    if (told.of === of) return told.values;
    told = { of, values: null };
    const answer = await fetch(carpet.dataset.values).catch(() => null);
    if (answer?.ok && told.of === of) told.values = await answer.json();
    return told.values;
  }
  document.addEventListener("click", (event) => {
    const carpet = event.target.closest?.("[data-carpet]");
    if (carpet) to(hourOf(under(carpet, event)));
  });
  document.addEventListener("pointermove", async (event) => {
    const carpet = event.target.closest?.("[data-carpet]");
    if (!carpet || held) return;
    const index = under(carpet, event);
    const plate = carpet.querySelector("[data-plate]");
    const box = carpet.getBoundingClientRect();
    plate.style.left = `${clamp(event.clientX - box.left + 12, 0, box.width - 190)}px`;
    plate.hidden = false;
    plate.dataset.index = String(index);
    const words = (known) => `${dateOf(index)}${known ? `: ${known.values[index]} ${known.sign}` : ""}`;
    plate.textContent = words(told.of.startsWith(carpet.dataset.values) ? told.values : null);
    const known = await valuesOf(carpet);
    if (plate.dataset.index === String(index)) plate.textContent = words(known);
  });
  document.addEventListener("pointerout", (event) => {
    const carpet = event.target.closest?.("[data-carpet]");
    if (carpet && !carpet.contains(event.relatedTarget)) carpet.querySelector("[data-plate]").hidden = true;
  });
})();
