/* Text in a form that is not sent yet is kept by the browser, per person and project, and comes back with the page. It goes
   when the form is sent or the field is emptied. */
const FIELDS = "form:is([method=post], [hx-post]) :is(textarea, input:not([type]), input[type=text], input[type=search], input[type=url], input[type=email])";
const MOST = 100;
const LONGEST = 4000;
const PASSING = ["csrfmiddlewaretoken", "key", "screen", "from"];

/* which field it is, whatever else the page shows: its form's address and what that is about, its name, its place */
export function nameOf(field) {
  const about = [...field.form.elements].filter((one) => one.type === "hidden" && !PASSING.includes(one.name)).map((one) => `${one.name}=${one.value}`);
  const like = [...field.form.elements].filter((one) => one.name === field.name);
  return [new URL(field.form.action, location.href).pathname, ...about, field.name, like.indexOf(field)].join(" ");
}

document.addEventListener("alpine:init", () => {
  Alpine.data("drafts", () => ({
    get place() {
      return `drafts ${this.$root.dataset.drafts}`;
    },
    init() {
      const left = this.read();
      for (const [name, draft] of Object.entries(left)) if (draft.sent) delete left[name];
      this.write(left);
      this.restore();
    },
    read() {
      try {
        return JSON.parse(localStorage.getItem(this.place)) || {};
      } catch {
        return {};
      }
    },
    write(drafts) {
      const newest = Object.entries(drafts).slice(-MOST);
      try {
        if (newest.length) localStorage.setItem(this.place, JSON.stringify(Object.fromEntries(newest)));
        else localStorage.removeItem(this.place);
      } catch {
        // a browser that keeps nothing: the page works without
      }
    },
    held(field) {
      return field.matches?.(FIELDS) && !field.dataset.path && field.name;
    },
    note(event) {
      const field = event.target;
      if (!this.held(field)) return;
      const { [nameOf(field)]: _before, ...drafts } = this.read();
      if (field.value && field.value !== field.defaultValue) drafts[nameOf(field)] = { text: field.value.slice(0, LONGEST) };
      else field.classList.remove("unsent");
      this.write(drafts);
    },
    sent(event) {
      const drafts = this.read();
      for (const field of event.target.elements) {
        const draft = this.held(field) && drafts[nameOf(field)];
        if (draft) draft.sent = true;
      }
      this.write(drafts);
    },
    restore() {
      const drafts = this.read();
      for (const field of this.$root.querySelectorAll(FIELDS)) {
        const draft = this.held(field) && drafts[nameOf(field)];
        if (!draft || draft.sent || field.value !== field.defaultValue) continue;
        field.value = draft.text;
        field.classList.add("unsent");
        field.title = "Not sent yet: kept in this browser until it is sent, or emptied.";
      }
    },
  }));
});
