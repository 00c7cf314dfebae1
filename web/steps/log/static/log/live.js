/* A logger that posts while the page is open: the page asks now and then whether anything is new, and is drawn anew. */
import { go, here } from "../ui/send.js";

const EVERY_MS = 2000;
let told = "";

async function look() {
  const page = document.querySelector("main[data-heard]");
  if (page && !document.hidden && !page.querySelector("form[data-line] input.line:focus, details[open]")) {
    const answer = await fetch(page.dataset.heard).catch(() => null);
    if (answer?.ok && !answer.redirected) {
      const now = await answer.text();
      if (told && now !== told) go(here());
      told = now;
    }
  }
  setTimeout(look, EVERY_MS);
}
look();
