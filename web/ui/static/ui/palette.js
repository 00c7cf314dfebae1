/* The command line: press /, type what you want, Enter. A date and hour lead to that hour, a word of the trade answers
   with its meaning and leads to the page where it matters. */
import { moment } from "./calendar.js";
import { pictures } from "./pictures.js";
import { to } from "./send.js";

const box = () => document.getElementById("palette");
const line = () => document.getElementById("palette-line");
const list = () => document.getElementById("palette-list");
let found = [];
let chosen = 0;
let terms = null;

/* the words of the trade, fetched when somebody first looks for something */
async function learn() {
  if (terms) return;
  terms = [];
  const answer = await fetch(box().dataset.glossary).catch(() => null);
  if (answer?.ok) terms = (await answer.json()).terms;
  if (box().open) search();
}

/* a term answers with its meaning, and leads to the page where it matters */
function meanings(words) {
  const of = ({ name, synonyms }) => [name, ...synonyms].join(" ").toLowerCase();
  const named = (term) => term.name.toLowerCase().startsWith(words.join(" "));
  return (terms ?? [])
    .filter((term) => words.length && words.every((word) => of(term).includes(word)))
    .sort((a, b) => named(b) - named(a))
    .map((term) => ({
      text: term.name,
      meaning: term.meaning,
      run: () => location.assign(`${document.querySelector(".tabs a").getAttribute("href").replace(/[^/]+$/, "")}${term.where}`),
    }));
}

/* where a typed date leads: the hours of the year where they are open, else the drawing */
function timely(text) {
  const found = moment(text);
  if (!found) return null;
  const { day, hour, words } = found;
  if (document.querySelector("[data-traces]")) return { text: `The year at ${words}`, run: () => to({ day, hour }) };
  const scheme = document.querySelector('.tabs a[href$="/scheme"]').getAttribute("href");
  return { text: `Drawing at ${words}`, run: () => location.assign(`${scheme}?day=${day}&hour=${hour}`) };
}

function search() {
  const text = line().value;
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const at = timely(text);
  const all = [...document.querySelectorAll("#commands > *")].map((item) => ({ text: item.textContent, run: () => item.click() }));
  found = [...all, ...pictures()].filter((item) => words.every((word) => item.text.toLowerCase().includes(word)));
  if (at) found.unshift(at);
  const known = meanings(words).slice(0, 4);
  found = [...found.slice(0, 12 - known.length), ...known];
  chosen = 0;
  list().replaceChildren(
    ...found.map((item, i) => {
      const row = document.createElement("li");
      row.textContent = item.text;
      if (item.meaning) {
        const meaning = document.createElement("small");
        meaning.className = "meaning";
        meaning.textContent = item.meaning;
        row.append(meaning);
      }
      row.setAttribute("role", "option");
      row.id = `found-${i}`;
      row.addEventListener("click", () => run(i));
      return row;
    }),
  );
  if (!found.length) {
    const row = document.createElement("li");
    row.textContent = "Nothing of that name. Try a part, a view, a word such as payback, or a date such as 12 Mar 15.";
    row.setAttribute("role", "option");
    row.setAttribute("aria-disabled", "true");
    list().append(row);
  }
  mark();
}

function mark() {
  [...list().children].forEach((row, i) => { row.setAttribute("aria-selected", String(i === chosen && found.length > 0)); });
  if (found.length) line().setAttribute("aria-activedescendant", `found-${chosen}`);
  list().children[chosen]?.scrollIntoView({ block: "nearest" });
}

function run(index) {
  const item = found[index];
  box().close();
  item?.run();
}

function open() {
  line().value = "";
  search();
  learn();
  box().showModal();
  line().focus();
}

document.addEventListener("input", (event) => {
  if (event.target === line()) search();
});
document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-palette]")) open();
  else if (event.target.closest?.("[data-press]")) document.querySelector(event.target.closest("[data-press]").dataset.press)?.click();
  else if (event.target.closest?.("[data-print]")) window.print();
  else if (event.target.closest?.("[data-keys]")) document.getElementById("keys")?.showPopover();
  else if (event.target === box()) box().close();
});
document.addEventListener("keydown", (event) => {
  const closing = event.target === line() && !box().open; // its line has the focus a moment longer than it is seen
  if (event.target === line() && !closing) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      chosen = (chosen + (event.key === "ArrowDown" ? 1 : found.length - 1)) % Math.max(found.length, 1);
      mark();
    } else if (event.key === "Enter") {
      event.preventDefault();
      run(chosen);
    }
    return;
  }
  if (!box() || (!closing && event.target.matches?.("input, select, textarea")) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "/") {
    event.preventDefault();
    open();
  } else if (event.key === "?") document.getElementById("keys")?.showPopover();
});
