/* The sender: every edit goes out as it is made, one after the other, under a key of its own, so that what is sent again
   is done once. Without an answer it is sent again; what the server cannot do, or will not, is said, stands as typed, and
   holds up nothing behind it. */
const desk = () => document.getElementById("desk");
const cookie = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/);
const wait = (ms) => new Promise((done) => setTimeout(done, ms));
const LONGEST_WAIT_MS = 8000;
const SIGNED_OUT_WAIT_MS = 3000;
const TRIES = 3;
const freshKey = () => [...crypto.getRandomValues(new Uint32Array(4))].map((n) => n.toString(36)).join("-");

export const token = () => cookie()?.[1] || document.querySelector("meta[name=csrf]").content;
export const headers = (view = location.href) => ({ "X-CSRFToken": token(), "HX-Request": "true", "HX-Current-URL": String(view) });
export const address = (name) => document.querySelector(`[data-${name}]`).dataset[name];
export const say = (text) => {
  const place = document.getElementById("said");
  if (place) place.textContent = text;
};

/* what is asked for once the ink is dry; modules add to it */
const afterInk = [];
export const onInk = (task) => afterInk.push(task);

/* what was typed and could not be taken, by path: it stands until it is sent again or put back */
const standing = new Map();
function stand() {
  for (const [path, value] of standing) {
    const field = desk().querySelector(`[data-path="${CSS.escape(path)}"]`);
    if (!field || field.type === "checkbox") continue;
    field.value = value;
    field.classList.add("unsent");
    field.title = "Not taken yet. Enter sends it again, Esc puts the old value back.";
  }
}
export const putBack = (field) => standing.delete(field.dataset.path);

/* fields take the page's values, but for one that is being typed in and those that still stand */
function settleFields() {
  for (const field of desk().querySelectorAll("[data-path]")) {
    if (field === document.activeElement && field.dataset.dirty) continue;
    if (field.type === "checkbox") field.checked = field.defaultChecked;
    else if (field.tagName === "SELECT") {
      const chosen = field.querySelector("option[selected]");
      if (chosen) field.value = chosen.value;
    } else if (field.value !== field.defaultValue) field.value = field.defaultValue;
  }
  stand();
}

/* the page morphs into the answer; what was being typed where the answer has no such value is told, not dropped */
export async function ink(text) {
  const typed = desk().querySelector("[data-dirty]");
  const { path } = typed?.dataset || {};
  await htmx.swap({ sourceElement: desk(), target: desk(), text, swap: "innerMorph" });
  settleFields();
  if (path && !desk().querySelector(`[data-path="${CSS.escape(path)}"]`)) say(`“${typed.value}” was not kept: its value is not on this page any more.`);
  for (const task of afterInk) task();
}

/* of a preview only the view and the tally change */
async function inkPreview(text) {
  const fresh = new DOMParser().parseFromString(text, "text/html");
  for (const part of ["main", ".tally"]) {
    const then = fresh.querySelector(part);
    if (then) await htmx.swap({ sourceElement: desk(), target: desk().querySelector(part), text: then.outerHTML, swap: "outerMorph" });
  }
  settleFields();
}

let line = Promise.resolve();
let waiting = 0;
let taken = true;
let sent = 0;
export const underWay = () => waiting > 0;

/* once nothing is under way: whether all of it was taken; if not, the page stays and shows why */
export async function kept() {
  if (!waiting) return true;
  while (waiting) await line.catch(() => {});
  if (taken) return true;
  say("The page stays: what was typed last was not taken.");
  desk().querySelector(".refusal")?.scrollIntoView({ block: "nearest" });
  return false;
}

/* what the server could not do, or will not: said, and left as typed */
function leave(field, words) {
  say(words);
  if (!field?.dataset?.path) return;
  standing.set(field.dataset.path, field.value);
  stand();
}

const isPlain = (answer) => answer.headers.get("Content-Type")?.startsWith("text/plain");

/* words for an answer that is no page: the server's own where it gave some */
async function wordsOf(answer) {
  const given = isPlain(answer) ? await answer.text() : "";
  return given || { 404: "This is not here any more. Open the projects and look for it.", 413: "This is too large to be sent." }[answer.status] || "The server could not do this.";
}

async function post(url, values, field) {
  const body = new URLSearchParams(values);
  let failed = 0;
  for (let attempt = 0; ; attempt += 1) {
    let again = "No answer from the server. What you typed stands and is sent again.";
    try {
      const answer = await fetch(url, { method: "POST", body, headers: headers(here()) });
      if (answer.redirected || (answer.status === 403 && !isPlain(answer))) {
        say("You are signed out. Sign in in another tab: what you typed stands and is sent again.");
        field?.classList.add("unsent");
        await wait(SIGNED_OUT_WAIT_MS);
        continue;
      }
      if (answer.ok || answer.status === 422) {
        field?.classList.remove("unsent");
        if (field?.dataset?.path) standing.delete(field.dataset.path);
        await ink(await answer.text());
        return answer.ok;
      }
      if (answer.status === 500) failed += 1;
      if (failed >= TRIES || answer.status < 500) {
        leave(field, `${await wordsOf(answer)} What you typed stands; everything else goes on.`);
        return false;
      }
      if (answer.status === 500) again = "The server failed at this. It is sent again.";
      if (answer.status === 503 && isPlain(answer)) again = `${await answer.text()} What you typed stands and is sent again.`;
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
    }
    field?.classList.add("unsent");
    say(again);
    await wait(Math.min(500 * 2 ** attempt, LONGEST_WAIT_MS));
  }
}

/* whether nothing is under way, typed or held: the page may take others' ink */
export const resting = () => waiting === 0 && !asking && standing.size === 0 && !desk().querySelector("[data-dirty], :popover-open") && !document.querySelector("dialog[open]");

/* behind what is under way; the values tell the revision and step the page then has */
export function send(url, values, field = null) {
  if (!waiting) taken = true;
  waiting += 1;
  sent += 1;
  const key = freshKey();
  line = line
    .catch(() => {}) // what failed is told where it failed, and holds up nothing behind it
    .then(async () => {
      const told = { ...values, key, revision: document.querySelector("[data-revision]").dataset.revision, screen: address("screen") };
      if (!(await post(url, told, field))) taken = false;
    })
    .finally(() => {
      waiting -= 1;
    });
  return line;
}

/* one value: that of a field, or of anything with a path that looks like one */
export function edit(field, more = {}) {
  delete field.dataset.dirty;
  quiet();
  const value = field.type === "checkbox" ? (field.checked ? "1" : "0") : field.value;
  return send(address("edit"), { path: field.dataset.path, value, expected: field.dataset.expected, ...more }, field);
}

/* while something is dragged the year is calculated without being kept: one question at a time, the newest wins */
let asking = false;
let next = null;
let age = 0;

export const quiet = () => {
  next = null;
  age += 1;
};

export async function preview(path, value, after = () => {}) {
  next = { path, value, after };
  if (asking) return;
  asking = true;
  while (next) {
    const now = next;
    const asked = age;
    next = null;
    const body = new URLSearchParams({ path: now.path, value: now.value(), preview: "1", screen: address("screen") });
    try {
      const answer = await fetch(address("edit"), { method: "POST", body, headers: headers() });
      if (answer.ok && !answer.redirected && waiting === 0 && asked === age) {
        await inkPreview(await answer.text());
        now.after();
      }
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
    }
  }
  asking = false;
}

/* another part, hour or view of the same page; the newest wish wins, and each builds on the one before. It is asked for
   once nothing is under way, and again where something was sent meanwhile: no answer overtakes another. */
let heading = null;
export const here = () => new URL(heading || location.href);
export function aim(url) {
  heading = null;
  history.replaceState(null, "", url);
}

export async function go(url, wanted = () => true) {
  heading = url;
  let answer = null;
  let before;
  do {
    const all = await kept();
    if (heading !== url) return;
    if (!all) {
      heading = null;
      return;
    }
    before = sent;
    answer = await fetch(url, { headers: headers(url) }).catch(() => null);
    if (heading !== url) return;
  } while (answer && sent !== before);
  heading = null;
  if (!wanted()) return;
  if (!answer?.ok || answer.redirected) {
    say("No answer from the server; the page stays as it is.");
    return;
  }
  history.replaceState(null, "", url);
  await ink(await answer.text());
}

export function to(values) {
  const url = here();
  url.searchParams.delete("date");
  for (const [name, value] of Object.entries(values)) {
    if (value === "" || value === null) url.searchParams.delete(name);
    else url.searchParams.set(name, value);
  }
  return go(url);
}
