// Moves a design within its hoop by arrow keys or dragging. The picture
// follows at once; when the movement rests, the form asks for the figures.
const step = 1;
const bigStep = 5;
const rest = 250; // milliseconds

const form = () => document.querySelector("#placing-form");
const placed = () => document.querySelector("[data-placed]");
let timer = 0;
let drag = null;

const clamp = (v, most) => Math.max(-most, Math.min(most, v));

function move(x, y) {
  const g = placed();
  if (!g) return;
  const rounded = (v) => Math.round(v * 10) / 10;
  x = rounded(clamp(x, g.dataset.nudgeX / 10));
  y = rounded(clamp(y, g.dataset.nudgeY / 10));
  g.setAttribute("transform", `translate(${x * 10} ${-y * 10})`);
  g.dataset.x = x * 10;
  g.dataset.y = -y * 10;
  form().elements.x.value = `${x} mm`;
  form().elements.y.value = `${y} mm`;
  clearTimeout(timer);
  timer = setTimeout(() => form().requestSubmit(), rest);
}

const now = () => [placed().dataset.x / 10, -placed().dataset.y / 10];

document.addEventListener("keydown", (event) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
  if (!way || !event.target.closest("[data-mover]")) return;
  event.preventDefault();
  if (!placed()) return;
  const by = event.shiftKey ? bigStep : step;
  const [x, y] = now();
  move(x + way[0] * by, y + way[1] * by);
});

// Where an event lies in the field, in millimetres, y up.
function spot(event) {
  const svg = placed().ownerSVGElement;
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [p.x / 10, -p.y / 10];
}

document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest("[data-mover]") || !placed()) return;
  const [x, y] = now();
  const [px, py] = spot(event);
  drag = { x: x - px, y: y - py };
  event.target.closest("[data-mover]").setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const [px, py] = spot(event);
  move(drag.x + px, drag.y + py);
});
document.addEventListener("pointerup", () => (drag = null));

// The focus stays on the picture when it is drawn anew.
let focused = false;
document.addEventListener("htmx:beforeSwap", () => (focused = Boolean(document.activeElement?.closest("[data-mover]"))));
document.addEventListener("htmx:afterSwap", () => focused && document.querySelector("[data-mover]")?.focus());
