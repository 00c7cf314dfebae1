/* A map that is not drawn yet, or no longer fits, is asked for as soon as it is looked at; one refused is not asked again */
import { go, headers, here, onInk } from "../ui/send.js";

let refused = "";
async function askNow() {
  const form = document.querySelector("form[data-ask-now]");
  const about = form && `${here()} ${form.dataset.askNow}`;
  if (!form || about === refused) return;
  refused = about;
  const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(new FormData(form)), headers: headers() }).catch(() => null);
  if (answer?.ok && form.isConnected) go(here());
}
onInk(askNow);
askNow();
