/* The command line: press /, type what you want, Enter. A date and hour lead to that hour. */
"use strict";

(() => {
  const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
  const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
  const box = () => document.getElementById("palette");
  const line = () => document.getElementById("palette-line");
  const list = () => document.getElementById("palette-list");
  let found = [];
  let chosen = 0;

  function moment(text) {
    const parts = text.toLowerCase().match(/^\s*(\d{1,2})\.?\s*([a-z]{3})[a-z]*\.?(?:[\s,]+(\d{1,2})(?::\d\d)?\s*h?)?\s*$/);
    const month = parts ? MONTHS.indexOf(parts[2]) : -1;
    const day = parts ? Number(parts[1]) : 0;
    const hour = parts?.[3] === undefined ? 12 : Number(parts[3]);
    if (month < 0 || day < 1 || day > LENGTHS[month] || hour > 23) return null;
    const index = LENGTHS.slice(0, month).reduce((sum, n) => sum + n, 0) + day - 1;
    const words = `${day} ${parts[2][0].toUpperCase()}${parts[2].slice(1)}, ${hour} h`;
    if (document.querySelector("[data-traces]")) return { text: `The year at ${words}`, run: () => window.redLedger.to({ day: index, hour }) };
    const scheme = document.querySelector('.tabs a[href$="/scheme"]').getAttribute("href");
    return { text: `Drawing at ${words}`, run: () => location.assign(`${scheme}?day=${index}&hour=${hour}`) };
  }

  function search() {
    const text = line().value;
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const at = moment(text);
    const all = [...document.querySelectorAll("#commands > *")].map((item) => ({ text: item.textContent, run: () => item.click() }));
    found = [...all, ...window.redLedger.pictures()].filter((item) => words.every((word) => item.text.toLowerCase().includes(word)));
    if (at) found.unshift(at);
    found = found.slice(0, 12);
    chosen = 0;
    list().replaceChildren(
      ...found.map((item, i) => {
        const row = document.createElement("li");
        row.textContent = item.text;
        row.setAttribute("role", "option");
        row.id = `found-${i}`;
        row.addEventListener("click", () => run(i));
        return row;
      }),
    );
    if (!found.length) {
      const row = document.createElement("li");
      row.textContent = "Nothing of that name. Try a part, a view, or a date such as 12 Mar 15.";
      row.setAttribute("role", "option");
      row.setAttribute("aria-disabled", "true");
      list().append(row);
    }
    mark();
  }

  function mark() {
    [...list().children].forEach((row, i) => row.setAttribute("aria-selected", String(i === chosen && found.length > 0)));
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
    if (event.target === line()) {
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
    if (!box() || event.target.matches?.("input, select, textarea") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "/") {
      event.preventDefault();
      open();
    } else if (event.key === "?") document.getElementById("keys")?.showPopover();
  });
})();
