/* The outline of the world and the field of towns: a click or a name moves the site. Twelve means: a form half typed is kept, a table pasted fills its cells. */
import { within } from "../ui/drag.js";
import { address, headers, send } from "../ui/send.js";

const KEPT_AFTER_MS = 400;
let keeping = null;

document.addEventListener("click", (event) => {
  const world = event.target.closest?.("[data-world]");
  if (!world) return;
  const at = within(world, event);
  send(address("place"), { latitude: (90 - at.y - 6).toFixed(1), longitude: (at.x - 180).toFixed(1) });
});

function goTo(form, more = {}) {
  send(address("place"), { place: form.elements.place.value, town: form.elements.town.value, ...more });
}
document.addEventListener("submit", (event) => {
  if (!event.target.matches?.("[data-goes]")) return;
  event.preventDefault();
  goTo(event.target, event.submitter?.name === "town" ? { town: event.submitter.value } : {});
});
document.addEventListener("town", (event) => {
  const form = event.target.closest("[data-goes]");
  if (form) goTo(form);
});

document.addEventListener("input", (event) => {
  const form = event.target.closest?.("[data-keep]");
  if (!form) return;
  clearTimeout(keeping);
  keeping = setTimeout(() => {
    keeping = null;
    const body = new URLSearchParams(new FormData(form));
    fetch(address("draft"), { method: "POST", body, headers: headers(), keepalive: true }).catch(() => {});
  }, KEPT_AFTER_MS);
});

/* rows of a pasted text as cells of the form: headings and names of months left out, a table lying down stood up */
export function pasted(text) {
  let rows = text.trim().split(/\r?\n/).map((line) => line.split(/[\t;]/).map((part) => part.trim()));
  if (rows.length > 1 && !rows[0].some((part) => /\d/.test(part))) rows.shift();
  const word = (part) => /[a-z]/i.test(part) && !/\d/.test(part);
  if (rows.every((row) => row.length > 1 && word(row[0]))) rows = rows.map((row) => row.slice(1));
  if (rows.length <= 5 && rows.every((row) => row.length === 12)) rows = rows[0].map((_, i) => rows.map((row) => row[i]));
  return rows;
}

document.addEventListener("paste", (event) => {
  const cell = event.target.closest?.("[data-cell]");
  const text = event.clipboardData?.getData("text") || "";
  if (!cell || !/[\t\n]/.test(text.trim())) return;
  event.preventDefault();
  const [top, left] = cell.dataset.cell.split(",").map(Number);
  for (const [i, row] of pasted(text).entries()) {
    for (const [k, part] of row.entries()) {
      const target = document.querySelector(`[data-cell="${top + i},${left + k}"]`);
      if (target) target.value = part;
    }
  }
  cell.dispatchEvent(new Event("input", { bubbles: true }));
});
