/* Any picture of a page as SVG or PNG: what stands in its frame is put together anew, drawn as it is seen. */
const PAPER = "#F7F1E3";
const INK = "#1A2124";
const MARGIN = 12;
const HEAD = 36;
const PNG_SCALE = 2;
const SHAPES = ["path", "rect", "circle", "ellipse", "line", "polyline", "polygon"];
const DRAWN = ["fill", "stroke", "stroke-width", "stroke-dasharray", "opacity", "visibility"];
const WRITTEN = ["font-family", "font-size", "font-weight", "font-style", "fill", "text-anchor", "paint-order", "stroke", "stroke-width", "font-variant-numeric", "visibility"];
const FONTS = { "Source Sans 3": "source-sans-3-latin-wght-normal.woff2", Besley: "besley-latin-wght-normal.woff2" };
/* attributes that mean something on the page alone */
const OF_THE_PAGE = /^(data-|x-|hx-|class$|style$|role$|tabindex$)/;
const SVG = "http://www.w3.org/2000/svg";
const nameOf = (frame) => frame.dataset.picture || frame.getAttribute("aria-label").split(/[:;(]/)[0].slice(0, 70);
const make = (name, values) => {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(values)) element.setAttribute(key, String(value));
  return element;
};
const seen = (element) => element.getClientRects().length > 0 && getComputedStyle(element).visibility !== "hidden";

const text = (svg) => new XMLSerializer().serializeToString(svg);

/* a drawing as it stands, its styles written into it */
function copyOf(svg, x, y, width, height) {
  const copy = svg.cloneNode(true);
  const olds = svg.querySelectorAll("*");
  copy.querySelectorAll("*").forEach((element, i) => {
    const style = getComputedStyle(olds[i]);
    const names = ["text", "tspan"].includes(element.tagName) ? WRITTEN : SHAPES.includes(element.tagName) && !element.closest("pattern") ? DRAWN : [];
    if (!names.length && style.display !== "inline") element.setAttribute("display", style.display);
    if (element.tagName === "g" && style.opacity !== "1") element.setAttribute("opacity", style.opacity);
    for (const name of names) element.setAttribute(name, style.getPropertyValue(name).replace(/"/g, "'"));
    if (element.tagName === "image") element.setAttribute("image-rendering", "pixelated");
    for (const { name } of [...element.attributes]) if (OF_THE_PAGE.test(name)) element.removeAttribute(name);
  });
  for (const { name } of [...copy.attributes]) if (OF_THE_PAGE.test(name)) copy.removeAttribute(name);
  for (const [name, value] of Object.entries({ x, y, width, height, overflow: "visible" })) copy.setAttribute(name, String(value));
  return copy;
}

/* words of the page, line by line where they stand */
function words(node, box, into) {
  const style = getComputedStyle(node.parentElement);
  const range = document.createRange();
  const size = parseFloat(style.fontSize);
  const edge = style.overflowX === "hidden" ? node.parentElement.getBoundingClientRect().right + 1 : Infinity;
  let line = null;
  const close = () => {
    if (line?.text.trim()) into.append(line.make());
    line = null;
  };
  for (let i = 0; i < node.length; i += 1) {
    range.setStart(node, i);
    range.setEnd(node, i + 1);
    const at = range.getClientRects()[0];
    if (!at || at.right > edge) continue;
    if (!line || Math.abs(at.top - line.top) > 3) {
      close();
      const start = at;
      line = {
        top: at.top, text: "",
        make() {
          const text = make("text", { x: (start.left - box.left).toFixed(1), y: (start.top - box.top + (start.height + size * 0.72) / 2).toFixed(1), "font-family": style.fontFamily.replace(/"/g, "'"), "font-size": style.fontSize, "font-weight": style.fontWeight, "font-style": style.fontStyle, fill: style.color });
          text.textContent = this.text;
          return text;
        },
      };
    }
    line.text += node.data[i] === "\n" ? " " : node.data[i];
  }
  close();
}

/* a value that may be edited, as it reads */
function shownValue(field, box) {
  const [style, at] = [getComputedStyle(field), field.getBoundingClientRect()];
  const right = style.textAlign === "right" || style.textAlign === "end";
  const text = make("text", { x: (right ? at.right - box.left - parseFloat(style.paddingRight) : at.left - box.left + parseFloat(style.paddingLeft)).toFixed(1), y: (at.top - box.top + (at.height + parseFloat(style.fontSize) * 0.72) / 2).toFixed(1), "text-anchor": right ? "end" : "start", "font-family": style.fontFamily.replace(/"/g, "'"), "font-size": style.fontSize, "font-weight": style.fontWeight, fill: style.color });
  text.textContent = field.tagName === "SELECT" ? field.selectedOptions[0]?.textContent : field.type === "checkbox" ? (field.checked ? "✓" : "–") : field.value;
  return text;
}

function picture(frame) {
  const box = frame.getBoundingClientRect();
  const legend = document.querySelector(frame.dataset.pictureLegend || "nothing");
  const head = legend ? HEAD : 0;
  const [width, height] = [Math.ceil(box.width) + 2 * MARGIN, Math.ceil(box.height) + 2 * MARGIN + head];
  const svg = make("svg", { xmlns: SVG, width, height, viewBox: `${-MARGIN} ${-MARGIN - head} ${width} ${height}` });
  const title = make("title", {});
  title.textContent = nameOf(frame);
  svg.append(title, make("rect", { x: -MARGIN, y: -MARGIN - head, width, height, fill: PAPER }));
  if (legend) {
    const [name, at] = [make("text", { x: 0, y: 14 - head, "font-family": "Besley, serif", "font-size": 17, fill: INK }), legend.getBoundingClientRect()];
    name.textContent = nameOf(frame);
    svg.append(name, copyOf(legend, box.width - at.width, -head, at.width, at.height));
  }
  const walk = (element) => {
    if (element.matches("[data-leave], .sr-only-text, [hidden]") || !seen(element)) return;
    const at = element.getBoundingClientRect();
    const [x, y] = [at.left - box.left, at.top - box.top];
    if (element.tagName === "svg") svg.append(copyOf(element, x, y, at.width, at.height));
    else if (["INPUT", "SELECT"].includes(element.tagName)) svg.append(shownValue(element, box));
    else if (element.tagName === "IMG") svg.append(make("image", { href: element.src, x, y, width: at.width, height: at.height, preserveAspectRatio: "none", "image-rendering": "pixelated" }));
    else {
      const style = getComputedStyle(element);
      if (element !== frame && !/(, 0\)|transparent)$/.test(style.backgroundColor)) svg.append(make("rect", { x, y, width: at.width, height: at.height, fill: style.backgroundColor }));
      if (style.borderBottomWidth !== "0px" && style.borderBottomStyle !== "none") svg.append(make("path", { d: `M${x},${y + at.height}h${at.width}`, stroke: style.borderBottomColor, "stroke-width": style.borderBottomWidth }));
      for (const child of element.childNodes) {
        if (child.nodeType === Node.TEXT_NODE && child.data.trim()) words(child, box, svg);
        else if (child.nodeType === Node.ELEMENT_NODE) walk(child);
      }
    }
  };
  walk(frame);
  const defs = make("defs", {});
  for (const id of new Set([...text(svg).matchAll(/url\((?:&quot;|['"])?#([\w-]+)/g)].map((found) => found[1]))) {
    if (!svg.querySelector(`[id="${id}"]`)) defs.append(document.getElementById(id)?.cloneNode(true) || "");
  }
  svg.prepend(defs);
  return { svg, width, height, name: nameOf(frame) };
}

function keep(href, name) {
  const link = document.createElement("a");
  link.href = href;
  link.download = name;
  link.click();
}
const encoded = async (blob) => {
  const reader = new FileReader();
  const done = new Promise((ready) => reader.addEventListener("load", ready));
  reader.readAsDataURL(blob);
  await done;
  return reader.result;
};
/* an image may load nothing from outside: its type comes along */
let faces = null;
async function typefaces() {
  const root = new URL("fonts/", document.querySelector('link[rel="stylesheet"]').href);
  faces ??= Promise.all(Object.entries(FONTS).map(async ([family, file]) => {
    const answer = await fetch(new URL(file, root)).catch(() => null);
    return answer?.ok ? `@font-face{font-family:'${family}';font-weight:400 700;src:url(${await encoded(await answer.blob())})}` : "";
  }));
  return (await faces).join("");
}

export async function save(frame, kind) {
  const { svg, width, height, name } = picture(frame);
  const file = `${name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "")}.${kind}`;
  if (kind === "svg") {
    const href = URL.createObjectURL(new Blob([text(svg)], { type: "image/svg+xml" }));
    keep(href, file);
    setTimeout(() => URL.revokeObjectURL(href), 10000);
    return;
  }
  const drawn = text(svg).replace("<title>", `<style>${await typefaces()}</style><title>`);
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawn)}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [width * PNG_SCALE, height * PNG_SCALE];
  canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise((done) => canvas.toBlob(done, "image/png"));
  const href = URL.createObjectURL(blob);
  keep(href, file);
  setTimeout(() => URL.revokeObjectURL(href), 10000);
}
/* every picture of the page, for the command line */
export const pictures = () => {
  const frames = [...document.querySelectorAll("main [data-picture]")];
  const alone = [...document.querySelectorAll("main svg.chart, main svg.sky, main svg.world")].filter((svg) => svg.ariaLabel && !svg.closest("[data-picture]"));
  return [...frames, ...alone].filter(seen).flatMap((frame) => ["PNG", "SVG"].map((kind) => ({ text: `Save as ${kind}: ${nameOf(frame)}`, run: () => save(frame, kind.toLowerCase()) })));
};
