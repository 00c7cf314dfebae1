/* The scripts that decide things, without a browser: dates, the extension “edits”, dragging. The extension is driven as htmx
   drives it: one request of the desk after the other, each through its hooks. */
import assert from "node:assert/strict";
import { test } from "node:test";

const answers = [];
const sent = [];
const swapped = [];
const said = { textContent: "" };
const header = { dataset: { revision: "7", screen: "scheme", base: "/projects/1/A/" } };
let fields = [];
const desk = {
  dataset: {},
  contains: () => true,
  querySelector: (selector) => (selector === "[data-revision]" ? header : selector.startsWith("[data-path=") ? (fields[0] ?? null) : null),
  querySelectorAll: () => fields,
};
globalThis.CSS = { escape: String };
globalThis.location = { href: "http://here/projects/1/A/scheme" };
globalThis.history = { replaceState: (_state, _title, to) => { location.href = String(new URL(to, location.href)); } };
globalThis.document = {
  cookie: "csrftoken=abc",
  addEventListener() {},
  getElementById: (id) => ({ desk, said })[id],
  querySelector: () => null,
};
globalThis.window = globalThis;
globalThis.fetch = async (url, { body, headers }) => {
  sent.push({ url: String(url), view: headers["HX-Current-URL"], token: headers["X-CSRFToken"], ...Object.fromEntries(body ?? []) });
  const answer = answers.shift() ?? { status: 200, text: "page" };
  if (answer.gone) throw new TypeError("no answer");
  await answer.wait;
  const kind = { get: (name) => (name === "Content-Type" && answer.plain ? "text/plain; charset=utf-8" : null) };
  const made = { ok: answer.status < 400, status: answer.status, redirected: Boolean(answer.to), url: answer.to ?? String(url), headers: kind, text: async () => answer.text };
  return { ...made, clone: () => made };
};
let hooks = null;
globalThis.htmx = { registerExtension: (_name, given) => { hooks = given; }, trigger() {} };

const { dateOf, hourOf } = await import("../../static/ui/calendar.js");
const { clamp, dragging, settleNow, settling } = await import("../../static/ui/drag.js");
const { putBack, settled, underWay } = await import("../../static/ui/edits.js");

/* as htmx asks: values and headers made at once, then in line, the answer swapped */
let line = Promise.resolve();
function ask(source, { method = "POST", action = "edit", target = desk, ...values } = {}) {
  const ctx = { sourceElement: source, target, request: { method, action, headers: {}, body: new FormData() } };
  for (const [name, value] of Object.entries(values)) ctx.request.body.set(name, value);
  hooks.htmx_config_request(source, { ctx });
  const run = async () => {
    try {
      ctx.request.body = method === "POST" ? new URLSearchParams(ctx.request.body) : null;
      if (hooks.htmx_before_request(ctx.sourceElement, { ctx }) === false) return;
      const raw = await (ctx.fetch ?? fetch)(ctx.request.action, ctx.request);
      ctx.response = { raw, status: raw.status, headers: raw.headers };
      if (hooks.htmx_before_response(ctx.sourceElement, { ctx }) === false) return;
      swapped.push(await raw.text());
      hooks.htmx_before_swap(ctx.sourceElement, { ctx });
      hooks.htmx_after_swap(ctx.sourceElement, { ctx });
    } catch (error) {
      hooks.htmx_error(ctx.sourceElement, { ctx, error });
    } finally {
      hooks.htmx_finally_request(ctx.sourceElement, { ctx });
    }
  };
  if (target !== desk) return run();
  line = line.then(run);
  return line;
}
const field = (path, value) => ({ type: "text", value, defaultValue: "1", dataset: { path, dirty: "1" }, classList: { add() {}, remove() {} } });
const button = { dataset: {}, classList: { add() {}, remove() {} } };
const fresh = () => {
  for (const kept of [sent, swapped, answers]) kept.length = 0;
  location.href = "http://here/projects/1/A/scheme";
  fields = [];
};
const soon = (task) => {
  const before = globalThis.setTimeout;
  globalThis.setTimeout = (done) => before(done, 0);
  return task().finally(() => { globalThis.setTimeout = before; });
};
const opening = () => {
  let open;
  return [new Promise((done) => { open = done; }), (...given) => open(...given)];
};

test("hours of the year are read as people write them", () => {
  assert.equal(dateOf(0), "1 Jan, 0 h");
  assert.equal(dateOf(8759), "31 Dec, 23 h");
  assert.deepEqual(hourOf(25), { day: 1, hour: 1 });
});

test("edits go out one after the other, below the design, with key, revision and step", async () => {
  fresh();
  const [wait, open] = opening();
  answers.push({ status: 200, text: "first", wait });
  const typed = field("a", "2");
  const both = [ask(typed, { path: "a", value: "2" }), ask(button, { path: "b", value: "3" })];
  assert.equal(typed.dataset.dirty, undefined);
  await new Promise((done) => setTimeout(done, 5));
  assert.deepEqual(sent.map((s) => s.path), ["a"]);
  open();
  await Promise.all(both);
  assert.deepEqual(sent.map(({ url, path, value, revision, screen, token }) => ({ url, path, value, revision, screen, token })), [
    { url: "/projects/1/A/edit", path: "a", value: "2", revision: "7", screen: "scheme", token: "abc" },
    { url: "/projects/1/A/edit", path: "b", value: "3", revision: "7", screen: "scheme", token: "abc" },
  ]);
  assert.notEqual(sent[0].key, sent[1].key);
  assert.deepEqual(swapped, ["first", "page"]);
});

test("without an answer the same edit is sent again, and nothing behind it overtakes", async () => {
  fresh();
  answers.push({ gone: true }, { status: 502 }, { status: 200, text: "at last" });
  await soon(() => Promise.all([ask(button, { path: "a" }), ask(button, { path: "b" })]));
  assert.deepEqual(sent.map((s) => s.path), ["a", "a", "a", "b"]);
  assert.equal(new Set(sent.slice(0, 3).map((s) => s.key)).size, 1);
});

test("who is signed out waits until they are in again", async () => {
  fresh();
  answers.push({ status: 200, to: "http://here/sign-in?next=/", text: "the door" }, { status: 200, text: "in" });
  await soon(() => ask(button, { path: "a" }));
  assert.deepEqual(swapped, ["in"]);
});

test("what the server cannot do is said, stands as typed, and holds nothing up", async () => {
  for (const [given, times] of [[{ status: 500 }, 3], [{ status: 404 }, 1], [{ status: 413, plain: true, text: "Too large." }, 1]]) {
    fresh();
    answers.push(...Array(times).fill(given));
    fields = [field("a", "9")];
    await soon(() => Promise.all([ask(fields[0], { path: "a" }), ask(button, { path: "b" })]));
    assert.deepEqual(sent.map((s) => s.path), [...Array(times).fill("a"), "b"]);
    assert.deepEqual(swapped, ["page"]);
    assert.equal(fields[0].value, "9");
    if (given.plain) assert.match(said.textContent, /^Too large\./);
  }
  putBack("a");
  await ask(button, { path: "b" });
  assert.equal(fields[0].value, "1");
});

test("who waits for what is under way learns whether all of it was taken", async () => {
  for (const [first, second, all] of [[200, 200, true], [422, 200, false], [200, 404, false], [200, 200, true]]) {
    fresh();
    answers.push({ status: first, text: "one" }, { status: second, text: "two" });
    ask(button, { path: "a" });
    ask(button, { path: "b" });
    assert.ok(underWay());
    assert.equal(await settled(), all);
    assert.ok(!underWay());
  }
});

test("a view comes after the edits before it, and stays away where one was refused", async () => {
  fresh();
  answers.push({ status: 200, text: "edited" }, { status: 200, text: "viewed" });
  await Promise.all([ask(button, { path: "a" }), ask(button, { method: "GET", action: "?part=collector" })]);
  assert.deepEqual(swapped, ["edited", "viewed"]);
  assert.equal(location.href, "http://here/projects/1/A/scheme?part=collector");
  answers.push({ status: 422, text: "refused" });
  await Promise.all([ask(button, { path: "a" }), ask(button, { method: "GET", action: "?part=pipes" })]);
  assert.equal(swapped.at(-1), "refused");
  assert.equal(location.href, "http://here/projects/1/A/scheme?part=collector");
  assert.match(said.textContent, /The page stays/);
});

test("of views the newest wins, and each builds on the one before", async () => {
  fresh();
  const [wait, open] = opening();
  answers.push({ status: 200, text: "slow", wait }, { status: 200, text: "newest" });
  const first = ask(button, { method: "GET", action: "?day=3&hour=4" });
  await new Promise((done) => setTimeout(done, 5));
  const second = ask(button, { method: "GET", action: "?part=pipes&hour=" });
  open();
  await Promise.all([first, second]);
  assert.deepEqual(swapped, ["newest"]);
  assert.equal(location.href, "http://here/projects/1/A/scheme?day=3&part=pipes");
});

test("an edit silences previews asked for before it", async () => {
  fresh();
  const [wait, open] = opening();
  answers.push({ status: 200, text: "old", wait }, { status: 200, text: "edited" });
  const before = ask(button, { target: {}, path: "a", preview: "1" });
  const after = ask(button, { path: "a" });
  await after;
  open();
  await before;
  assert.deepEqual(swapped, ["edited"]);
  await ask(button, { target: {}, path: "a", preview: "1" });
  assert.deepEqual(swapped, ["edited", "page"]);
});

test("steps settle as one, at once where the hand goes elsewhere", async () => {
  const done = [];
  const settle = settling(20);
  settle(() => done.push(1));
  settle(() => done.push(2));
  assert.deepEqual(done, []);
  settleNow();
  settleNow();
  assert.deepEqual(done, [2]);
  settle(() => done.push(3));
  settle(null);
  settle(() => done.push(4));
  await new Promise((ended) => setTimeout(ended, 60));
  assert.deepEqual(done, [2, 4]);
});

test("what is dragged is moved and dropped once", () => {
  const expected = [];
  const drag = dragging("[data-grip]", {
    start: (target) => ({ target, at: 0 }),
    move: (taken, event) => {
      taken.at = clamp(event.x, 0, 10);
      return event.x !== 0;
    },
    end: (taken, moved) => expected.push([taken.at, moved]),
  });
  const fire = (name, more = {}) => {
    const event = { button: 0, prevented: false, preventDefault() { this.prevented = true; }, target: { closest: (s) => (s === "[data-grip]" ? "grip" : null) }, ...more };
    drag.attributes[`x-on:${name}${name === "pointerdown" ? "" : ".window"}`](event);
    return event;
  };
  fire("pointermove", { x: 3 });
  assert.ok(fire("pointerdown").prevented);
  assert.equal(drag.held().target, "grip");
  fire("pointermove", { x: 99 });
  fire("pointerup");
  fire("pointerup");
  fire("pointerdown", { button: 2 });
  fire("pointerup");
  fire("pointerdown");
  fire("pointermove", { x: 0 });
  fire("pointercancel");
  assert.deepEqual(expected, [[10, true], [0, false]]);
});
