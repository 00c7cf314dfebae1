/* Forms that answer as they are filled in: the page's own address is asked again with what the form holds. */
let age = 0;
async function ask(form, more) {
  age += 1;
  const mine = age;
  const url = new URL(form.action);
  const values = new FormData(form);
  for (const field of form.querySelectorAll("[data-usual]")) if (field.value === field.dataset.usual) values.delete(field.name);
  for (const [name, value] of Object.entries(more || {})) values.set(name, value);
  url.search = new URLSearchParams(values).toString();
  form.setAttribute("aria-busy", "true");
  const answer = await fetch(url).catch(() => null);
  if (!answer?.ok || answer.redirected || mine !== age) {
    form.removeAttribute("aria-busy");
    return;
  }
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
  history.replaceState(null, "", url);
  const here = document.activeElement?.id;
  document.querySelector("main").replaceWith(fresh.querySelector("main"));
  if (here) document.getElementById(here)?.focus();
  document.dispatchEvent(new Event("readings"));
}
document.addEventListener("change", (event) => {
  const form = event.target.closest?.("form[data-live]");
  if (form) ask(form);
});
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.matches?.("form[data-live]")) {
    event.preventDefault();
    ask(form, event.submitter?.name ? { [event.submitter.name]: event.submitter.value } : {});
  }
  if (form.dataset?.with) {
    for (const [name, value] of new FormData(document.getElementById(form.dataset.with))) {
      const field = document.createElement("input");
      field.type = "hidden";
      field.name = name;
      field.value = value;
      form.append(field);
    }
  }
});
const fold = (button, open) => {
  button.setAttribute("aria-expanded", String(open));
  document.getElementById(button.dataset.fold).hidden = !open;
};
document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-fold]");
  if (button) fold(button, button.getAttribute("aria-expanded") !== "true");
});
function openAsked() {
  const button = location.hash && document.querySelector(`[data-fold="part-${CSS.escape(location.hash.slice(1))}"]`);
  if (button) fold(button, true);
}
openAsked();
document.documentElement.classList.add("scripted");
