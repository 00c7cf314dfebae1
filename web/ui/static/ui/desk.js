/* The desk: every edit is sent as it is made, and the page is updated with the answer. */
import { settleNow, settling } from "./drag.js";
import "./leaving.js";
import { address, aim, edit, go, here, onInk, putBack, say, send, to } from "./send.js";

/* what one step down or up, or another part, would bring: more years, asked for when the hand rests; the newest question
   wins, the server drops one that is no longer about the page, and while others edit it tells us to ask again */
const REST_MS = 500;
let stepping = null;
let resting = null;
function askSteps() {
  const later = document.querySelector("[data-load]");
  if (later) fetch(later.dataset.load).then(async (answer) => { if (answer.ok) later.textContent = await answer.text(); }).catch(() => {});
  stepping = new AbortController();
  for (const place of document.querySelectorAll("[data-steps]")) askFor(place, stepping.signal, 1);
}
function askFor(place, signal, times) {
  fetch(place.dataset.steps, { signal })
    .then(async (answer) => {
      if (answer.status === 200 && !answer.redirected) place.innerHTML = await answer.text();
      const again = Number(answer.headers.get("Retry-After"));
      if (again) setTimeout(() => signal.aborted || askFor(place, signal, times + 1), 1000 * again * Math.min(times, 5));
    })
    .catch(() => {});
}
function loadSteps() {
  stepping?.abort();
  clearTimeout(resting);
  resting = setTimeout(askSteps, REST_MS);
}
onInk(loadSteps);
askSteps();
for (const row of [".designs-row", ".tabs"]) {
  document.querySelector(`${row} [aria-current]`)?.scrollIntoView({ inline: "center", block: "nearest" });
}

/* a refused upload is shown at the address it was sent to: go on from the page's own */
const own = document.querySelector("[data-here]")?.dataset.here;
if (own && new URL(own, location.href).pathname !== location.pathname) history.replaceState(null, "", own);

document.addEventListener("input", (event) => {
  if (event.target.dataset?.path) event.target.dataset.dirty = "1";
});
document.addEventListener("focusout", (event) => {
  if (!event.target.dataset?.path) return;
  settleNow();
  delete event.target.dataset.dirty; // what was changed has gone out by now; the rest was typed and typed back
});
document.addEventListener("change", (event) => {
  const field = event.target;
  if (field.dataset?.path) edit(field);
  if (field.matches?.("[data-go]")) to({ [field.dataset.go]: field.value, instead: "", ...chosenHour() });
});

document.addEventListener("click", (event) => {
  if (event.target.id === "said") say("");
  const button = event.target.closest?.("[data-do],[data-mine],[data-theirs],[data-move],[data-part],[data-list],button[data-choose],[data-put],[data-set],[data-way],[data-jump]");
  if (!button) return;
  const near = button.closest(".field, .hour-shape")?.querySelector("[data-path]");
  if (button.dataset.do) send(button.dataset.do, {}, null);
  else if (button.dataset.jump) {
    const [day, hour] = button.dataset.jump.split(" ");
    to({ day, hour, ...shownHours() });
  } else if (button.dataset.way) send(address("choose"), { changes: button.dataset.way, ...(button.dataset.force === undefined ? {} : { force: "1" }) }, null);
  else if (button.dataset.mine !== undefined) edit(near, { force: "1" });
  else if (button.dataset.theirs !== undefined) go(here());
  else if (button.dataset.list) {
    const { list: path, preset = "", index } = button.dataset;
    send(address("rows"), index === undefined ? { path, preset } : { path, index }, null);
  } else if (button.dataset.choose) send(address("choose"), { preset: button.dataset.choose }, null);
  else if (button.dataset.put) {
    const url = here();
    if (button.dataset.goto) url.searchParams.set(button.dataset.goto, button.dataset.to);
    aim(url);
    send(address("edit"), { path: button.dataset.put, value: button.dataset.value }, null);
  } else if (button.dataset.part) {
    const url = here();
    url.searchParams.set("part", button.dataset.part);
    url.searchParams.delete("instead");
    url.searchParams.delete("fold");
    go(url);
  } else if (button.dataset.set) to({ [button.dataset.set]: button.dataset.to, ...chosenHour() });
  else move(Number(button.dataset.move));
});

/* what a new address keeps of the page: the hour chosen, the hours shown */
function chosenHour() {
  const place = document.querySelector("[data-traces]") && document.querySelector("[data-hour]");
  return place ? { day: place.dataset.day, hour: place.dataset.hour } : {};
}
const shownHours = () => {
  const days = document.querySelector("[data-traces]");
  return days ? { start: days.dataset.first } : {};
};
function move(hours) {
  const drawing = document.querySelector("[data-hour]");
  if (!drawing) return;
  const index = (Number(drawing.dataset.day) * 24 + Number(drawing.dataset.hour) + hours + 8760) % 8760;
  to({ day: Math.floor(index / 24), hour: index % 24, ...shownHours() });
}

/* a key for every frequent act: the control it stands for is pressed */
const ACTS = {
  k: "button[data-part=kind]", a: "button[data-part=add]", o: ".turn [data-set=instead]", f: ".panel [data-set=fold]",
  b: ".copy a", c: ".copy button", s: "[data-save]", v: ["#books a[href$=scheme]", ".account thead a"],
  ",": "a.design:has(+ button.design)", ".": "button.design + a.design",
  n: "[data-after]", p: "[data-before]", t: "[popovertarget=traces]", "+": "[data-zoom]", "=": "[data-zoom]", "-": "[data-zoom] + [data-zoom]",
  q: ".quantities [aria-current] + button", Q: ".quantities button:has(+ [aria-current])",
};

/* arrows step a value, Shift tenfold; Enter keeps; Escape restores */
const settle = settling();
document.addEventListener("keydown", (event) => {
  const field = event.target;
  const writing = field.matches?.("input, select, textarea, [role=slider]");
  if (field.dataset?.path && field.dataset.step && ["ArrowUp", "ArrowDown"].includes(event.key)) {
    event.preventDefault();
    const step = Number(field.dataset.step) * (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
    const now = Number(field.value.replace(",", ".").replace("−", "-")) || 0;
    const places = Math.max((field.dataset.step.split(".")[1] || "").length, (field.value.split(".")[1] || "").length);
    let next = Number((now + step).toFixed(places));
    if (field.dataset.low) next = Math.max(next, Number(field.dataset.low));
    if (field.dataset.high) next = Math.min(next, Number(field.dataset.high));
    field.value = String(next);
    field.dataset.dirty = "1";
    settle(() => edit(field));
    return;
  }
  if (field.dataset?.path && event.key === "Escape") {
    settle(null);
    putBack(field);
    field.classList.remove("unsent");
    field.value = field.defaultValue;
    delete field.dataset.dirty;
    field.blur();
    return;
  }
  if (event.key === "Escape") say("");
  const held = event.ctrlKey || event.metaKey;
  if (held && ["z", "y"].includes(event.key.toLowerCase())) {
    if (field.dataset?.dirty) return;
    event.preventDefault();
    const forward = event.key.toLowerCase() === "y" || event.shiftKey;
    document.querySelector(forward ? "[data-redo]" : "[data-undo]")?.click();
    return;
  }
  if (writing || held || event.altKey) return;
  if (/^[1-9]$/.test(event.key)) document.querySelectorAll(".tabs a")[Number(event.key) - 1]?.click();
  const pressed = ACTS[event.key];
  if (pressed && !document.querySelector("dialog[open], :popover-open")) {
    const wanted = [].concat(pressed).map((one) => document.querySelector(one)).find(Boolean);
    if (wanted && !wanted.disabled) {
      event.preventDefault();
      wanted.click();
      return;
    }
  }
  const hours = { ArrowLeft: -1, ArrowRight: 1, "[": -24, "]": 24, "{": -720, "}": 720 }[event.key];
  if (hours && !event.shiftKey === !"{}".includes(event.key) && document.querySelector("[data-hour]")) {
    event.preventDefault();
    move(hours);
  }
});
