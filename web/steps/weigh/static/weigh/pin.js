/* The pin on a map: dragged, or moved by keys; the year under it is told as it moves, Enter keeps it as a design. */
import { clamp, draggable, within } from "../ui/drag.js";

const map = () => document.querySelector("[data-map]");
const frame = (svg) => Object.fromEntries(Object.entries(svg.dataset).map(([k, v]) => [k, Number(v)]));
const stepped = (value, step, low, high) => clamp(Math.round(value / step) * step, low, high);

function put(x, y) {
  const svg = map();
  const f = frame(svg);
  const px = f.left + ((f.right - f.left) * (x - f.x0)) / (f.x1 - f.x0);
  const py = f.foot - ((f.foot - f.top) * (y - f.y0)) / (f.y1 - f.y0);
  const pin = svg.querySelector("[data-pin]");
  pin.setAttribute("transform", `translate(${px.toFixed(1)},${py.toFixed(1)})`);
  pin.dataset.x = x;
  pin.dataset.y = y;
  pin.setAttribute("aria-valuenow", y);
  svg.querySelector("[data-guide]").setAttribute("d", `M${f.left},${py}H${px}V${f.foot}`);
  const form = document.getElementById("keep-pin");
  form.elements["at.x"].value = x;
  form.elements["at.y"].value = y;
  ask();
}

/* one question at a time, the newest wins */
let asking = false;
let wanted = false;
async function ask() {
  wanted = true;
  if (asking) return;
  asking = true;
  while (wanted) {
    wanted = false;
    const form = document.getElementById("keep-pin");
    const query = new URLSearchParams([...new FormData(form)].filter(([name]) => /^(pin|at)\./.test(name)));
    const answer = await fetch(`${map().dataset.told}?${query}`).catch(() => null);
    const told = document.getElementById("pin-told");
    if (answer?.ok && !answer.redirected && told) {
      told.innerHTML = await answer.text();
      const pin = map()?.querySelector("[data-pin]");
      pin?.setAttribute("aria-valuetext", told.querySelector(".label")?.textContent || told.textContent);
      document.getElementById("keep-button")?.removeAttribute("disabled");
    }
  }
  asking = false;
}

function at(event) {
  const svg = map();
  const f = frame(svg);
  const p = within(svg, event);
  return [
    stepped(f.x0 + ((p.x - f.left) * (f.x1 - f.x0)) / (f.right - f.left), f.stepx, f.x0, f.x1),
    stepped(f.y0 + ((f.foot - p.y) * (f.y1 - f.y0)) / (f.foot - f.top), f.stepy, f.y0, f.y1),
  ];
}
draggable("[data-map]", {
  start: (svg, event) => {
    put(...at(event));
    svg.querySelector("[data-pin]").focus();
    return svg;
  },
  move: (_svg, event) => put(...at(event)),
  end: () => {},
});

document.addEventListener("keydown", (event) => {
  const pin = event.target.closest?.("[data-pin]");
  if (!pin) return;
  const f = frame(map());
  const times = event.shiftKey ? 10 : 1;
  const [x, y] = [Number(pin.dataset.x), Number(pin.dataset.y)];
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
  if (way) put(stepped(x + way[0] * times * f.stepx, f.stepx, f.x0, f.x1), stepped(y + way[1] * times * f.stepy, f.stepy, f.y0, f.y1));
  else if (event.key === "Escape") put(Number(pin.dataset.drawnX), Number(pin.dataset.drawnY));
  else if (event.key === "Enter") document.getElementById("keep-pin").requestSubmit();
  else return;
  event.preventDefault();
  event.stopPropagation();
});
