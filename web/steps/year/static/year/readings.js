/* The component “readings”, with and without a fault: one hair through all, values beside it. */
import { dateOf } from "../ui/calendar.js";
import { clamp, within } from "../ui/drag.js";

const LAST = 71;

document.addEventListener("alpine:init", () => {
  Alpine.data("readings", () => ({
    init() {
      this.again();
    },
    read(n) {
      const box = this.$root;
      box.dataset.readings = String(n);
      box.querySelector("[data-at]").textContent = `At ${dateOf(Number(box.dataset.first) + n)}:`;
      for (const svg of box.querySelectorAll("[data-reading]")) {
        const [usual, odd] = JSON.parse(svg.dataset.reading);
        svg.querySelector("[data-usual]").textContent = usual[n];
        svg.querySelector("[data-odd]").textContent = odd[n];
        svg.querySelector("[data-hair]").setAttribute("transform", `translate(${Number(box.dataset.left) + Number(box.dataset.step) * n} 0)`);
      }
    },
    again() {
      this.read(Number(this.$root.dataset.readings));
    },
    point(event) {
      const svg = event.target.closest("[data-reading]");
      if (!svg) return;
      const { left, step } = this.$root.dataset;
      this.read(clamp(Math.round((within(svg, event).x - Number(left)) / Number(step)), 0, LAST));
    },
    press(event) {
      const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!by || event.target.matches?.("input[type=text], input:not([type]), select, textarea")) return;
      event.preventDefault();
      this.read(clamp(Number(this.$root.dataset.readings) + by, 0, LAST));
    },
  }));
});
