/* The component “pin” of a map: dragged, or moved by keys; the year under it is asked for as it moves, Enter keeps it as a
   design. */
import { clamp, dragging, within } from "../ui/drag.js";

const numbers = (svg) => Object.fromEntries(Object.entries(svg.dataset).map(([k, v]) => [k, Number(v)]));
const stepped = (value, step, low, high) => clamp(Math.round(value / step) * step, low, high);
const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

document.addEventListener("alpine:init", () => {
  Alpine.data("pin", () => {
    let root = null;
    const map = () => root.querySelector("[data-map]");
    const form = () => document.getElementById("keep-pin");

    function put(x, y) {
      const svg = map();
      const f = numbers(svg);
      const px = f.left + ((f.right - f.left) * (x - f.x0)) / (f.x1 - f.x0);
      const py = f.foot - ((f.foot - f.top) * (y - f.y0)) / (f.y1 - f.y0);
      const pin = svg.querySelector("[data-pin]");
      pin.setAttribute("transform", `translate(${px.toFixed(1)},${py.toFixed(1)})`);
      pin.dataset.x = x;
      pin.dataset.y = y;
      pin.setAttribute("aria-valuenow", y);
      svg.querySelector("[data-guide]").setAttribute("d", `M${f.left},${py}H${px}V${f.foot}`);
      form().elements["at.x"].value = x;
      form().elements["at.y"].value = y;
      form().dispatchEvent(new Event("moved"));
    }

    function at(event) {
      const f = numbers(map());
      const p = within(map(), event);
      return [
        stepped(f.x0 + ((p.x - f.left) * (f.x1 - f.x0)) / (f.right - f.left), f.stepx, f.x0, f.x1),
        stepped(f.y0 + ((f.foot - p.y) * (f.y1 - f.y0)) / (f.foot - f.top), f.stepy, f.y0, f.y1),
      ];
    }

    const drag = dragging("[data-map]", {
      start(svg, event) {
        put(...at(event));
        svg.querySelector("[data-pin]").focus();
        return svg;
      },
      move: (_svg, event) => put(...at(event)),
      end() {},
    });

    return {
      dragged: drag.attributes,
      init() {
        root = this.$root;
      },
      step(event) {
        const pin = event.target.closest("[data-pin]");
        if (!pin) return;
        const f = numbers(map());
        const times = event.shiftKey ? 10 : 1;
        const [x, y] = [Number(pin.dataset.x), Number(pin.dataset.y)];
        const way = WAYS[event.key];
        if (way) put(stepped(x + way[0] * times * f.stepx, f.stepx, f.x0, f.x1), stepped(y + way[1] * times * f.stepy, f.stepy, f.y0, f.y1));
        else if (event.key === "Escape") put(Number(pin.dataset.drawnX), Number(pin.dataset.drawnY));
        else if (event.key === "Enter") form().requestSubmit();
        else return;
        event.preventDefault();
        event.stopPropagation();
      },
      /* the year under the pin has come */
      answered() {
        const words = document.getElementById("pin-told");
        root.querySelector("[data-pin]")?.setAttribute("aria-valuetext", words.querySelector(".label")?.textContent || words.textContent);
        document.getElementById("keep-button")?.removeAttribute("disabled");
      },
    };
  });
});
