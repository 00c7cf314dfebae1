/* A field for a place: towns are offered while it is typed; one is chosen by arrow keys and Enter, or a click. */
document.addEventListener("alpine:init", () => {
  Alpine.data("towns", () => ({
    open: false,
    marked: -1,
    get closed() {
      return !this.open;
    },
    get expanded() {
      return String(this.open);
    },
    get active() {
      return this.open ? this.rows()[this.marked]?.id : null;
    },
    rows() {
      return [...(this.$refs.list?.querySelectorAll("[role=option]") || [])]; // none while an update takes the list away
    },
    typed() {
      if (this.$refs.town) this.$refs.town.value = "";
    },
    offered() {
      this.marked = -1;
      this.open = this.rows().length > 0 && document.activeElement === this.$refs.place;
    },
    close() {
      this.open = false;
      this.marked = -1;
    },
    mark(index) {
      this.rows().forEach((row, i) => { row.setAttribute("aria-selected", String(i === index)); });
      this.marked = index;
      this.rows()[index]?.scrollIntoView({ block: "nearest" });
    },
    step(event, by) {
      if (!this.open) return;
      event.preventDefault();
      const count = this.rows().length;
      this.mark((Math.max(this.marked, by < 0 ? 0 : -1) + by + count) % count);
    },
    down(event) {
      this.step(event, 1);
    },
    up(event) {
      this.step(event, -1);
    },
    enter(event) {
      if (!this.open || this.marked < 0) return;
      event.preventDefault();
      this.choose(this.rows()[this.marked]);
    },
    escape(event) {
      if (!this.open) return;
      event.stopPropagation();
      this.close();
    },
    pick(event) {
      const row = event.target.closest("[data-town]");
      if (row) this.choose(row);
    },
    choose(row) {
      this.$refs.place.value = row.dataset.words;
      this.$refs.town.value = row.dataset.town;
      this.close();
      this.$dispatch("town");
    },
  }));
});
