/* The component “carpet”: a click chooses day and hour; the pointer shows them, with the value. */
import { dateOf, hourOf } from "../ui/calendar.js";
import { clamp } from "../ui/drag.js";
import { look } from "../ui/edits.js";

const part = (at, from, size, count) => clamp(Math.floor(((at - from) / size) * count), 0, count - 1);

document.addEventListener("alpine:init", () => {
  Alpine.data("carpet", () => ({
    of: "",
    known: null,
    index: null,
    left: 0,
    get away() {
      return this.index === null;
    },
    get words() {
      if (this.away) return "";
      return `${dateOf(this.index)}${this.known ? `: ${this.known.values[this.index]} ${this.known.sign}` : ""}`;
    },
    under(event) {
      const box = this.$root.getBoundingClientRect();
      return 24 * part(event.clientX, box.left, box.width, 365) + part(event.clientY, box.top, box.height, 24);
    },
    choose(event) {
      look(hourOf(this.under(event)));
    },
    point(event) {
      const box = this.$root.getBoundingClientRect();
      this.index = this.under(event);
      this.$refs.plate.style.left = `${clamp(event.clientX - box.left + 12, 0, box.width - 190)}px`;
      this.learn();
    },
    leave() {
      this.index = null;
    },
    async learn() {
      const of = `${this.$root.dataset.values} ${document.querySelector("[data-revision]").dataset.revision}`;
      if (this.of === of) return;
      this.of = of;
      this.known = null;
      const answer = await fetch(this.$root.dataset.values).catch(() => null);
      if (answer?.ok && this.of === of) this.known = await answer.json();
    },
  }));
});
