/* Lines of the parts list and prices of the book: changed where they stand, sent as they are changed. */
import { address, send } from "../ui/send.js";

document.addEventListener("change", (event) => {
  const field = event.target;
  if (field.dataset?.line) send(address("moneyline"), { item: field.dataset.line, field: field.dataset.field, value: field.value });
  else if (field.dataset?.item) send(address("price"), { item: field.dataset.item, value: field.value });
});
document.addEventListener("click", (event) => {
  const button = event.target.closest?.("button[data-line]");
  if (button) send(address("moneyline"), { item: button.dataset.line, field: button.dataset.field, value: button.dataset.to });
});
document.addEventListener("keydown", (event) => {
  const field = event.target;
  if (event.key === "Enter" && (field.dataset?.line || field.dataset?.item) && field.matches("input")) {
    event.preventDefault();
    field.blur();
  }
});
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.dataset?.add) return;
  event.preventDefault();
  send(form.dataset.add, Object.fromEntries(new FormData(form)));
});
