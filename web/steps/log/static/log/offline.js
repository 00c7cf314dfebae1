/* Keeps the day's page of a log, with what it needs, for where there is no connection: in a cellar a reload shows it again,
   and lines go on being typed. What was kept goes with signing out. */
const PAGES = "log-pages";
const PARTS = "log-parts";
const MOST_PARTS = 120;
const isDay = (url) => /^\/projects\/\d+\/[A-Z]\/log$/.test(url.pathname) && ["day", null].includes(url.searchParams.get("view"));

async function keepPage(request, answer) {
  if (answer.ok && !answer.redirected) await (await caches.open(PAGES)).put(new URL(request.url).pathname, answer.clone());
  return answer;
}

async function fromParts(request) {
  const parts = await caches.open(PARTS);
  const known = await parts.match(request);
  if (known) return known;
  const answer = await fetch(request);
  if (answer.ok) {
    const keys = await parts.keys();
    if (keys.length >= MOST_PARTS) await parts.delete(keys[0]);
    await parts.put(request, answer.clone());
  }
  return answer;
}

async function pageOrKept(request) {
  try {
    return await keepPage(request, await fetch(request));
  } catch (error) {
    const known = await (await caches.open(PAGES)).match(new URL(request.url).pathname);
    if (known) return known;
    throw error;
  }
}

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== self.location.origin) return;
  if (request.method === "POST" && url.pathname === "/sign-out") event.waitUntil(caches.delete(PAGES));
  if (request.method !== "GET") return;
  if (request.mode === "navigate" && isDay(url)) event.respondWith(pageOrKept(request));
  else if (url.pathname.startsWith("/static/")) event.respondWith(fromParts(request));
});
/* the page that began this was fetched before: it is fetched once more, to be kept */
self.addEventListener("message", (event) => {
  const { page, parts } = event.data;
  event.waitUntil(
    (async () => {
      const request = new Request(page, { credentials: "same-origin" });
      await keepPage(request, await fetch(request));
      await Promise.all(parts.map((part) => fromParts(new Request(part))));
    })().catch(() => {}),
  );
});
