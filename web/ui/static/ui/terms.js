/* The “?” beside a term opens what it means beside it; without this script it leads to the glossary. */
document.addEventListener("alpine:init", () => {
  Alpine.data("terms", () => ({
    known: null,
    name: "",
    meaning: "",
    href: "",
    async explain(event) {
      const mark = event.target.closest("[data-term]");
      if (!mark || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      try {
        this.known ??= await (await fetch(this.$refs.term.dataset.glossary)).json();
        const term = this.known.terms.find((one) => one.key === mark.dataset.term);
        this.name = term.name;
        this.meaning = term.meaning;
        this.href = mark.href;
        this.$refs.term.showPopover();
      } catch {
        location.assign(mark.href);
      }
    },
  }));
});
