/* Ports, coils, sensors and heaters are dragged or stepped to their height; the year follows. */
import { clamp, draggable, settling, within } from "../ui/drag.js";
import { edit, preview } from "../ui/send.js";

const settle = settling();
const point = (path) => document.querySelector(`[data-height="${path}"]`);
const keep = (path, value, expected) => edit({ type: "", value, dataset: { path, expected }, classList: point(path).classList });

draggable("[data-height]", {
  start(grip) {
    grip.focus();
    const { height: path, expected, top, foot } = grip.dataset;
    return { path, expected, top: Number(top), foot: Number(foot), value: null };
  },
  move(held, event) {
    const at = within(document.querySelector("svg.scheme"), event);
    held.value = clamp((held.foot - at.y) / (held.foot - held.top), 0, 1).toFixed(2);
    const y = held.foot - held.value * (held.foot - held.top);
    for (const part of point(held.path).querySelectorAll("rect, text")) part.setAttribute("y", String(y));
    preview(held.path, () => held.value);
  },
  end({ path, value, expected }) {
    if (value !== null) keep(path, value, expected);
  },
});

document.addEventListener("keydown", (event) => {
  const grip = event.target.closest?.("[data-height]");
  if (!grip || !["ArrowUp", "ArrowDown", "Home", "End"].includes(event.key)) return;
  event.preventDefault();
  const step = (event.shiftKey ? 0.1 : 0.01) * (event.key === "ArrowUp" ? 1 : -1);
  const now = Number(grip.getAttribute("aria-valuenow"));
  const value = event.key === "Home" ? 0 : event.key === "End" ? 1 : clamp(now + step, 0, 1);
  grip.setAttribute("aria-valuenow", value.toFixed(2));
  const { height: path, expected } = grip.dataset;
  settle(() => keep(path, value.toFixed(2), expected));
});
