/* One way to drag: what is taken hold of, where it is moved, what happens when it is let go. */

/* where a pointer is, in the units of a drawing */
export const within = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
export const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

/* start: what is held, from the event and its target, or null; move: gets what is held; end: gets it and whether it was moved */
export function draggable(selector, { start, move, end }) {
  let held = null;
  let moved = false;
  document.addEventListener("pointerdown", (event) => {
    const target = event.target.closest?.(selector);
    if (!target || event.button !== 0) return;
    held = start(target, event);
    moved = false;
    if (held) event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (held && move(held, event) !== false) moved = true;
  });
  const release = () => {
    if (!held) return;
    const let_go = held;
    held = null;
    end(let_go, moved);
  };
  document.addEventListener("pointerup", release);
  document.addEventListener("pointercancel", release);
  return () => held;
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

/* before the hand goes elsewhere: what was stepped last is done at once */
export const settleNow = () => steps.forEach(finish);
