/* Readings with and without a fault: one hair through all, values beside it. */
import { dateOf } from "../ui/calendar.js";
import { clamp, within } from "../ui/drag.js";

const LAST = 71;
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
readAgain();
document.addEventListener("readings", readAgain);
document.addEventListener("pointermove", (event) => {
  const svg = event.target.closest?.("[data-reading]");
  if (!svg) return;
  const at = within(svg, event).x;
  const box = readings();
  read(box, clamp(Math.round((at - Number(box.dataset.left)) / Number(box.dataset.step)), 0, LAST));
});
document.addEventListener("keydown", (event) => {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (!by || !readings() || event.target.matches?.("input[type=text], input:not([type]), select, textarea")) return;
  event.preventDefault();
  read(readings(), clamp(Number(readings().dataset.readings) + by, 0, LAST));
});
