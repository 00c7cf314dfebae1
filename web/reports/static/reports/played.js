/* The drawing through its hours, for a reader who has nothing but this page: each hour is what differs from the first. */
const frames = JSON.parse(document.getElementById("frames").textContent);
const drawing = document.querySelector("[data-drawing]");
const slider = document.querySelector("[data-hour]");
const button = document.querySelector("[data-play]");
const words = document.querySelector("[data-when]");
const EVERY_MS = 350;
let playing = null;

function show(index) {
  const { when, moved } = frames.hours[index];
  const pieces = [...frames.base];
  for (const [at, text] of moved) pieces[at] = text;
  drawing.innerHTML = pieces.join("<");
  words.textContent = when;
}

function play(on) {
  clearInterval(playing);
  playing = on ? setInterval(() => {
    slider.value = String((Number(slider.value) + 1) % frames.hours.length);
    show(Number(slider.value));
  }, EVERY_MS) : null;
  button.setAttribute("aria-pressed", String(on));
  button.textContent = on ? "Stop" : "Play";
}

slider.addEventListener("input", () => show(Number(slider.value)));
button.addEventListener("click", () => play(!playing));
for (const hidden of [button, document.querySelector("[data-slider]")]) hidden.hidden = false;
