/* The component “heights”: ports, coils, sensors and heaters are dragged or stepped to their height; the year follows. */
import { clamp, dragging, settling, within } from "../ui/drag.js";
import { edit, preview } from "../ui/edits.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("heights", () => {
    const settle = settling();
    let root = null;
    const grip = (path) => root.querySelector(`[data-height="${path}"]`);
    const send = (path, value, expected) => edit(grip(path), { path, value, expected });
    const drag = dragging("[data-height]", {
      start(target) {
        target.focus();
        const { height: path, expected, top, foot } = target.dataset;
        return { path, expected, top: Number(top), foot: Number(foot), value: null };
      },
      move(held, event) {
        const at = within(root.querySelector("svg.scheme"), event);
        held.value = clamp((held.foot - at.y) / (held.foot - held.top), 0, 1).toFixed(2);
        const y = held.foot - held.value * (held.foot - held.top);
        for (const part of grip(held.path).querySelectorAll("rect, text")) part.setAttribute("y", String(y));
        preview(held.path, held.value);
      },
      end({ path, value, expected }) {
        if (value !== null) send(path, value, expected);
      },
    });
    return {
      dragged: drag.attributes,
      init() {
        root = this.$root;
      },
      step(event) {
        const target = event.target.closest("[data-height]");
        if (!target || !["ArrowUp", "ArrowDown", "Home", "End"].includes(event.key)) return;
        event.preventDefault();
        const by = (event.shiftKey ? 0.1 : 0.01) * (event.key === "ArrowUp" ? 1 : -1);
        const now = Number(target.getAttribute("aria-valuenow"));
        const value = event.key === "Home" ? 0 : event.key === "End" ? 1 : clamp(now + by, 0, 1);
        target.setAttribute("aria-valuenow", value.toFixed(2));
        const { height: path, expected } = target.dataset;
        settle(() => send(path, value.toFixed(2), expected));
      },
    };
  });
});
