/* A shape of the day: 24 bars dragged or stepped; the numbers below are the same values. */
import { draggable, settling } from "../ui/drag.js";
import { edit, preview } from "../ui/send.js";

const TALL = 110;
const TALLEST = 114;
const FOOT = 118;
const DEPTH = 136;
const settle = settling();
const box = (path) => document.querySelector(`[data-bars="${path}"]`);
const home = (element) => element.closest("[data-bars]");
const kept = (place) => place.querySelector("[data-path]");
const weights = (place) => [...place.querySelectorAll("[data-weight]")].map((field) => field.value || "0").join(" ");

function keep(place, more) {
  kept(place).value = weights(place);
  return edit(kept(place), more);
}

function setBar(place, hour, weight) {
  const value = Math.min(Math.max(Math.round(weight * 10) / 10, 0), 1000);
  place.querySelector(`[data-weight="${hour}"]`).value = String(value);
  const bar = place.querySelector(`[data-bar="${hour}"]`);
  const height = Math.min((TALL * value) / Number(kept(place).dataset.top), TALLEST);
  bar.querySelector(".bar").setAttribute("height", String(height));
  bar.querySelector(".bar").setAttribute("y", String(FOOT - height));
  bar.setAttribute("aria-valuenow", String(value));
  bar.setAttribute("aria-valuetext", String(value));
}

function move(held, event) {
  const place = box(held.path);
  const frame = place.querySelector(".daybars").getBoundingClientRect();
  const y = ((event.clientY - frame.top) / frame.height) * DEPTH;
  held.top ??= kept(place).dataset.top;
  kept(place).dataset.top = held.top;
  held.weight = ((FOOT - y) / TALL) * Number(held.top);
  setBar(place, held.hour, held.weight);
  preview(held.path, () => weights(box(held.path) || place), () => {
    if (holding() !== held) return;
    const fresh = box(held.path);
    kept(fresh).dataset.top = held.top;
    for (const [hour, weight] of held.before.entries()) setBar(fresh, hour, Number(weight));
    setBar(fresh, held.hour, held.weight);
  });
}

const holding = draggable("[data-bar]", {
  start(bar, event) {
    bar.focus();
    const place = home(bar);
    const held = { path: place.dataset.bars, expected: kept(place).dataset.expected, hour: Number(bar.dataset.bar), before: weights(place).split(" ") };
    move(held, event);
    return held;
  },
  move,
  end: ({ path, expected }) => keep(box(path), { expected }),
});

document.addEventListener("keydown", (event) => {
  const bar = event.target.closest?.("[data-bar]");
  if (!bar) return;
  const [place, hour] = [home(bar), Number(bar.dataset.bar)];
  if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
    event.preventDefault();
    place.querySelector(`[data-bar="${(hour + (event.key === "ArrowRight" ? 1 : 23)) % 24}"]`).focus();
  }
  if (event.key === "ArrowUp" || event.key === "ArrowDown") {
    event.preventDefault();
    const step = (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
    setBar(place, hour, Number(bar.getAttribute("aria-valuenow")) + step);
    settle(() => keep(place));
  }
});
document.addEventListener("change", (event) => {
  if (event.target.dataset?.weight !== undefined) keep(home(event.target));
});
document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-shape]");
  if (!button) return;
  const field = button.closest("section").querySelector("[data-bars] [data-path]");
  field.value = button.dataset.shape;
  edit(field);
});
