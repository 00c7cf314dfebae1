/* The component “player”, the drawing played through its hours: temperatures between two hours are drawn as they pass, sixty times a second. */
import { look } from "../ui/edits.js";

let frames = null;
let at = 0;
let last = null;
let loading = false;
let painted = 0;

/* flow arrows: when each is seen */
const SEEN = { forward: (i) => frames.flow[i] > 1, backward: (i) => frames.flow[i] < -1, drawn: (i) => frames.litres[i] > 0 };

const box = () => document.querySelector("[data-play]");
const scale = () => box().dataset.scale.split(" ");
const tint = (colours, celsius) => colours[Math.min(Math.max(Math.floor(((celsius - 10) / 80) * 9), 0), 8)];
const between = (row, i, f) => row[i] + (row[Math.min(i + 1, row.length - 1)] - row[i]) * f;

async function load(day) {
  loading = true;
  const answer = await fetch(`${box().dataset.play}?day=${day}`).catch(() => null);
  loading = false;
  if (!answer?.ok) return stop();
  frames = await answer.json();
  return frames;
}

function paint(hour) {
  const i = Math.floor(hour) - frames.first;
  const f = hour - Math.floor(hour);
  const layers = frames.layers[i].map((v, k) => v + ((frames.layers[i + 1] || frames.layers[i])[k] - v) * f);
  const second = frames.second?.[i];
  const values = {
    supply: between(frames.supply, i, f), back: layers[0], bottom: layers[0], top: layers[layers.length - 1],
    mains: frames.mains[i], pool: between(frames.pool, i, f), mean: layers.reduce((a, b) => a + b, 0) / layers.length,
  };
  const colours = scale();
  for (const shape of box().querySelectorAll("[data-of]")) {
    const [name, k] = shape.dataset.of.split("-");
    if (name === "pump") shape.setAttribute("fill", frames.pump[i] > 0 ? "#1A2124" : "none");
    else if (name === "bought") shape.setAttribute("fill", frames.heat[i] >= 5 ? "#E8BFB3" : "#F7F1E3");
    else if (SEEN[name]) shape.setAttribute("visibility", SEEN[name](i) ? "visible" : "hidden");
    else {
      const celsius = k === undefined ? values[name] : (name === "second" ? second : layers)?.[k];
      if (celsius !== undefined) shape.setAttribute(shape.getAttribute("stroke-width") === "4.4" ? "stroke" : "fill", tint(colours, celsius));
    }
  }
  const degree = (v) => (v * frames.degree[0] + frames.degree[1]).toFixed(1).replace(".", document.documentElement.dataset.decimal || ".");
  const clock = Math.floor(hour) % 24;
  const pump = frames.pumped ? (frames.pump[i] > 0 ? `Pump at ${Math.round(100 * frames.pump[i])} %, ` : "Pump at rest, ") : "";
  const bought = document.createElement("span");
  bought.className = "red";
  bought.textContent = `bought (${frames.bought[i]})`;
  const water = frames.stored ? `store ${degree(values.top)}° over ${degree(values.bottom)}°` : `pool ${degree(values.pool)}°`;
  const sun = `${frames.sun[i]} ${frames.signs[0]}`;
  const draw = `${frames.draw[i]} ${frames.signs[1]}`;
  document.getElementById("playline").replaceChildren(`${clock} h: ${pump}${water}, sun ${sun}, drawn ${draw}, `, bought, ` ${frames.signs[2]}.`);
  const shown = { sun, draw, bought: `(${frames.bought[i]})`, collector: `${degree(between(frames.collector, i, f))}°`, pool: `${degree(values.pool)}°`, mean: `${degree(values.top)}°` };
  for (const place of box().querySelectorAll("[data-shown]")) place.textContent = shown[place.dataset.shown];
  for (const place of box().querySelectorAll("[data-layer]")) place.textContent = `${degree(layers[Number(place.dataset.layer)])}°`;
  box().querySelector("[data-shine]").setAttribute("fill-opacity", String(Math.min(Math.max(frames.shine[i], 0) / 1000, 1)));
  box().querySelector("[data-rays]").setAttribute("visibility", frames.shine[i] > 0 ? "visible" : "hidden");
  const days = document.querySelector("svg[data-traces]");
  const n = Math.floor(hour) - Number(days.dataset.first);
  if (n >= 0 && n < Number(days.dataset.count)) days.querySelector("[data-cursor]").setAttribute("x", String(Number(days.dataset.left) + Number(days.dataset.step) * n));
  painted += 1;
  box().dataset.painted = String(painted);
}

function turn(now) {
  if (last === null || !box()) return stop();
  const speed = Number(document.getElementById("play-speed").value);
  const before = Math.floor(at / 24);
  at = (at + ((now - last) / 1000) * speed) % 8760;
  last = now;
  const day = Math.floor(at / 24);
  if (frames && at >= frames.first && at < frames.first + frames.layers.length - 1) {
    paint(at);
    if (day !== before) lead();
  } else if (!loading) load(day);
  window.requestAnimationFrame(turn);
  return undefined;
}

/* the page follows the hour played */
const lead = () => look({ day: Math.floor(at / 24), hour: Math.floor(at) % 24, start: document.querySelector("[data-traces]").dataset.first });

let player = null; // the component at work: a page updated while playing keeps it

document.addEventListener("alpine:init", () => {
  Alpine.data("player", () => ({
    playing: false,
    get pressed() {
      return String(this.playing);
    },
    get label() {
      return this.playing ? "pause" : "play";
    },
    async toggle() {
      if (this.playing) {
        stop();
        return;
      }
      const place = document.querySelector("[data-hour]").dataset;
      at = Number(place.day) * 24 + Number(place.hour);
      frames = null;
      if (!(await load(Number(place.day)))) return;
      last = performance.now();
      player = this;
      this.playing = true;
      window.requestAnimationFrame(turn);
    },
    press(event) {
      if (event.target.matches?.("input, textarea") || document.querySelector("dialog[open], :popover-open")) return;
      if (["<", ">"].includes(event.key)) this.hasten(event.key === ">" ? 1 : -1);
      if (event.key !== " " || event.target.matches?.("select, button, a")) return;
      event.preventDefault();
      this.toggle();
    },
    hasten(by) {
      const { speed } = this.$refs;
      speed.selectedIndex = Math.min(Math.max(speed.selectedIndex + by, 0), speed.options.length - 1);
    },
  }));
});

function stop() {
  if (last === null) return;
  last = null;
  if (player) player.playing = false;
  if (box()) lead();
}
