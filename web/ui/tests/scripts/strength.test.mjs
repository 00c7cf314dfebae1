/* How hard a password is to guess. */
import assert from "node:assert/strict";
import { test } from "node:test";

globalThis.document = { addEventListener() {} };
const { bits, words } = await import("../../../accounts/static/accounts/strength.js");

test("what is long and mixed is harder to guess", () => {
  assert.ok(bits("quiet-harbour-9") > bits("quietharbour"));
  assert.ok(bits("quiet-harbour-9-and-a-gull") > bits("quiet-harbour-9"));
});
test("runs and repeats are easy to guess however long", () => {
  for (const easy of ["aaaaaaaaaaaaaaaaaaaa", "123456789012", "abcdefghijklmnop", "harharharharhar"]) assert.match(words(easy), /^Easy/, easy);
});
test("what is missing is told", () => {
  assert.equal(words("quiet"), "7 more letters.");
  assert.equal(words("quiet-harbo"), "1 more letter.");
  assert.equal(words("quiet-harbour-9-and-a-gull"), "Hard to guess.");
});
