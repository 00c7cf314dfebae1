/* The component “desk”, round the whole page of a design: values stepped by arrows, keys of frequent acts, what was touched. */
import { settleNow, settling } from "./drag.js";
import { look, putBack, say } from "./edits.js";
import "./leaving.js";

/* a key for every frequent act: the control it stands for is pressed */
const ACTS = {
  k: "button[hx-get*='part=kind']", a: "button[hx-get*='part=add']", o: ".turn button", f: ".panel header button",
  b: ".copy a", c: ".copy button", s: "[data-save]", v: ["#books a[href$=scheme]", ".account thead a"],
  ",": "a.design:has(+ button.design)", ".": "button.design + a.design",
  n: "[data-after]", p: "[data-before]", t: "[popovertarget=traces]", "+": "[data-zoom]", "=": "[data-zoom]", "-": "[data-zoom] + [data-zoom]",
  q: ".quantities [aria-current] + button", Q: ".quantities button:has(+ [aria-current])",
};
const HOURS = { ArrowLeft: -1, ArrowRight: 1, "[": -24, "]": 24, "{": -720, "}": 720 };
const IN_A_YEAR = 8760;
const settle = settling();
const at = (hour) => hour.day * 24 + Number(hour.hour);

const COMMA = document.documentElement.dataset.decimal === ",";
const numeral = (text) => Number(text.replace(",", ".").replace("−", "-"));

/* an arrow steps a value, Shift tenfold, within its range; a run of steps is one edit */
function step(field, event) {
  const by = Number(field.dataset.step) * (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
  const now = numeral(field.value) || 0;
  const places = Math.max((field.dataset.step.split(".")[1] || "").length, (field.value.split(/[.,]/)[1] || "").length);
  let next = Number((now + by).toFixed(places));
  if (field.dataset.low) next = Math.max(next, numeral(field.dataset.low));
  if (field.dataset.high) next = Math.min(next, numeral(field.dataset.high));
  field.value = COMMA ? String(next).replace(".", ",") : String(next);
  field.dataset.dirty = "1";
  settle(() => field.dispatchEvent(new Event("change", { bubbles: true })));
}

function restore(field) {
  settle(null);
  putBack(field.dataset.path);
  field.classList.remove("unsent");
  field.value = field.defaultValue;
  delete field.dataset.dirty;
  field.blur();
}

function moveHours(by) {
  const shown = document.querySelector("[data-hour]").dataset;
  const index = (at(shown) + by + IN_A_YEAR) % IN_A_YEAR;
  const first = document.querySelector("[data-traces]")?.dataset.first;
  look({ day: Math.floor(index / 24), hour: index % 24, ...(first && { start: first }) });
}

document.addEventListener("alpine:init", () => {
  Alpine.data("desk", () => ({
    init() {
      for (const row of [".designs-row", ".tabs"]) {
        document.querySelector(`${row} [aria-current]`)?.scrollIntoView({ inline: "center", block: "nearest" });
      }
      /* a refused upload is shown at the address it was sent to: go on from the page's own */
      const own = document.querySelector("[data-here]")?.dataset.here;
      if (own && new URL(own, location.href).pathname !== location.pathname) history.replaceState(null, "", own);
    },
    typed(event) {
      if (event.target.dataset.path) event.target.dataset.dirty = "1";
    },
    /* what was changed has gone out by now; the rest was typed and typed back */
    left(event) {
      if (!event.target.dataset.path) return;
      settleNow();
      delete event.target.dataset.dirty;
    },
    quiet() {
      say("");
    },
    /* a picture saved, a part of the page folded: which one the button says */
    async clicked(event) {
      const saving = event.target.closest("[data-picture-as]");
      const frame = saving?.closest("[data-picture]");
      if (frame) (await import("./pictures.js")).save(frame, saving.dataset.pictureAs);
      const button = event.target.closest("[data-fold]");
      if (!button) return;
      const open = button.getAttribute("aria-expanded") !== "true";
      button.setAttribute("aria-expanded", String(open));
      document.getElementById(button.dataset.fold).hidden = !open;
    },
    press(event) {
      const field = event.target;
      const { key } = event;
      if (field.dataset?.step && ["ArrowUp", "ArrowDown"].includes(key)) {
        event.preventDefault();
        step(field, event);
        return;
      }
      if (field.dataset?.path && key === "Escape") {
        restore(field);
        return;
      }
      if (key === "Escape") say("");
      const command = event.ctrlKey || event.metaKey;
      if (command && ["z", "y"].includes(key.toLowerCase())) {
        if (field.dataset?.dirty) return;
        event.preventDefault();
        document.querySelector(key.toLowerCase() === "y" || event.shiftKey ? "[data-redo]" : "[data-undo]")?.click();
        return;
      }
      const writing = field.matches?.("input, select, textarea, [role=slider]");
      if (writing || command || event.altKey || document.querySelector("dialog[open], :popover-open")) return;
      if (/^[1-9]$/.test(key)) document.querySelectorAll(".tabs a")[Number(key) - 1]?.click();
      const wanted = [].concat(ACTS[key] ?? []).map((one) => document.querySelector(one)).find(Boolean);
      const hours = HOURS[key];
      if (wanted && !wanted.disabled) wanted.click();
      else if (hours && !event.shiftKey === !"{}".includes(key) && document.querySelector("[data-hour]")) moveHours(hours);
      else return;
      event.preventDefault();
    },
  }));
});
