/* The component “line”: readings typed at the tank, last values carried on, the time put in. Lines typed without a connection
   wait in this browser; each stays until the server has taken it or it is discarded by hand, with why where it was refused. */
import { say } from "../ui/edits.js";

const NOT_SHOWN = ["csrfmiddlewaretoken", "key", "screen", "log", "day", "clock", "instead"];
const named = (line, name) => line.fields.find(([key]) => key === name)?.[1] || "";
const keyOf = (line) => named(line, "key");
const plural = (count, one, many) => `${count} ${count > 1 ? many : one}`;

/* what the server says to a line: nothing once it has it, why it cannot be kept, or null to wait on */
async function asked(form, line) {
  const headers = { "X-CSRFToken": form.elements.csrfmiddlewaretoken.value, Accept: "application/json" };
  const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(line.fields), headers });
  if (answer.redirected) {
    say("You are signed out. Sign in: the lines typed here stay and are sent then.");
    return null;
  }
  if (answer.ok) return "";
  if (answer.status >= 500 || answer.status === 429) return null;
  if (answer.status === 422) return (await answer.json()).problem;
  return answer.status === 404 ? "this log is not open to you any more." : "the page is too old: open it again, then change this line.";
}

/* keep this page for where there is no connection */
async function keepPage(address) {
  if (!navigator.serviceWorker || !address) return;
  await navigator.serviceWorker.register(address, { scope: "/projects/" });
  const { active } = await navigator.serviceWorker.ready;
  const parts = performance.getEntriesByType("resource").map((one) => one.name).filter((name) => name.includes("/static/"));
  active.postMessage({ page: location.href, parts });
}

document.addEventListener("alpine:init", () => {
  Alpine.data("line", () => ({
    lines: [],
    online: true,
    sending: false,
    get place() {
      return `ledger-lines-${this.$root.dataset.line}`;
    },
    get status() {
      const refused = this.lines.filter((line) => line.why).length;
      const free = this.lines.length - refused;
      const parts = [];
      if (!this.online) parts.push("no connection: the page is as it was when there was one");
      if (free) parts.push(`${plural(free, "line waits", "lines wait")} here for a connection`);
      if (refused) parts.push(`${plural(refused, "line was", "lines were")} not kept: change or discard`);
      return parts.join("; ") || "each line is kept as it is sent";
    },
    init() {
      this.begin();
      if (navigator.onLine) keepPage(this.$root.dataset.offline).catch(() => {});
    },
    /* lines of earlier versions are their fields alone */
    read() {
      return JSON.parse(localStorage.getItem(this.place) || "[]").map((one) => (Array.isArray(one) ? { fields: one } : one));
    },
    write(lines) {
      localStorage.setItem(this.place, JSON.stringify(lines));
      this.lines = lines.map((line) => ({ ...line, words: this.wordsOf(line), refusal: line.why ? `Not kept: ${line.why} ` : "" }));
    },
    wordsOf(line) {
      const labelled = (name) => this.$root.elements[name]?.closest("label")?.firstChild?.textContent.trim() || name;
      const values = line.fields.filter(([name, value]) => value && !NOT_SHOWN.includes(name)).map(([name, value]) => `${labelled(name)} ${value}`);
      return `${named(line, "day")} ${named(line, "clock")}: ${values.join(", ") || "nothing"} `;
    },
    begin() {
      this.online = navigator.onLine;
      this.write(this.read());
      if (this.online) this.flush();
    },
    async flush() {
      if (this.sending) return;
      this.sending = true;
      const next = () => this.read().find((one) => !one.why);
      try {
        for (let line = next(); line; line = next()) {
          const why = await asked(this.$root, line);
          if (why === null) break;
          const mine = keyOf(line);
          this.write(this.read().flatMap((one) => (keyOf(one) !== mine ? [one] : why ? [{ ...one, why }] : [])));
        }
      } catch {
        /* still no connection: the lines stay */
      }
      this.sending = false;
    },
    carry() {
      for (const box of this.$root.querySelectorAll("input[placeholder]")) if (!box.value) box.value = box.placeholder;
    },
    keep(event) {
      const form = this.$root;
      const clock = form.querySelector("[data-now]");
      if (clock && !clock.value) clock.value = clock.placeholder;
      if (navigator.onLine) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const fields = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken").map(([name, value]) => [name, name === "key" ? crypto.randomUUID() : String(value)]);
      this.write([...this.read(), { fields }]);
      for (const box of form.querySelectorAll("input.line:not([name=day])")) box.value = "";
    },
    without(line) {
      this.write(this.read().filter((one) => keyOf(one) !== keyOf(line)));
    },
    change(line) {
      for (const [name, value] of line.fields) {
        const box = this.$root.elements[name];
        if (box && !["csrfmiddlewaretoken", "key"].includes(name)) box.value = value;
      }
      this.without(line);
      this.$root.elements.clock.focus();
    },
    discard(line) {
      this.without(line);
      say("Discarded.");
    },
  }));
  /* a logger that posts while the page is open: whether anything is new is asked now and then, not while a line is typed */
  Alpine.data("heard", () => ({
    rest(event) {
      if (document.hidden || document.querySelector("form[data-line] input.line:focus, main details[open]")) event.preventDefault();
    },
  }));
});
