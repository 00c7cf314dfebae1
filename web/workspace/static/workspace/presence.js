/* Others in the same project: the page asks how it stands, shows who is here, and takes others' ink when the hand rests.
   Where nobody else can have it open, it asks seldom: one's own other tab or machine. */
import { go, here, onInk, resting, say } from "../ui/send.js";

const TOGETHER_MS = 1500;
const ALONE_MS = 20000;
const SHOWN_MS = 8000;
let people = [];
let news = [];
let shut = false;

const place = () => document.getElementById("here");
const revision = () => Number(document.querySelector("[data-revision]")?.dataset.revision);

function showPeople() {
  const now = place();
  if (!now) return;
  now.replaceChildren(
    ...people.map((one) => {
      const mark = document.createElement("span");
      mark.className = "person";
      mark.textContent = one.name;
      mark.title = `${one.name} is at ${one.at}`;
      return mark;
    }),
  );
  now.setAttribute("aria-label", people.length ? `Here too: ${people.map((one) => `${one.name} at ${one.at}`).join(", ")}` : "");
}

/* what others changed stands out for a while, with their names */
function showNews() {
  for (const { who, paths } of news) {
    for (const path of paths) {
      const pen = document.querySelector(`#desk [data-path="${CSS.escape(path)}"]`)?.closest(".field");
      if (!pen) continue;
      pen.dataset.by = who;
      setTimeout(() => delete pen.dataset.by, SHOWN_MS);
    }
  }
  news = [];
}

const told = (edits) =>
  [...new Map(edits.map((one) => [`${one.who} ${one.what}`, one])).values()]
    .map((one) => `${one.who}: ${one.what}${one.letter ? ` in ${one.letter}` : ""}`)
    .slice(0, 3)
    .join(" · ");

/* what stands in forms that are not sent yet */
const typedInForms = () =>
  [...document.querySelectorAll("#desk :is(input:not([type=hidden], [type=file]), textarea):not([data-path])")]
    .filter((field) => field.value !== field.defaultValue)
    .map((field) => [field, field.value]);

async function look() {
  const now = place();
  if (!now || document.hidden || shut) return;
  const known = revision();
  const step = document.querySelector("[data-screen]").dataset.screen;
  const answer = await fetch(`${now.dataset.now}?r=${known}&step=${step}`).catch(() => null);
  if (answer && [403, 404].includes(answer.status)) {
    shut = true;
    say("This project is not open to you any more.");
  }
  if (!answer?.ok || answer.redirected) return;
  const stands = await answer.json();
  people = stands.people;
  showPeople();
  if (stands.revision <= known || revision() !== known || !resting()) return;
  news = stands.edits || [];
  const words = told(news);
  const typed = typedInForms();
  await go(here(), resting); // a hand that has begun to type meanwhile comes first: asked again the next time
  for (const [field, value] of typed) field.value = value;
  if (words && revision() !== known) say(words);
}

async function watch() {
  await look();
  if (!shut) setTimeout(watch, place()?.dataset.together !== undefined || people.length ? TOGETHER_MS : ALONE_MS);
}
document.addEventListener("visibilitychange", look);

/* comments: values that have one are marked, and the value touched last can be remarked on */
let touched = null;
function markPins() {
  for (const remark of document.querySelectorAll('#comments [data-about^="path:"]')) {
    const path = remark.dataset.about.slice(5);
    const pen = document.querySelector(`#desk main [data-path="${CSS.escape(path)}"]`)?.closest(".field");
    if (!pen || pen.querySelector(".pinned")) continue;
    const mark = document.createElement("button");
    mark.type = "button";
    mark.className = "pinned";
    mark.textContent = "¶";
    mark.setAttribute("aria-label", `Comment of ${remark.dataset.who}`);
    mark.setAttribute("popovertarget", "comments");
    pen.append(mark);
  }
  offerTouched();
}
function offerTouched() {
  const pins = document.querySelector("[data-abouts]");
  if (!pins || !touched || pins.querySelector(`[value="${CSS.escape(`path:${touched.path}`)}"]`)) return;
  pins.prepend(new Option(`the value touched last, ${touched.label}`, `path:${touched.path}`, true, true));
}
document.addEventListener("focusin", (event) => {
  const field = event.target;
  if (!field.dataset?.path || field.dataset.path.includes("@")) return;
  touched = { path: field.dataset.path, label: field.getAttribute("aria-label") || field.dataset.path };
  offerTouched();
});

/* where the reader may not change anything, nothing looks as if they could; the server is the one that keeps it so */
function closeUp() {
  if (document.querySelector("[data-closed]") === null) return;
  const changing = "main :is([data-list], [data-choose], [data-put], [data-way], [role=slider]), main form[method=post] :is(button, input, select, textarea), .saved button, .copy button";
  for (const part of document.querySelectorAll(`#desk :is(${changing})`)) {
    if ("disabled" in part) part.disabled = true;
    else part.setAttribute("aria-disabled", "true");
  }
}

onInk(showPeople);
onInk(showNews);
onInk(markPins);
onInk(closeUp);
markPins();
closeUp();
watch();
