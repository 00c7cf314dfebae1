/* The “?” beside a term opens what it means beside it; without this script it leads to the glossary. */
let known = null;

const note = () => document.getElementById("term");

async function meaning(key) {
  known ??= fetch(note().dataset.glossary).then((answer) => answer.json());
  return (await known).terms.find((term) => term.key === key);
}

document.addEventListener("click", async (event) => {
  const mark = event.target.closest?.("[data-term]");
  if (!mark || !note() || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  const term = await meaning(mark.dataset.term).catch(() => null);
  if (!term) {
    known = null;
    location.assign(mark.href);
    return;
  }
  note().querySelector("h2").textContent = term.name;
  note().querySelector("p").textContent = term.meaning;
  note().querySelector("a").href = mark.href;
  note().showPopover();
});
