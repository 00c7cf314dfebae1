/* The scripts that decide things, without a browser: dates, the sender, dragging. */
import assert from "node:assert/strict";
import { test } from "node:test";

const events = new EventTarget();
const fields = new Map();
const answers = [];
const sent = [];
const inked = [];
globalThis.DOMParser = class {
  parseFromString(text) { return { querySelector: (part) => (part === "main" ? { outerHTML: text } : null) }; }
};
const desk = { querySelectorAll: () => [], querySelector: () => null };
globalThis.CSS = { escape: String };
globalThis.location = { href: "http://here/projects/1/A/scheme" };
globalThis.history = { replaceState() {} };
globalThis.htmx = { swap: async ({ text }) => inked.push(text) };
globalThis.document = {
  cookie: "csrftoken=abc",
  addEventListener: (name, task) => events.addEventListener(name, task),
  getElementById: (id) => (id === "desk" ? desk : fields.get(id)),
  querySelector: (selector) =>
    ({
      "[data-edit]": { dataset: { edit: "/edit" } },
      "[data-revision]": { dataset: { revision: "7" } },
      "[data-screen]": { dataset: { screen: "scheme" } },
    })[selector],
};
globalThis.fetch = async (url, { body, headers }) => {
  sent.push({ url: String(url), view: headers["HX-Current-URL"], ...Object.fromEntries(body ?? []) });
  const answer = answers.shift() ?? { status: 200, text: "ink" };
  if (answer.gone) throw new TypeError("no answer");
  await answer.wait;
  const kind = { get: () => (answer.plain ? "text/plain; charset=utf-8" : "text/html") };
  return { ok: answer.status < 400, status: answer.status, redirected: false, headers: kind, text: async () => answer.text };
};
const soon = (task) => {
  const before = globalThis.setTimeout;
  globalThis.setTimeout = (done) => before(done, 0);
  return task().finally(() => {
    globalThis.setTimeout = before;
  });
};

const { dateOf, moment } = await import("../../static/ui/calendar.js");
const { draggable, clamp, settleNow, settling } = await import("../../static/ui/drag.js");
const { edit, go, kept, preview, send, underWay } = await import("../../static/ui/send.js");

test("dates are read as people write them", () => {
  assert.deepEqual(moment("12 Mar 15"), { day: 70, hour: 15, words: "12 Mar, 15 h" });
  assert.equal(moment("1. january").day, 0);
  assert.equal(moment("31 dec, 23:00").hour, 23);
  for (const none of ["31 Feb", "29 feb", "0 May", "12 Mar 24", "March", "", "12 Foo"]) assert.equal(moment(none), null, none);
  assert.equal(dateOf(0), "1 Jan, 0 h");
  assert.equal(dateOf(8759), "31 Dec, 23 h");
});

test("edits go out one after the other, with revision and step", async () => {
  sent.length = 0;
  inked.length = 0;
  let open;
  answers.push({ status: 200, text: "first", wait: new Promise((done) => { open = done; }) });
  const field = (path, value) => ({ type: "", value, dataset: { path, expected: "1", dirty: "1" }, classList: { add() {}, remove() {} } });
  const one = edit(field("a", "2"));
  const two = edit(field("b", "3"));
  await new Promise((done) => setTimeout(done, 5));
  assert.deepEqual(sent.map((s) => s.path), ["a"]);
  open();
  await Promise.all([one, two]);
  assert.deepEqual(sent.map(({ path, value, expected, revision, screen }) => ({ path, value, expected, revision, screen })), [
    { path: "a", value: "2", expected: "1", revision: "7", screen: "scheme" },
    { path: "b", value: "3", expected: "1", revision: "7", screen: "scheme" },
  ]);
  assert.deepEqual(inked, ["first", "ink"]);
});

test("without an answer the same edit is sent again, and nothing behind it overtakes", async () => {
  sent.length = 0;
  answers.push({ gone: true }, { status: 502 }, { status: 200, text: "at last" });
  await soon(() => Promise.all([send("/edit", { path: "a" }), send("/edit", { path: "b" })]));
  assert.deepEqual(sent.map((s) => s.path), ["a", "a", "a", "b"]);
  assert.equal(new Set(sent.slice(0, 3).map((s) => s.key)).size, 1);
  assert.notEqual(sent[3].key, sent[0].key);
});

test("what the server cannot do is said, stands as typed, and holds nothing up", async () => {
  const said = { textContent: "" };
  fields.set("said", said);
  const field = { type: "", value: "9", dataset: { path: "a", expected: "1" }, classList: { add() {}, remove() {} } };
  desk.querySelector = () => field;
  for (const [given, times] of [[{ status: 500 }, 3], [{ status: 404 }, 1], [{ status: 413, plain: true, text: "Too large." }, 1]]) {
    sent.length = 0;
    inked.length = 0;
    answers.push(...Array(times).fill(given));
    field.value = "9";
    await soon(() => Promise.all([edit(field), send("/edit", { path: "b" })]));
    assert.deepEqual(sent.map((s) => s.path), [...Array(times).fill("a"), "b"]);
    assert.deepEqual(inked, ["ink"]);
    assert.equal(field.value, "9");
    if (given.plain) assert.match(said.textContent, /^Too large\./);
  }
  answers.push({ status: 500 }, { status: 200, text: "alive again" });
  await soon(() => edit(field));
  assert.deepEqual(inked.at(-1), "alive again");
  field.value = "2";
  await send("/edit", { path: "b" });
  assert.equal(field.value, "2");
  fields.delete("said");
  desk.querySelector = () => null;
});

test("who waits for what is under way learns whether all of it was taken", async () => {
  for (const [first, second, all] of [[200, 200, true], [422, 200, false], [200, 404, false], [200, 200, true]]) {
    answers.push({ status: first, text: "one" }, { status: second, text: "two" });
    send("/edit", { path: "a" });
    send("/edit", { path: "b" });
    assert.ok(underWay());
    assert.equal(await kept(), all);
    assert.ok(!underWay());
  }
});

test("a view waits for the edits before it and comes after those sent meanwhile", async () => {
  sent.length = 0;
  inked.length = 0;
  const view = new URL("http://here/projects/1/A/scheme?part=collector");
  let open;
  answers.push({ status: 200, text: "first" }, { status: 200, text: "stale", wait: new Promise((done) => { open = done; }) });
  answers.push({ status: 200, text: "second" }, { status: 200, text: "fresh" });
  send("/edit", { path: "a" });
  const gone = go(view);
  await kept();
  await new Promise((done) => setTimeout(done, 5));
  send("/edit", { path: "b" });
  await kept();
  open();
  await gone;
  assert.deepEqual(inked, ["first", "second", "fresh"]);
  assert.deepEqual(sent.map((s) => s.view), Array(4).fill(String(view)));
});

test("a page that cannot be inked holds up nothing behind it", async () => {
  const swap = globalThis.htmx.swap;
  globalThis.htmx.swap = async () => { throw new Error("torn"); };
  await assert.rejects(send("/edit", { path: "a" }), /torn/);
  globalThis.htmx.swap = swap;
  sent.length = 0;
  await send("/edit", { path: "b" });
  assert.deepEqual(sent.map((s) => s.path), ["b"]);
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

test("of previews the newest wins, and an edit silences them", async () => {
  sent.length = 0;
  inked.length = 0;
  let open;
  answers.push({ status: 200, text: "old", wait: new Promise((done) => { open = done; }) });
  const first = preview("a", () => "1");
  preview("a", () => "2");
  preview("a", () => "3");
  open();
  await first;
  assert.deepEqual(sent.map((s) => s.value), ["1", "3"]);
  assert.ok(sent.every((s) => s.preview === "1"));
});

test("what is held is moved and let go once", () => {
  const expected = [];
  const fire = (name, more = {}) => {
    const event = Object.assign(new Event(name, { cancelable: true }), { button: 0, ...more });
    Object.defineProperty(event, "target", { value: { closest: (s) => (s === "[data-grip]" ? "grip" : null) } });
    events.dispatchEvent(event);
    return event;
  };
  const holding = draggable("[data-grip]", {
    start: (target) => ({ target, at: 0 }),
    move: (held, event) => {
      held.at = clamp(event.x, 0, 10);
      return event.x !== 0;
    },
    end: (held, moved) => expected.push([held.at, moved]),
  });
  fire("pointermove", { x: 3 });
  assert.ok(fire("pointerdown").defaultPrevented);
  assert.equal(holding().target, "grip");
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
