/* The components “world”, the outline on which a click moves the site, and “cells”, a table of means that takes a pasted one. */
import { within } from "../ui/drag.js";

/* rows of a pasted text as cells of the form: headings and names of months left out, a table lying down stood up */
export function pasted(text) {
  let rows = text.trim().split(/\r?\n/).map((line) => line.split(/[\t;]/).map((part) => part.trim()));
  if (rows.length > 1 && !rows[0].some((part) => /\d/.test(part))) rows.shift();
  const word = (part) => /[a-z]/i.test(part) && !/\d/.test(part);
  if (rows.every((row) => row.length > 1 && word(row[0]))) rows = rows.map((row) => row.slice(1));
  if (rows.length <= 5 && rows.every((row) => row.length === 12)) rows = rows[0].map((_, i) => rows.map((row) => row[i]));
  return rows;
}

document.addEventListener("alpine:init", () => {
  Alpine.data("world", () => ({
    point(event) {
      const at = within(this.$root, event);
      const values = { latitude: (90 - at.y - 6).toFixed(1), longitude: (at.x - 180).toFixed(1) };
      htmx.ajax("POST", "place", { source: this.$root, values, target: "#desk", swap: "innerMorph" });
    },
  }));
  Alpine.data("cells", () => ({
    fill(event) {
      const cell = event.target.closest("[data-cell]");
      const text = event.clipboardData?.getData("text") || "";
      if (!cell || !/[\t\n]/.test(text.trim())) return;
      event.preventDefault();
      const [top, left] = cell.dataset.cell.split(",").map(Number);
      for (const [i, row] of pasted(text).entries()) {
        for (const [k, part] of row.entries()) {
          const target = this.$root.querySelector(`[data-cell="${top + i},${left + k}"]`);
          if (target) target.value = part;
        }
      }
      cell.dispatchEvent(new Event("input", { bubbles: true }));
    },
  }));
});
