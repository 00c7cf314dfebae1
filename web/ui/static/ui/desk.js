/* The desk: every edit is sent as it is made, and the page is re-inked with the answer. */
"use strict";

(() => {
  const desk = () => document.getElementById("desk");
  const cookie = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/);
  const token = () => cookie()?.[1] || document.querySelector("meta[name=csrf]").content;
  let line = Promise.resolve();
  let waiting = 0;

  const wait = (ms) => new Promise((done) => setTimeout(done, ms));
  const say = (text) => {
    const place = document.getElementById("said");
    if (place) place.textContent = text;
  };

  async function post(url, values, field) {
    const body = new URLSearchParams(values);
    for (let attempt = 0; ; attempt += 1) {
      try {
        const answer = await fetch(url, {
          method: "POST",
          body,
          headers: { "X-CSRFToken": token(), "HX-Request": "true", "HX-Current-URL": location.href },
        });
        if (answer.redirected || answer.status === 403) {
          say("You are signed out. Sign in in another tab: what you typed stands and is sent again.");
          field?.classList.add("unsent");
          await wait(3000);
          continue;
        }
        if (answer.status < 500) {
          field?.classList.remove("unsent");
          await ink(await answer.text());
          return;
        }
      } catch (error) {
        if (!(error instanceof TypeError)) throw error;
      }
      field?.classList.add("unsent");
      say("No answer from the server. What you typed stands and is sent again.");
      await wait(Math.min(500 * 2 ** attempt, 8000));
    }
  }

  async function ink(text) {
    await htmx.swap({ sourceElement: desk(), target: desk(), text, swap: "innerMorph" });
    for (const field of desk().querySelectorAll("[data-path]")) {
      if (field === document.activeElement && field.dataset.dirty) continue;
      if (field.type === "checkbox") field.checked = field.defaultChecked;
      else if (field.tagName === "SELECT") {
        const chosen = field.querySelector("option[selected]");
        if (chosen) field.value = chosen.value;
      } else if (field.value !== field.defaultValue) field.value = field.defaultValue;
    }
    loadSteps();
  }

  /* what one step down or up, or another part, would bring: more years, reckoned after the ink is dry; the newest question wins */
  let stepping = null;
  function loadSteps() {
    const place = document.getElementById("steps");
    stepping?.abort();
    if (place) {
      stepping = new AbortController();
      fetch(place.dataset.steps, { signal: stepping.signal })
        .then(async (answer) => { if (answer.ok && !answer.redirected) place.innerHTML = await answer.text(); })
        .catch(() => {});
    }
    const later = document.querySelector("[data-load]");
    if (later) fetch(later.dataset.load).then(async (answer) => { if (answer.ok) later.textContent = await answer.text(); }).catch(() => {});
  }
  window.addEventListener("load", loadSteps);
  window.addEventListener("load", () => document.querySelector(".designs-row [aria-current]")?.scrollIntoView({ inline: "center", block: "nearest" }));

  /* a refused upload is shown at the address it was sent to: go on from the page's own */
  window.addEventListener("load", () => {
    const here = document.querySelector("[data-here]")?.dataset.here;
    if (here && new URL(here, location.href).pathname !== location.pathname) history.replaceState(null, "", here);
  });

  function send(url, values, field) {
    waiting += 1;
    line = line
      .then(() => {
        values.revision = desk().dataset.revision || document.querySelector("[data-revision]").dataset.revision;
        values.screen = document.querySelector("[data-screen]").dataset.screen;
        return post(url, values, field);
      })
      .finally(() => {
        waiting -= 1;
      });
    return line;
  }

  function edit(field, more) {
    delete field.dataset.dirty;
    quiet();
    const value = field.type === "checkbox" ? (field.checked ? "1" : "0") : field.value;
    const url = document.querySelector("[data-edit]").dataset.edit;
    return send(url, { path: field.dataset.path, value, seen: field.dataset.seen, ...more }, field);
  }

  const address = (name) => document.querySelector(`[data-${name}]`).dataset[name];

  /* while something is dragged the year is reckoned without being kept: one question at a time, the newest wins */
  let asking = false;
  let next = null;
  let age = 0;
  async function preview(path, value, after) {
    next = { path, value, after };
    if (asking) return;
    asking = true;
    while (next) {
      const now = next;
      const asked = age;
      next = null;
      const body = new URLSearchParams({ path: now.path, value: now.value(), preview: "1", screen: document.querySelector("[data-screen]").dataset.screen });
      try {
        const headers = { "X-CSRFToken": token(), "HX-Request": "true", "HX-Current-URL": location.href };
        const answer = await fetch(address("edit"), { method: "POST", body, headers });
        if (answer.ok && !answer.redirected && waiting === 0 && asked === age) {
          await ink(await answer.text());
          now.after();
        }
      } catch (error) {
        if (!(error instanceof TypeError)) throw error;
      }
    }
    asking = false;
  }
  const quiet = () => {
    next = null;
    age += 1;
  };

  window.redLedger = { edit, send, ink, preview, quiet, address };
  window.addEventListener("beforeunload", (event) => {
    if (waiting > 0) event.preventDefault();
  });

  document.addEventListener("input", (event) => {
    if (event.target.dataset?.path) event.target.dataset.dirty = "1";
  });
  document.addEventListener("change", (event) => {
    const field = event.target;
    if (field.dataset?.path) edit(field);
    if (field.matches?.("[data-go]")) {
      window.redLedger.to({ [field.dataset.go]: field.value, instead: "", ...chosenHour() });
    }
  });

  /* another part, hour or view of the same page; the newest wish wins, and each builds on the one before */
  let heading = null;
  const here = () => new URL(heading || location.href);
  async function go(url) {
    heading = url;
    const headers = { "HX-Request": "true", "HX-Current-URL": String(url) };
    const answer = await fetch(url, { headers }).catch(() => null);
    if (heading !== url) return;
    heading = null;
    if (!answer?.ok || answer.redirected) {
      say("No answer from the server; the page stays as it is.");
      return;
    }
    history.replaceState(null, "", url);
    await ink(await answer.text());
  }

  window.redLedger.to = (values) => {
    const url = here();
    url.searchParams.delete("date");
    for (const [name, value] of Object.entries(values)) {
      if (value === "" || value === null) url.searchParams.delete(name);
      else url.searchParams.set(name, value);
    }
    go(url);
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-do],[data-mine],[data-theirs],[data-move],[data-part],[data-shape],[data-list],button[data-choose],[data-put],[data-set],[data-way],[data-jump]");
    if (!button) return;
    const near = button.closest(".pen, .hour-shape")?.querySelector("[data-path]");
    if (button.dataset.do) send(button.dataset.do, {}, null);
    else if (button.dataset.jump) {
      const [day, hour] = button.dataset.jump.split(" ");
      window.redLedger.to({ day, hour, ...shownHours() });
    } else if (button.dataset.way) send(address("choose"), { changes: button.dataset.way }, null);
    else if (button.dataset.mine !== undefined) edit(near, { force: "1" });
    else if (button.dataset.theirs !== undefined) go(here());
    else if (button.dataset.shape) {
      const field = button.closest("section").querySelector("[data-bars] [data-path]");
      field.value = button.dataset.shape;
      edit(field);
    } else if (button.dataset.list) {
      const { list: path, preset = "", index } = button.dataset;
      send(address("rows"), index === undefined ? { path, preset } : { path, index }, null);
    } else if (button.dataset.choose) send(address("choose"), { preset: button.dataset.choose }, null);
    else if (button.dataset.put) {
      const url = here();
      if (button.dataset.goto) url.searchParams.set(button.dataset.goto, button.dataset.to);
      history.replaceState(null, "", url);
      send(address("edit"), { path: button.dataset.put, value: button.dataset.value }, null);
    } else if (button.dataset.part) {
      const url = here();
      url.searchParams.set("part", button.dataset.part);
      url.searchParams.delete("instead");
      url.searchParams.delete("fold");
      go(url);
    } else if (button.dataset.set) window.redLedger.to({ [button.dataset.set]: button.dataset.to, ...chosenHour() });
    else move(Number(button.dataset.move));
  });

  /* what a new address keeps of the page: the hour chosen, the hours shown */
  function chosenHour() {
    const place = document.querySelector("[data-traces]") && document.querySelector("[data-hour]");
    return place ? { day: place.dataset.day, hour: place.dataset.hour } : {};
  }
  const shownHours = () => {
    const days = document.querySelector("[data-traces]");
    return days ? { start: days.dataset.first } : {};
  };
  function move(hours) {
    const drawing = document.querySelector("[data-hour]");
    if (!drawing) return;
    const index = (Number(drawing.dataset.day) * 24 + Number(drawing.dataset.hour) + hours + 8760) % 8760;
    window.redLedger.to({ day: Math.floor(index / 24), hour: index % 24, ...shownHours() });
  }

  /* a key for every frequent act: the control it stands for is pressed */
  const ACTS = {
    k: "button[data-part=kind]", a: "button[data-part=add]", o: ".turn [data-set=instead]", f: ".panel [data-set=fold]",
    b: ".copy a", c: ".copy button", s: "[data-save]", v: ["#books a[href$=scheme]", ".account thead a"],
    ",": "a.design:has(+ button.design)", ".": "button.design + a.design",
    n: "[data-after]", p: "[data-before]", t: "[popovertarget=traces]", "+": "[data-zoom]", "=": "[data-zoom]", "-": "[data-zoom] + [data-zoom]",
    q: ".quantities [aria-current] + button", Q: ".quantities button:has(+ [aria-current])",
  };

  /* arrows step a value, Shift tenfold; Enter keeps; Escape restores */
  let settle = null;
  document.addEventListener("keydown", (event) => {
    const field = event.target;
    const writing = field.matches?.("input, select, textarea, [role=slider]");
    if (field.dataset?.path && field.dataset.step && ["ArrowUp", "ArrowDown"].includes(event.key)) {
      event.preventDefault();
      const step = Number(field.dataset.step) * (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      const now = Number(field.value.replace(",", ".").replace("−", "-")) || 0;
      const places = Math.max((field.dataset.step.split(".")[1] || "").length, (field.value.split(".")[1] || "").length);
      let next = Number((now + step).toFixed(places));
      if (field.dataset.low) next = Math.max(next, Number(field.dataset.low));
      if (field.dataset.high) next = Math.min(next, Number(field.dataset.high));
      field.value = String(next);
      field.dataset.dirty = "1";
      clearTimeout(settle);
      settle = setTimeout(() => edit(field), 250);
      return;
    }
    if (field.dataset?.path && event.key === "Escape") {
      clearTimeout(settle);
      field.value = field.defaultValue;
      delete field.dataset.dirty;
      field.blur();
      return;
    }
    const held = event.ctrlKey || event.metaKey;
    if (held && ["z", "y"].includes(event.key.toLowerCase())) {
      if (field.dataset?.dirty) return;
      event.preventDefault();
      const forward = event.key.toLowerCase() === "y" || event.shiftKey;
      document.querySelector(forward ? "[data-redo]" : "[data-undo]")?.click();
      return;
    }
    if (writing || held || event.altKey) return;
    if (/^[1-9]$/.test(event.key)) document.querySelectorAll(".tabs a")[Number(event.key) - 1]?.click();
    const pressed = ACTS[event.key];
    if (pressed && !document.querySelector("dialog[open], :popover-open")) {
      const wanted = [].concat(pressed).map((one) => document.querySelector(one)).find(Boolean);
      if (wanted && !wanted.disabled) {
        event.preventDefault();
        wanted.click();
        return;
      }
    }
    const hours = { ArrowLeft: -1, ArrowRight: 1, "[": -24, "]": 24, "{": -720, "}": 720 }[event.key];
    if (hours && !event.shiftKey === !"{}".includes(event.key) && document.querySelector("[data-hour]")) {
      event.preventDefault();
      move(hours);
    }
  });

  /* a shape of the day: 24 bars dragged or stepped; the numbers below are the same values */
  const home = (element) => element.closest("[data-bars]");
  const kept = (box) => box.querySelector("[data-path]");
  const weights = (box) => [...box.querySelectorAll("[data-weight]")].map((f) => f.value || "0").join(" ");
  function keepShape(box, more) {
    kept(box).value = weights(box);
    return edit(kept(box), more);
  }
  function setBar(box, hour, weight) {
    const value = Math.min(Math.max(Math.round(weight * 10) / 10, 0), 1000);
    box.querySelector(`[data-weight="${hour}"]`).value = String(value);
    const bar = box.querySelector(`[data-bar="${hour}"]`);
    const height = Math.min((110 * value) / Number(kept(box).dataset.top), 114);
    bar.querySelector(".bar").setAttribute("height", String(height));
    bar.querySelector(".bar").setAttribute("y", String(118 - height));
    bar.setAttribute("aria-valuenow", String(value));
    bar.setAttribute("aria-valuetext", String(value));
  }
  let dragged = null;
  function dragBar(event) {
    const box = document.querySelector(`[data-bars="${dragged.path}"]`);
    const frame = box.querySelector(".daybars").getBoundingClientRect();
    const y = ((event.clientY - frame.top) / frame.height) * 136;
    dragged.top ??= kept(box).dataset.top;
    kept(box).dataset.top = dragged.top;
    dragged.weight = ((118 - y) / 110) * Number(dragged.top);
    setBar(box, dragged.hour, dragged.weight);
    preview(dragged.path, () => weights(document.querySelector(`[data-bars="${dragged?.path}"]`) || box), () => {
      if (!dragged) return;
      const fresh = document.querySelector(`[data-bars="${dragged.path}"]`);
      kept(fresh).dataset.top = dragged.top;
      for (const [hour, weight] of dragged.before.entries()) setBar(fresh, hour, Number(weight));
      setBar(fresh, dragged.hour, dragged.weight);
    });
  }
  document.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest?.("[data-bar]");
    if (!bar) return;
    event.preventDefault();
    bar.focus();
    const box = home(bar);
    dragged = { path: box.dataset.bars, seen: kept(box).dataset.seen, hour: Number(bar.dataset.bar), before: weights(box).split(" ") };
    dragBar(event);
  });
  document.addEventListener("pointermove", (event) => {
    if (dragged !== null) dragBar(event);
  });
  document.addEventListener("pointerup", () => {
    if (dragged === null) return;
    const box = document.querySelector(`[data-bars="${dragged.path}"]`);
    const { seen } = dragged;
    dragged = null;
    keepShape(box, { seen });
  });
  document.addEventListener("keydown", (event) => {
    const bar = event.target.closest?.("[data-bar]");
    if (!bar) return;
    const [box, hour] = [home(bar), Number(bar.dataset.bar)];
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      event.preventDefault();
      box.querySelector(`[data-bar="${(hour + (event.key === "ArrowRight" ? 1 : 23)) % 24}"]`).focus();
    }
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      setBar(box, hour, Number(bar.getAttribute("aria-valuenow")) + step);
      clearTimeout(settle);
      settle = setTimeout(() => keepShape(box), 250);
    }
  });
  document.addEventListener("change", (event) => {
    if (event.target.dataset?.weight !== undefined) keepShape(home(event.target));
  });

  /* ports, coils, sensors and heaters are dragged or stepped to their height; the year follows */
  const point = (path) => document.querySelector(`[data-height="${path}"]`);
  let lifted = null;
  const share = (event) => {
    const { top, foot } = lifted;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(document.querySelector("svg.scheme").getScreenCTM().inverse());
    return Math.min(Math.max((foot - at.y) / (foot - top), 0), 1).toFixed(2);
  };
  const setHeight = (path, value, seen) => edit({ type: "", value, dataset: { path, seen }, classList: point(path).classList });
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest?.("[data-height]");
    if (!grip) return;
    event.preventDefault();
    grip.focus();
    const { height: path, seen, top, foot } = grip.dataset;
    lifted = { path, seen, top: Number(top), foot: Number(foot), value: null };
  });
  document.addEventListener("pointermove", (event) => {
    if (!lifted) return;
    lifted.value = share(event);
    const grip = point(lifted.path);
    const y = Number(lifted.foot) - lifted.value * (lifted.foot - lifted.top);
    for (const part of grip.querySelectorAll("rect, text")) part.setAttribute("y", String(y));
    preview(lifted.path, () => lifted?.value ?? "", () => {});
  });
  document.addEventListener("pointerup", () => {
    if (!lifted) return;
    const { path, value, seen } = lifted;
    lifted = null;
    if (value !== null) setHeight(path, value, seen);
  });
  document.addEventListener("keydown", (event) => {
    const grip = event.target.closest?.("[data-height]");
    if (!grip || !["ArrowUp", "ArrowDown", "Home", "End"].includes(event.key)) return;
    event.preventDefault();
    const step = (event.shiftKey ? 0.1 : 0.01) * (event.key === "ArrowUp" ? 1 : -1);
    const now = Number(grip.getAttribute("aria-valuenow"));
    const value = event.key === "Home" ? 0 : event.key === "End" ? 1 : Math.min(Math.max(now + step, 0), 1);
    grip.setAttribute("aria-valuenow", value.toFixed(2));
    clearTimeout(settle);
    const { height: path, seen } = grip.dataset;
    settle = setTimeout(() => setHeight(path, value.toFixed(2), seen), 250);
  });

  /* the outline of the world: a click moves the site */
  document.addEventListener("click", (event) => {
    const world = event.target.closest?.("[data-world]");
    if (!world) return;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(world.getScreenCTM().inverse());
    const place = { latitude: (90 - at.y - 6).toFixed(1), longitude: (at.x - 180).toFixed(1) };
    send(address("place"), place, null);
  });

  /* a form half typed is kept; a table pasted into a cell fills the cells below and beside it */
  let keeping = null;
  document.addEventListener("input", (event) => {
    const form = event.target.closest?.("[data-keep]");
    if (!form) return;
    clearTimeout(keeping);
    keeping = setTimeout(() => {
      keeping = null;
      fetch(address("draft"), { method: "POST", body: new URLSearchParams(new FormData(form)), headers: { "X-CSRFToken": token() }, keepalive: true }).catch(() => {});
    }, 400);
  });
  document.addEventListener("paste", (event) => {
    const cell = event.target.closest?.("[data-cell]");
    const text = event.clipboardData?.getData("text") || "";
    if (!cell || !/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    let rows = text.trim().split(/\r?\n/).map((line) => line.split(/[\t;]/).map((part) => part.trim()));
    if (rows.length > 1 && !rows[0].some((part) => /\d/.test(part))) rows.shift();
    const word = (part) => /[a-z]/i.test(part) && !/\d/.test(part);
    if (rows.every((row) => row.length > 1 && word(row[0]))) rows = rows.map((row) => row.slice(1));
    if (rows.length <= 5 && rows.every((row) => row.length === 12)) rows = rows[0].map((_, i) => rows.map((row) => row[i]));
    const [top, left] = cell.dataset.cell.split(",").map(Number);
    rows.forEach((row, i) =>
      row.forEach((part, k) => {
        const target = document.querySelector(`[data-cell="${top + i},${left + k}"]`);
        if (target) target.value = part;
      }),
    );
    cell.dispatchEvent(new Event("input", { bubbles: true }));
  });
})();
