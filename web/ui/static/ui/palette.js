/* The component “palette”, the command line: press /, type what you want, Enter. The server finds parts, views, dates,
   commands and words of the trade; the pictures of the page are found here. */
const NOT_FOUND = "Nothing of that name. Try a part, a view, a word such as payback, or a date such as 12 Mar 15.";

function option(text, run) {
  const row = document.createElement("li");
  row.setAttribute("role", "option");
  row.textContent = text;
  if (run) row.addEventListener("click", run);
  else row.setAttribute("aria-disabled", "true");
  return row;
}

document.addEventListener("alpine:init", () => {
  Alpine.data("palette", () => ({
    chosen: 0,
    asking: false,
    entered: false,
    rows() {
      return [...this.$refs.list.querySelectorAll("li:not([aria-disabled])")];
    },
    open() {
      this.$refs.line.value = "";
      this.$root.showModal();
      this.$refs.line.focus();
      this.asking = true;
      this.$dispatch("asked");
    },
    typed() {
      this.asking = true;
      this.entered = false;
    },
    /* the server's finds stand; the page's own pictures follow, and what stands is marked */
    async found() {
      const { pictures } = await import("./pictures.js"); // only who looks for something, or saves a picture, needs it
      const words = this.$refs.line.value.toLowerCase().split(/\s+/).filter(Boolean);
      const named = pictures().filter(({ text }) => words.length && words.every((word) => text.toLowerCase().includes(word)));
      this.$refs.list.append(...named.map(({ text, run }) => option(text, run)));
      if (!this.rows().length) this.$refs.list.append(option(NOT_FOUND));
      this.rows().forEach((row, i) => { row.id = `found-${i}`; });
      this.chosen = 0;
      this.asking = false;
      this.mark();
      if (this.entered) this.run(this.rows()[0]);
    },
    mark() {
      this.rows().forEach((row, i) => { row.setAttribute("aria-selected", String(i === this.chosen)); });
      this.$refs.line.setAttribute("aria-activedescendant", `found-${this.chosen}`);
      this.rows()[this.chosen]?.scrollIntoView({ block: "nearest" });
    },
    step(event) {
      const count = this.rows().length;
      this.chosen = (this.chosen + (event.key === "ArrowDown" ? 1 : count - 1)) % Math.max(count, 1);
      this.mark();
    },
    enter() {
      this.entered = this.asking; // typed fast: run as soon as the server has answered
      if (!this.asking) this.run(this.rows()[this.chosen]);
    },
    pick(event) {
      if (event.target === this.$root) this.$root.close(); // beside the dialog
      const row = event.target.closest("li:not([aria-disabled])");
      if (row && event.isTrusted) this.lead(row);
    },
    run(row) {
      this.entered = false;
      if (!row) return;
      this.lead(row);
      row.click();
    },
    /* what a row leads to, where it is no request of its own */
    lead(row) {
      this.$root.close();
      if (row.dataset.href) location.assign(row.dataset.href);
      if (row.dataset.press) document.querySelector(row.dataset.press)?.click();
      if (row.dataset.print !== undefined) window.print();
      if (row.dataset.keys !== undefined) document.getElementById("keys").showPopover();
    },
    press(event) {
      const closing = event.target === this.$refs.line && !this.$root.open; // its line has the focus a moment longer than it is seen
      if ((!closing && event.target.matches?.("input, select, textarea")) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "/") {
        event.preventDefault();
        this.open();
      } else if (event.key === "?") document.getElementById("keys").showPopover();
    },
  }));
});
