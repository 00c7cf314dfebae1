/* A field for a place: towns are offered while it is typed; one is chosen by arrow keys and Enter, or a click. */
const WAIT_MS = 80;
let timer = null;
let age = 0;

const listOf = (field) => document.getElementById(field.getAttribute("aria-controls"));
const options = (field) => [...listOf(field).querySelectorAll("[role=option]")];
const marked = (field) => options(field).findIndex((row) => row.getAttribute("aria-selected") === "true");

function close(field) {
  listOf(field).hidden = true;
  field.setAttribute("aria-expanded", "false");
  field.removeAttribute("aria-activedescendant");
}

function mark(field, index) {
  options(field).forEach((row, i) => { row.setAttribute("aria-selected", String(i === index)); });
  const row = options(field)[index];
  if (row) field.setAttribute("aria-activedescendant", row.id);
  row?.scrollIntoView({ block: "nearest" });
}

function choose(field, row) {
  field.value = row.dataset.words;
  field.parentElement.querySelector("[name=town]").value = row.dataset.town;
  close(field);
  field.dispatchEvent(new CustomEvent("town", { bubbles: true }));
}

async function offer(field) {
  age += 1;
  const mine = age;
  const url = new URL(field.dataset.towns, location.href);
  url.searchParams.set("q", field.value);
  const answer = await fetch(url).catch(() => null);
  if (!answer?.ok || answer.redirected || mine !== age || document.activeElement !== field) return;
  const found = new DOMParser().parseFromString(await answer.text(), "text/html");
  listOf(field).replaceChildren(...found.querySelectorAll("[role=option]"));
  const any = options(field).length > 0;
  listOf(field).hidden = !any;
  field.setAttribute("aria-expanded", String(any));
  field.removeAttribute("aria-activedescendant");
}

document.addEventListener("input", (event) => {
  const field = event.target.closest?.("[data-towns]");
  if (!field) return;
  field.parentElement.querySelector("[name=town]").value = "";
  clearTimeout(timer);
  timer = setTimeout(() => offer(field), WAIT_MS);
});
document.addEventListener("keydown", (event) => {
  const field = event.target.closest?.("[data-towns]");
  if (!field || listOf(field).hidden) return;
  const count = options(field).length;
  if (event.key === "ArrowDown" || event.key === "ArrowUp") {
    event.preventDefault();
    mark(field, event.key === "ArrowDown" ? (marked(field) + 1) % count : (Math.max(marked(field), 0) + count - 1) % count);
  } else if (event.key === "Enter" && marked(field) >= 0) {
    event.preventDefault();
    choose(field, options(field)[marked(field)]);
  } else if (event.key === "Escape") {
    event.stopPropagation();
    close(field);
  }
});
document.addEventListener("pointerdown", (event) => {
  const row = event.target.closest?.("[data-town]");
  const field = document.activeElement?.closest?.("[data-towns]");
  if (!row || !field) return;
  event.preventDefault();
  choose(field, row);
});
document.addEventListener("focusout", (event) => {
  const field = event.target.closest?.("[data-towns]");
  if (field) close(field);
});
