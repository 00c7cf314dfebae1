/* The carpet: a click chooses day and hour; the pointer tells them, with the value. */
import { dateOf, hourOf } from "../ui/calendar.js";
import { clamp } from "../ui/drag.js";
import { to } from "../ui/send.js";

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
  if (!carpet) return;
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
