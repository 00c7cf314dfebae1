/* What leads away waits for what is under way: once that is kept the link is followed; where it is refused, the page stays
   and shows why. The newest wish wins; one that has waited long and is wished again leaves it to the browser to ask. */
import { settleNow } from "./drag.js";
import { settled, underWay } from "./edits.js";

const PATIENCE_MS = 3000;
let wish = null;

/* what is half typed or half stepped is sent */
function finish() {
  document.activeElement?.closest?.("[data-dirty]")?.blur();
  settleNow();
}

async function afterwards(event, target, follow) {
  finish();
  if (event.defaultPrevented || !underWay()) return;
  if (wish?.target === target && event.timeStamp - wish.since > PATIENCE_MS) return;
  event.preventDefault();
  const mine = { target, since: event.timeStamp };
  wish = mine;
  const all = await settled();
  if (wish !== mine) return;
  wish = null;
  if (all) follow();
}

const samePage = (link) => link.hash && link.pathname === location.pathname && link.search === location.search;

/* on the window: after everything on the page that does more of a click than follow it */
window.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (!link || event.button || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey) return;
  if (link.origin !== location.origin || (link.target && link.target !== "_self") || samePage(link)) return;
  afterwards(event, link, () => (link.isConnected ? link.click() : location.assign(link.href)));
});
window.addEventListener("submit", (event) => {
  const { target: form, submitter } = event;
  afterwards(event, form, () => form.isConnected && form.requestSubmit(submitter?.isConnected ? submitter : null));
});
window.addEventListener("beforeunload", (event) => {
  finish();
  if (underWay()) event.preventDefault();
});
