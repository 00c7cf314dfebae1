/* The component “bars”: a shape of the day, 24 bars dragged or stepped; the numbers below are the same values. */
import { dragging, settling } from "../ui/drag.js";
import { edit, expectedOf, preview } from "../ui/edits.js";

const TALL = 110;
const TALLEST = 114;
const FOOT = 118;
const DEPTH = 136;

document.addEventListener("alpine:init", () => {
  Alpine.data("bars", () => {
    const settle = settling();
    let root = null;
    const field = () => root.querySelector("[data-path]");
    const weights = () => [...root.querySelectorAll("[data-weight]")].map((one) => one.value || "0").join(" ");
    const send = (more) => edit(field(), { value: weights(), ...more });

    function setBar(hour, weight) {
      const value = Math.min(Math.max(Math.round(weight * 10) / 10, 0), 1000);
      root.querySelector(`[data-weight="${hour}"]`).value = String(value);
      const bar = root.querySelector(`[data-bar="${hour}"]`);
      const height = Math.min((TALL * value) / Number(field().dataset.top), TALLEST);
      bar.querySelector(".bar").setAttribute("height", String(height));
      bar.querySelector(".bar").setAttribute("y", String(FOOT - height));
      bar.setAttribute("aria-valuenow", String(value));
      bar.setAttribute("aria-valuetext", String(value));
    }

    function move(held, event) {
      const frame = root.querySelector(".daybars").getBoundingClientRect();
      const y = ((event.clientY - frame.top) / frame.height) * DEPTH;
      held.weight = ((FOOT - y) / TALL) * Number(held.top);
      setBar(held.hour, held.weight);
      preview(field().dataset.path, weights());
    }

    const drag = dragging("[data-bar]", {
      start(bar, event) {
        bar.focus();
        const { top } = field().dataset;
        const expected = expectedOf(field());
        const held = { hour: Number(bar.dataset.bar), expected, top, before: weights().split(" ") };
        move(held, event);
        return held;
      },
      move,
      end: ({ expected }) => send({ expected }),
    });

    return {
      dragged: drag.attributes,
      init() {
        root = this.$root;
      },
      /* a preview draws the bars anew: those of before stand, the one that is dragged follows */
      previewed() {
        const held = drag.held();
        if (!held) return;
        field().dataset.top = held.top;
        for (const [hour, weight] of held.before.entries()) setBar(hour, Number(weight));
        setBar(held.hour, held.weight);
      },
      typed(event) {
        if (event.target.dataset.weight !== undefined) send();
      },
      step(event) {
        const bar = event.target.closest("[data-bar]");
        if (!bar) return;
        const hour = Number(bar.dataset.bar);
        if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
          event.preventDefault();
          root.querySelector(`[data-bar="${(hour + (event.key === "ArrowRight" ? 1 : 23)) % 24}"]`).focus();
        }
        if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          const by = (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
          setBar(hour, Number(bar.getAttribute("aria-valuenow")) + by);
          settle(send);
        }
      },
    };
  });
});
