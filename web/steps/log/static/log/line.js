/* A line of readings, typed at the tank: last values carried on, the time put in. Lines typed without a connection wait in
   this browser; each stays until the server has taken it or it is discarded by hand, with why where it was refused. */
import { onInk, say } from "../ui/send.js";

const store = (pk) => `ledger-lines-${pk}`;
const form = () => document.querySelector("form[data-line]");
const csrf = () => document.querySelector("input[name=csrfmiddlewaretoken]")?.value || "";
const NOT_SHOWN = ["csrfmiddlewaretoken", "key", "screen", "log", "day", "clock"];
let sending = false;

/* a line is its fields and, once it was refused, why; lines of earlier versions are their fields alone */
const waiting = (pk) => JSON.parse(localStorage.getItem(store(pk)) || "[]").map((one) => (Array.isArray(one) ? { fields: one } : one));
const put = (pk, lines) => localStorage.setItem(store(pk), JSON.stringify(lines));
const named = (line, name) => line.fields.find(([key]) => key === name)?.[1] || "";
const key = (line) => named(line, "key");

function words(line) {
  const values = line.fields.filter(([name, value]) => value && !NOT_SHOWN.includes(name));
  const labels = values.map(([name, value]) => `${form()?.elements[name]?.closest("label")?.firstChild?.textContent.trim() || name} ${value}`);
  return `${named(line, "day")} ${named(line, "clock")}: ${labels.join(", ") || "nothing"}`;
}

const button = (text, act) => {
  const made = document.createElement("button");
  made.type = "button";
  made.className = "link";
  made.textContent = text;
  made.addEventListener("click", act);
  return made;
};

function row(pk, line) {
  const made = document.createElement("li");
  const without = () => put(pk, waiting(pk).filter((one) => key(one) !== key(line)));
  const back = () => {
    for (const [name, value] of line.fields) {
      const box = form().elements[name];
      if (box && !["csrfmiddlewaretoken", "key"].includes(name)) box.value = value;
    }
    without();
    tell(pk);
    form().elements.clock.focus();
  };
  const drop = () => {
    without();
    tell(pk);
    say("Discarded.");
  };
  made.append(`${words(line)} `);
  if (line.why) {
    const why = document.createElement("b");
    why.className = "amber";
    why.textContent = `Not kept: ${line.why} `;
    made.append(why);
  }
  made.append(button("change it", back), " · ", button("discard it", drop));
  return made;
}

function tell(pk) {
  const lines = waiting(pk);
  const refused = lines.filter((line) => line.why).length;
  const free = lines.length - refused;
  const parts = [];
  if (!navigator.onLine) parts.push("no connection: the page is as it was when there was one");
  if (free) parts.push(`${free} line${free > 1 ? "s" : ""} wait here for a connection`);
  if (refused) parts.push(`${refused} line${refused > 1 ? "s were" : " was"} not kept: change or discard`);
  const place = document.querySelector("[data-waiting]");
  if (place) place.textContent = parts.join("; ") || "each line is kept as it is sent";
  document.querySelector("[data-lines]")?.replaceChildren(...lines.map((line) => row(pk, line)));
}

/* what the server says to a line: nothing once it has it, why it cannot be kept, or null to wait on */
async function asked(action, line) {
  const headers = { "X-CSRFToken": csrf(), Accept: "application/json" };
  const answer = await fetch(action, { method: "POST", body: new URLSearchParams(line.fields), headers });
  if (answer.redirected) {
    say("You are signed out. Sign in: the lines typed here stay and are sent then.");
    return null;
  }
  if (answer.ok) return "";
  if (answer.status >= 500 || answer.status === 429) return null;
  if (answer.status === 422) return (await answer.json()).problem;
  return answer.status === 404 ? "this log is not open to you any more." : "the page is too old: open it again, then change this line.";
}

async function flush(action, pk) {
  if (sending) return;
  sending = true;
  try {
    for (let line = waiting(pk).find((one) => !one.why); line; line = waiting(pk).find((one) => !one.why)) {
      const why = await asked(action, line);
      if (why === null) break;
      const mine = key(line);
      put(pk, waiting(pk).flatMap((one) => (key(one) !== mine ? [one] : why ? [{ ...one, why }] : [])));
    }
  } catch {
    /* still no connection: the lines stay */
  }
  sending = false;
  tell(pk);
}

document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-carry]")) return;
  for (const box of form().querySelectorAll("input[placeholder]")) if (!box.value) box.value = box.placeholder;
});

document.addEventListener(
  "submit",
  (event) => {
    const line = event.target.closest("form[data-line]");
    if (!line) return;
    const clock = line.querySelector("[data-now]");
    if (clock && !clock.value) clock.value = clock.placeholder;
    if (navigator.onLine) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const fields = [...new FormData(line)].filter(([name]) => name !== "csrfmiddlewaretoken").map(([name, value]) => [name, String(value)]);
    for (const field of fields) if (field[0] === "key") field[1] = crypto.randomUUID();
    put(line.dataset.line, [...waiting(line.dataset.line), { fields }]);
    for (const box of line.querySelectorAll("input.line:not([type=date])")) box.value = "";
    tell(line.dataset.line);
  },
  true,
);

/* keep this page for where there is no connection */
async function keepPage(line) {
  if (!navigator.serviceWorker || !line.dataset.offline) return;
  await navigator.serviceWorker.register(line.dataset.offline, { scope: "/projects/" });
  const { active } = await navigator.serviceWorker.ready;
  const parts = performance.getEntriesByType("resource").map((one) => one.name).filter((name) => name.includes("/static/"));
  active.postMessage({ page: location.href, parts });
}

function begin() {
  const line = form();
  if (!line) return;
  tell(line.dataset.line);
  if (!navigator.onLine) return;
  if (waiting(line.dataset.line).some((one) => !one.why)) flush(line.action, line.dataset.line);
}
addEventListener("online", begin);
addEventListener("offline", () => form() && tell(form().dataset.line));
onInk(begin);
begin();
if (form() && navigator.onLine) keepPage(form()).catch(() => {});
