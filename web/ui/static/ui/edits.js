/* The extension “edits” of htmx: what every request of the desk has in common. Elements declare what they ask for (hx-post,
   hx-get, hx-vals); here they get a key, the page's revision and its step, and addresses such as “edit” are found below the
   design. One goes after the other, without an answer it is sent again under the same key, and what the server cannot do, or
   will not, stands as typed and holds up nothing behind it. */
const LONGEST_WAIT_MS = 8000;
const SIGNED_OUT_WAIT_MS = 3000;
const TRIES = 3;
const desk = () => document.getElementById("desk");
const wait = (ms) => new Promise((done) => setTimeout(done, ms));
const freshKey = () => [...crypto.getRandomValues(new Uint32Array(4))].map((n) => n.toString(36)).join("-");
const header = () => desk().querySelector("[data-revision]").dataset;
const isPlain = (answer) => answer.headers.get("Content-Type")?.startsWith("text/plain");
const fieldAt = (path) => desk().querySelector(`[data-path="${CSS.escape(path)}"]`);

export const token = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] || document.querySelector("meta[name=csrf]").content;
export const say = (text) => {
  const place = document.getElementById("said");
  if (place) place.textContent = text;
};

/* ---- what is under way */
let waiting = 0; // edits without an answer yet
let taken = true; // whether all of these were taken
let asking = 0; // previews under way
let previews = 0; // grows with each edit: a preview asked for before it is out of date
let waiters = [];
export const underWay = () => waiting > 0;

function stay() {
  say("The page stays: what was typed last was not taken.");
  desk().querySelector(".refusal")?.scrollIntoView({ block: "nearest" });
}

/* once nothing is under way: whether all of it was taken; if not, the page stays and shows why */
export async function settled() {
  if (!waiting) return true;
  await new Promise((done) => waiters.push(done));
  if (!taken) stay();
  return taken;
}

/* whether nothing is under way, typed or unfinished: the page may take others' edits */
export const resting = () => !waiting && !asking && !standing.size && !desk().querySelector("[data-dirty], :popover-open") && !document.querySelector("dialog[open]");

/* ---- what was typed and could not be taken, by path: it stands until it is sent again or put back */
const standing = new Map();
export const putBack = (path) => standing.delete(path);
function stand() {
  for (const [path, value] of standing) {
    const field = fieldAt(path);
    if (!field || field.type === "checkbox") continue;
    field.value = value;
    field.classList.add("unsent");
    field.title = "Not taken yet. Enter sends it again, Esc puts the old value back.";
  }
}

/* fields take the page's values, but for one that is being typed in, those whose edit is under way and those that stand */
function takeValues() {
  for (const field of desk().querySelectorAll("[data-path]")) {
    if (field === document.activeElement && field.dataset.dirty) continue;
    const sent = onTheirWay.get(field.dataset.path);
    if (sent && field.type !== "checkbox") {
      field.value = sent.value;
      continue;
    }
    if (field.type === "checkbox") field.checked = field.defaultChecked;
    else if (field.tagName === "SELECT") {
      const chosen = field.querySelector("option[selected]");
      if (chosen) field.value = chosen.value;
    } else if (field.value !== field.defaultValue) field.value = field.defaultValue;
  }
  stand();
}

/* ---- edits */
const onTheirWay = new Map(); // values sent and not answered yet, by path

/* words for an answer that is no page: the server's own where it gave some */
async function wordsOf(answer) {
  const given = isPlain(answer) ? await answer.clone().text() : "";
  return given || { 404: "This is not here any more. Open the projects and look for it.", 413: "This is too large to be sent." }[answer.status] || "The server could not do this.";
}

/* one edit, sent until it is answered; ctx.left: it was not taken and stands as typed */
async function untilAnswered(ctx, address, request) {
  let failed = 0;
  for (let attempt = 0; ; attempt += 1) {
    let again = "No answer from the server. What you typed stands and is sent again.";
    try {
      request.headers["X-CSRFToken"] = token();
      const answer = await window.fetch(address, request);
      const signedOut = answer.redirected && new URL(answer.url).pathname.startsWith("/sign-in");
      if (answer.ok && !signedOut) return answer;
      if (signedOut || (answer.status === 403 && !isPlain(answer))) {
        say("You are signed out. Sign in in another tab: what you typed stands and is sent again.");
        ctx.field?.classList.add("unsent");
        await wait(SIGNED_OUT_WAIT_MS);
        continue;
      }
      if (answer.status === 422) return answer;
      if (answer.status === 500) failed += 1;
      if (failed >= TRIES || answer.status < 500) {
        ctx.left = `${await wordsOf(answer)} What you typed stands; everything else goes on.`;
        return answer;
      }
      if (answer.status === 500) again = "The server failed at this. It is sent again.";
      if (answer.status === 503 && isPlain(answer)) again = `${await answer.text()} What you typed stands and is sent again.`;
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
    }
    ctx.field?.classList.add("unsent");
    say(again);
    await wait(Math.min(500 * 2 ** attempt, LONGEST_WAIT_MS));
  }
}

function beginEdit(ctx, field) {
  const { body, headers } = ctx.request;
  ctx.edit = true;
  ctx.field = field.dataset.path ? field : null;
  ctx.form = field.matches?.("form") ? field : null;
  ctx.fetch = (address, request) => untilAnswered(ctx, address, request);
  if (ctx.replace) headers["HX-Current-URL"] = ctx.replace = String(pageAddress(ctx.replace)); // the page this edit leads to
  else headers["HX-Current-URL"] = String(heading || location.href);
  body.set("key", freshKey());
  ctx.sent = { value: field.value };
  if (ctx.field) onTheirWay.set(field.dataset.path, ctx.sent);
  if (field.type === "checkbox") body.set("value", field.checked ? "1" : "0");
  delete field.dataset.dirty;
  if (!waiting) taken = true;
  waiting += 1;
  previews += 1;
}

function endEdit(ctx) {
  arrived(ctx);
  if (ctx.left || !(ctx.response?.status < 400)) taken = false;
  waiting -= 1;
  if (waiting) return;
  for (const done of waiters) done();
  waiters = [];
}

function arrived({ field, sent }) {
  if (field && onTheirWay.get(field.dataset.path) === sent) onTheirWay.delete(field.dataset.path);
}

function answeredEdit(ctx) {
  const path = ctx.field?.dataset.path;
  arrived(ctx);
  if (!ctx.left) {
    ctx.field?.classList.remove("unsent");
    standing.delete(path);
    const { raw } = ctx.response;
    if (raw.redirected) ctx.replace = new URL(raw.url).pathname + new URL(raw.url).search; // another page of the design
    return true;
  }
  say(ctx.left);
  if (path) {
    standing.set(path, ctx.sent.value);
    stand();
  }
  return false;
}

/* ---- the page itself, at another part, hour or view: the newest wish wins, and each builds on the one before */
let heading = null;

/* the page's own address with a query put in; what is empty is taken out */
function pageAddress(query) {
  const url = new URL(heading || location.href);
  url.searchParams.delete("date");
  for (const [name, value] of new URL(query, url).searchParams) {
    if (value === "") url.searchParams.delete(name);
    else url.searchParams.set(name, value);
  }
  return url;
}

function beginLook(ctx) {
  const { request } = ctx;
  const query = new URLSearchParams([...new URL(request.action, location.href).searchParams, ...request.body]);
  heading = pageAddress(`?${query}`);
  request.body = new FormData();
  request.action = heading.pathname + heading.search;
  request.headers["HX-Current-URL"] = String(heading);
  ctx.look = heading;
  ctx.replace = "true";
  ctx.behind = waiting > 0;
}

/* whether the page is still to be asked for: not where another wish came after, or an edit before it was refused */
function mayLook(ctx) {
  if (ctx.look !== heading || ctx.unless?.()) return false;
  if (!ctx.behind || taken) return true;
  heading = null;
  stay();
  return false;
}

function answeredLook(ctx) {
  if (ctx.look !== heading || ctx.unless?.()) return false;
  heading = null;
  if (ctx.response.raw.ok && !ctx.response.raw.redirected) return true;
  say("No answer from the server; the page stays as it is.");
  return false;
}

/* pieces that come later: a server at work elsewhere says when to ask again */
function answeredPiece(source, ctx) {
  const { raw, status } = ctx.response;
  const again = Number(raw.headers.get("Retry-After"));
  if (again) {
    ctx.sourceElement.dataset.asked = String(Number(ctx.sourceElement.dataset.asked || 0) + 1);
    setTimeout(() => source.isConnected && htmx.trigger(source, "again"), 1000 * again * Math.min(Number(source.dataset.asked), 5));
  }
  if ([403, 404].includes(status)) htmx.trigger(source, "gone");
  return status === 200 && !raw.redirected;
}

htmx.registerExtension("edits", {
  htmx_config_request(source, { ctx }) {
    const { request } = ctx;
    request.headers["X-CSRFToken"] = token();
    if (!desk()) return;
    if (!/^[/?]/.test(request.action)) request.action = header().base + request.action; // below the design
    if (ctx.target !== desk()) return;
    if (request.method === "GET") beginLook(ctx);
    else beginEdit(ctx, source);
    ctx.sourceElement = desk(); // an element that goes with an answer would lose its place in the line
  },
  htmx_before_request(_source, { ctx }) {
    if (ctx.look) return mayLook(ctx);
    if (ctx.edit) for (const name of ["revision", "screen"]) ctx.request.body.set(name, header()[name]);
    if (ctx.request.body?.get?.("preview")) {
      ctx.preview = previews;
      asking += 1;
    }
    return true;
  },
  htmx_before_response(source, { ctx }) {
    if (ctx.edit) return answeredEdit(ctx);
    if (ctx.look) return answeredLook(ctx);
    if (ctx.preview !== undefined) return ctx.response.status === 200 && !ctx.response.raw.redirected && !waiting && ctx.preview === previews;
    return answeredPiece(source, ctx);
  },
  htmx_before_swap(_source, { ctx }) {
    if (ctx.target === desk()) ctx.typed = desk().querySelector("[data-dirty]");
  },
  /* what was being typed where the answer has no such value is said, not dropped */
  htmx_after_swap(_source, { ctx }) {
    if (ctx.replace && ctx.response?.status < 400) history.replaceState(null, "", ctx.replace === "true" ? ctx.request.action : ctx.replace);
    if (!desk() || (ctx.target !== desk() && ctx.preview === undefined)) return;
    takeValues();
    if (ctx.response?.status < 400) ctx.form?.reset(); // what was sent is taken: its fields show what the page has
    const path = ctx.typed?.dataset.path;
    if (ctx.focus) desk().querySelector(ctx.focus)?.focus();
    if (path && !fieldAt(path)) say(`“${ctx.typed.value}” was not kept: its value is not on this page any more.`);
  },
  htmx_finally_request(_source, { ctx }) {
    if (ctx.edit) endEdit(ctx);
    if (ctx.preview !== undefined) asking -= 1;
  },
  htmx_error(_source, { ctx }) {
    if (!ctx?.look || ctx.look !== heading) return;
    heading = null;
    say("No answer from the server; the page stays as it is.");
  },
});

/* what an element sends beside its value expects to stand there before */
export const expectedOf = (element) => JSON.parse(element.getAttribute("hx-vals")).expected;

/* ---- for components: an edit of a value, what it would do while it is dragged, and the page at another address */
export const edit = (element, values, more = {}) => htmx.ajax("POST", "edit", { source: element, target: "#desk", swap: "innerMorph", values, ...more });
export const preview = (path, value) => htmx.ajax("POST", "edit", { source: "#preview", values: { path, value, preview: "1", screen: header().screen } });
export const look = (values, more = {}) => htmx.ajax("GET", `?${new URLSearchParams(values)}`, { source: desk(), target: "#desk", swap: "innerMorph", ...more });
