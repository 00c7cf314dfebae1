/* The component “sky”, the sun-path sheet: the skyline is drawn with the mouse or the keyboard, live. */
import { clamp, dragging, settling, within } from "../ui/drag.js";
import { edit, expectedOf, preview } from "../ui/edits.js";

const PATH = "site.skyline";
let moving = null;
const settle = settling(350);

const sheet = () => document.querySelector("[data-sky]");
const frame = () => {
  const d = sheet().dataset;
  return Object.fromEntries(["left", "right", "top", "foot", "centre", "reach", "high"].map((k) => [k, Number(d[k])]));
};
const off = (f, b) => ((((b - f.centre + 180) % 360) + 360) % 360) - 180;
const x = (f, b) => f.left + ((off(f, b) + f.reach) * (f.right - f.left)) / (2 * f.reach);
const y = (f, a) => f.foot - (a * (f.foot - f.top)) / f.high;

function at(event) {
  const f = frame();
  const p = within(sheet(), event);
  const across = clamp(((p.x - f.left) * 2 * f.reach) / (f.right - f.left) - f.reach, -f.reach + 0.1, f.reach - 0.1);
  const b = (f.centre + across + 360) % 360;
  const a = clamp(((f.foot - p.y) * f.high) / (f.foot - f.top), 0, Math.min(f.high, 89));
  return { b: Math.round(b * 2) / 2, a: Math.round(a * 2) / 2 };
}

/* all points, also those outside the sheet: they stand in the field of typed points */
const field = () => document.querySelector(`textarea[data-path="${PATH}"]`);
function points() {
  return field().defaultValue.split(",").map((part) => part.trim().split(/\s+/).map(Number)).filter((p) => p.length === 2 && p.every(Number.isFinite)).map(([b, a]) => ({ b, a }));
}
const text = (all) => all.map((p) => `${p.b} ${p.a}`).join(", ");

function edge(f, all) {
  const ring = all.map((p) => ({ o: off(f, p.b), a: p.a })).sort((p, q) => p.o - q.o);
  if (!ring.length) return "";
  const first = ring[0];
  const last = ring[ring.length - 1];
  const gap = first.o + 360 - last.o;
  const height = (o) => {
    if (gap <= 0) return first.a;
    const along = o >= last.o ? o - last.o : o + 360 - last.o;
    return last.a + ((first.a - last.a) * along) / gap;
  };
  const inside = ring.filter((p) => Math.abs(p.o) < f.reach);
  const edges = [];
  const low = ring.filter((p) => p.o <= -f.reach).pop();
  const high = ring.find((p) => p.o >= f.reach);
  const between = (p, q, o) => (q.o === p.o ? q.a : p.a + ((q.a - p.a) * (o - p.o)) / (q.o - p.o));
  const start = inside[0] || high || first;
  const end = inside[inside.length - 1] || low || last;
  edges.push({ o: -f.reach, a: low && start.o > low.o ? between(low, start, -f.reach) : height(-f.reach) });
  edges.push(...inside);
  edges.push({ o: f.reach, a: high && high.o > end.o ? between(end, high, f.reach) : height(f.reach) });
  return edges.map((p, i) => `${i ? "L" : "M"}${(f.left + ((p.o + f.reach) * (f.right - f.left)) / (2 * f.reach)).toFixed(1)},${y(f, p.a).toFixed(1)}`).join("");
}

function draw(all, chosen) {
  const f = frame();
  const line = edge(f, all);
  const area = line ? `${line}V${f.foot}H${f.left}Z` : "";
  sheet().querySelector("[data-edge]").setAttribute("d", line);
  for (const name of ["ground", "hatch"]) sheet().querySelector(`[data-${name}]`).setAttribute("d", area);
  const mark = sheet().querySelector(`[data-point="${chosen}"]`);
  if (!mark || !all[chosen]) return;
  mark.setAttribute("x", x(f, all[chosen].b));
  mark.setAttribute("y", y(f, all[chosen].a));
  plate(all[chosen]);
}

function plate(point) {
  const f = frame();
  const note = sheet().querySelector("[data-plate]");
  const px = clamp(x(f, point.b) - 52, f.left, f.right - 104);
  const py = y(f, point.a) - 34 < f.top ? y(f, point.a) + 12 : y(f, point.a) - 34;
  note.setAttribute("transform", `translate(${px.toFixed(1)},${py.toFixed(1)})`);
  note.querySelector("text").textContent = `${point.b.toFixed(1)}°, up ${point.a.toFixed(1)}°`;
  note.setAttribute("visibility", "visible");
}
const unplate = () => sheet()?.querySelector("[data-plate]")?.setAttribute("visibility", "hidden");

const send = (all, focus, expected) => edit(field(), { value: text(all), ...(expected && { expected }) }, { focus: `[data-point="${focus}"]` });
const live = ({ all }) => preview(PATH, text(all));

const take = (all, index, fresh) => ({ all, index, fresh, expected: expectedOf(field()) });
const drop = ({ all, index, fresh, expected }, moved) => {
  if (fresh || moved) send(all, index, expected);
};
function shift(taken, event) {
  const before = taken.all[taken.index];
  const there = at(event);
  if (before.a === there.a && before.b === there.b) return false;
  taken.all[taken.index] = there;
  draw(taken.all, taken.fresh ? -1 : taken.index);
  plate(there);
  live(taken);
  return true;
}
/* a point taken, or a fresh one set where the open sky was pressed */
const drag = dragging("[data-point], [data-sky-open]", {
  start(mark, event) {
    if (mark.dataset.point !== undefined) {
      mark.focus();
      return take(points(), Number(mark.dataset.point), false);
    }
    const all = [...points(), at(event)];
    const taken = take(all, all.length - 1, true);
    draw(all, -1);
    plate(all[taken.index]);
    live(taken);
    return taken;
  },
  move: shift,
  end: drop,
});

document.addEventListener("alpine:init", () => {
  Alpine.data("sky", () => ({
    dragged: drag.attributes,
    /* a preview draws the sheet anew: what is moved stays where it is */
    previewed() {
      const taken = drag.held() ?? moving;
      if (taken) draw(taken.all, taken.fresh ? -1 : taken.index);
    },
    focused(event) {
      const mark = event.target.closest?.("[data-point]");
      if (mark) plate({ b: Number(mark.dataset.b), a: Number(mark.dataset.a) });
      else unplate();
    },
    step(event) {
      const mark = event.target.closest("[data-point]");
      if (!mark) return;
      const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
      const index = Number(mark.dataset.point);
      const all = moving?.all || points();
      if (by) {
        event.preventDefault();
        event.stopPropagation();
        const times = event.shiftKey ? 10 : 1;
        const p = all[index];
        all[index] = { b: (p.b + times * by[0] + 360) % 360, a: clamp(p.a + times * by[1], 0, 89) };
        moving = { all, index, expected: moving?.expected || expectedOf(field()) };
        draw(all, index);
        live(moving);
        settle(() => {
          const { expected } = moving;
          moving = null;
          send(all, index, expected);
        });
      } else if (event.key === "Delete" || event.key === "Backspace") {
        event.preventDefault();
        send(all.filter((_, i) => i !== index), Math.max(index - 1, 0));
      }
    },
    /* a point added by keyboard stands halfway into the widest gap of the sheet */
    add() {
      const f = frame();
      const all = points();
      const ends = [-f.reach, ...all.map((p) => off(f, p.b)).filter((o) => Math.abs(o) < f.reach).sort((p, q) => p - q), f.reach];
      let best = 0;
      for (let i = 1; i < ends.length - 1; i += 1) if (ends[i + 1] - ends[i] > ends[best + 1] - ends[best]) best = i;
      const b = Math.round((f.centre + (ends[best] + ends[best + 1]) / 2 + 360) % 360);
      send([...all, { b, a: 10 }], all.length);
    },
  }));
});
