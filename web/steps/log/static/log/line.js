/* A line of readings, typed at the tank: last values carried on, the time put in, and lines kept while there is no connection. */
import { onInk } from "../ui/send.js";

const store = (pk) => `ledger-lines-${pk}`;
const form = () => document.querySelector("form[data-line]");
const kept = (pk) => JSON.parse(localStorage.getItem(store(pk)) || "[]");
let sending = false;

function tell(pk) {
  const place = document.querySelector("[data-waiting]");
  const count = kept(pk).length;
  if (place) place.textContent = count ? `${count} line${count > 1 ? "s" : ""} wait here for a connection` : "each line is kept as it is sent";
}

async function flush(action, pk) {
  if (sending) return;
  sending = true;
  try {
    for (let lines = kept(pk); lines.length; lines = kept(pk)) {
      const answer = await fetch(action, { method: "POST", body: new URLSearchParams(lines[0]), headers: { "X-CSRFToken": csrf() } });
      if (answer.status >= 500 || answer.redirected) break;
      localStorage.setItem(store(pk), JSON.stringify(kept(pk).slice(1)));
    }
  } catch { /* still no connection: the lines stay */ }
  sending = false;
  tell(pk);
}

const csrf = () => document.querySelector("input[name=csrfmiddlewaretoken]")?.value || "";

document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-carry]")) return;
  for (const box of form().querySelectorAll("input[placeholder]")) if (!box.value) box.value = box.placeholder;
});

document.addEventListener("submit", (event) => {
  const line = event.target.closest("form[data-line]");
  if (!line) return;
  const clock = line.querySelector("[data-now]");
  if (clock && !clock.value) clock.value = clock.placeholder;
  if (navigator.onLine) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  const told = [...new FormData(line)].filter(([name]) => name !== "csrfmiddlewaretoken").map(([name, value]) => [name, String(value)]);
  const key = told.find(([name]) => name === "key");
  if (key) key[1] = crypto.randomUUID();
  localStorage.setItem(store(line.dataset.line), JSON.stringify([...kept(line.dataset.line), told]));
  for (const box of line.querySelectorAll("input.line:not([type=date])")) box.value = "";
  tell(line.dataset.line);
}, true);

function begin() {
  const line = form();
  if (!line) return;
  tell(line.dataset.line);
  if (navigator.onLine && kept(line.dataset.line).length) flush(line.action, line.dataset.line);
}
addEventListener("online", begin);
onInk(begin);
begin();
