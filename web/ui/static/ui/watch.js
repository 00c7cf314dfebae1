/* Work that is under way is asked how far it is; when it has ended the page shows what came of it. */
import { go, here } from "../ui/send.js";

const EVERY_MS = 700;
let asking = null;

async function look() {
  asking = null;
  const run = document.querySelector("[data-run]:not([data-ended])");
  if (!run) return;
  const answer = await fetch(run.dataset.progress).catch(() => null);
  if (answer?.ok && !answer.redirected) {
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-run]");
    const now = document.querySelector(`[data-run="${run.dataset.run}"]`);
    if (!now) return;
    if (fresh.dataset.ended !== undefined) return go(here());
    now.replaceWith(fresh);
  }
  watch();
}

function watch() {
  if (!asking && document.querySelector("[data-run]:not([data-ended])")) asking = setTimeout(look, EVERY_MS);
}

watch();
new MutationObserver(watch).observe(document.getElementById("desk"), { childList: true, subtree: true });
