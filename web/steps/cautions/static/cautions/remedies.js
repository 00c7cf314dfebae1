/* Remedies of cautions: done at one touch, as one edit. */
import { address, send } from "../ui/send.js";

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("button[data-remedy]");
  if (button) send(address("remedies"), { caution: button.dataset.caution, n: button.dataset.n });
});
