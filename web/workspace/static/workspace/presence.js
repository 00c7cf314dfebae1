/* Others in the same project. The component “here” asks how it stands and takes others' edits while nothing is typed; the
   component “comments” marks values that have one, and offers the value touched last. */
import { look, resting, say } from "../ui/edits.js";

const SHOWN_MS = 8000;
const revision = () => Number(document.querySelector("[data-revision]")?.dataset.revision);
const fieldAt = (path, within = "#desk") => document.querySelector(`${within} [data-path="${CSS.escape(path)}"]`)?.closest(".field");

/* what others changed stands out for a while, with their names */
function showNews(news) {
  for (const { who, paths } of news) {
    for (const field of paths.map((path) => fieldAt(path)).filter(Boolean)) {
      field.dataset.by = who;
      setTimeout(() => delete field.dataset.by, SHOWN_MS);
    }
  }
}

const inWords = (edits) =>
  [...new Map(edits.map((one) => [`${one.who} ${one.what}`, one])).values()]
    .map((one) => `${one.who}: ${one.what}${one.letter ? ` in ${one.letter}` : ""}`)
    .slice(0, 3)
    .join(" · ");

/* what stands in forms that are not sent yet */
const typedInForms = () =>
  [...document.querySelectorAll("#desk :is(input:not([type=hidden], [type=file]), textarea):not([data-path])")]
    .filter((field) => field.value !== field.defaultValue)
    .map((field) => [field, field.value]);

document.addEventListener("alpine:init", () => {
  Alpine.data("here", () => ({
    shut: false,
    ask(event) {
      if (document.hidden || this.shut) event.preventDefault();
      else event.detail.ctx.request.body.set("r", String(revision()));
    },
    gone() {
      this.shut = true;
      say("This project is not open to you any more.");
    },
    async take(event) {
      const known = revision();
      const { revision: stands, edits = [] } = event.detail;
      if (stands <= known || !resting()) return;
      const typed = typedInForms();
      await look({}, { unless: () => !resting() }); // somebody who has begun to type meanwhile comes first: asked again the next time
      for (const [field, value] of typed) field.value = value;
      if (revision() === known) return;
      showNews(edits);
      if (edits.length) say(inWords(edits));
    },
  }));
  Alpine.data("comments", () => ({
    about: null,
    init() {
      this.mark();
    },
    mark() {
      for (const remark of this.$root.querySelectorAll('[data-about^="path:"]')) {
        const field = fieldAt(remark.dataset.about.slice(5), "#desk main");
        if (!field || field.querySelector(".pinned")) continue;
        const mark = document.createElement("button");
        mark.type = "button";
        mark.className = "pinned";
        mark.textContent = "¶";
        mark.setAttribute("aria-label", `Comment of ${remark.dataset.who}`);
        mark.setAttribute("popovertarget", "comments");
        field.append(mark);
      }
      this.offer();
    },
    touched({ target }) {
      if (!target.dataset?.path || target.dataset.path.includes("@")) return;
      this.about = { path: target.dataset.path, label: target.getAttribute("aria-label") || target.dataset.path };
      this.offer();
    },
    offer() {
      const pins = this.$root.querySelector("[data-abouts]");
      if (!pins || !this.about || pins.querySelector(`[value="${CSS.escape(`path:${this.about.path}`)}"]`)) return;
      pins.prepend(new Option(`the value touched last, ${this.about.label}`, `path:${this.about.path}`, true, true));
    },
  }));
  /* where the reader may not change anything, nothing looks as if they could; the server is the one that keeps it so */
  Alpine.data("closed", () => ({
    init() {
      this.shut();
    },
    shut() {
      const changing = "main [hx-post], main [role=slider], main form[method=post] :is(button, input, select, textarea), .saved button, .copy button";
      for (const part of document.querySelectorAll(`#desk :is(${changing})`)) {
        if ("disabled" in part) part.disabled = true;
        else part.setAttribute("aria-disabled", "true");
      }
    },
  }));
});
