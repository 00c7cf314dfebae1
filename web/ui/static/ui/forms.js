/* Small components of forms: “taking”, a form that takes along what another holds; “opened”, what opens
   its popover. */
document.addEventListener("alpine:init", () => {
  Alpine.data("taking", () => ({
    gather() {
      for (const [name, value] of new FormData(document.getElementById(this.$root.dataset.with))) {
        const field = document.createElement("input");
        field.type = "hidden";
        field.name = name;
        field.value = value;
        this.$root.append(field);
      }
    },
  }));
  /* values left as they usually are stay out of the address */
  Alpine.data("usual", () => ({
    omit(event) {
      for (const field of this.$root.querySelectorAll("[data-usual]")) if (field.value === field.dataset.usual) event.detail.ctx.request.body.delete(field.name);
    },
  }));
  /* opens as soon as it has come */
  Alpine.data("opened", () => ({
    init() {
      this.$root.closest("[popover]").showPopover();
    },
  }));
});
document.documentElement.classList.add("scripted");
