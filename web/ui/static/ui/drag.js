/* One way to drag: what is taken, where it is moved, what happens when it is let go. */

/* where a pointer is, in the units of a drawing */
export const within = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
export const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

/* attributes of a component in which things are dragged: x-bind="dragged". start: what is moved, from the event and its
   target, or null; move: gets that; end: gets it and whether it was moved */
export function dragging(selector, { start, move, end }) {
  let held = null;
  let moved = false;
  const release = () => {
    if (!held) return;
    const last = held;
    held = null;
    end(last, moved);
  };
  return {
    attributes: {
      "x-on:pointerdown"(event) {
        const target = event.target.closest?.(selector);
        if (!target || event.button !== 0) return;
        held = start(target, event);
        moved = false;
        if (held) event.preventDefault();
      },
      "x-on:pointermove.window"(event) {
        if (held && move(held, event) !== false) moved = true;
      },
      "x-on:pointerup.window": release,
      "x-on:pointercancel.window": release,
    },
    held: () => held,
  };
}

/* what is stepped by keys settles a moment later, so that a run of steps is one edit */
const SETTLES_MS = 250;
const steps = new Set();
export function settling(ms = SETTLES_MS) {
  const step = { timer: null, task: null };
  steps.add(step);
  return (task) => {
    clearTimeout(step.timer);
    step.task = task;
    step.timer = task ? setTimeout(() => finish(step), ms) : null;
  };
}
function finish(step) {
  const { task } = step;
  clearTimeout(step.timer);
  step.task = null;
  task?.();
}

/* before somebody goes elsewhere: what was stepped last is done at once */
export const settleNow = () => steps.forEach(finish);
