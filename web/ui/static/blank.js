// Moves a design on its blank, by dragging it or by the arrow keys on it. The
// fields follow at once; when the movement rests, the form asks what it comes to.
const step = 1;
const bigStep = 10;
const rest = 250; // milliseconds

const svg = () => document.querySelector("[data-on-blank] svg");
const form = () => document.querySelector("#place-form");
let timer = 0;
let drag = null;

const moved = () => ["right", "down"].map((name) => millimetres(form().elements[name].value));

// What is typed, in millimetres; inches are told by their sign.
function millimetres(text) {
  const value = parseFloat(text.replace(",", ".")) || 0;
  const inches = /in|"/.test(text) || (!/mm/.test(text) && form().dataset.units === "in");
  return inches ? value * 25.4 : value;
}

function move(right, down) {
  const [wasRight, wasDown] = moved();
  const shift = (design) => {
    const matrix = design.transform.baseVal.consolidate().matrix;
    matrix.e += right - wasRight;
    matrix.f += down - wasDown;
    design.transform.baseVal.initialize(svg().createSVGTransformFromMatrix(matrix));
  };
  svg().querySelectorAll("[data-moves]").forEach(shift);
  const written = (v) => `${Math.round(v * 10) / 10} mm`;
  form().elements.right.value = written(right);
  form().elements.down.value = written(down);
  clearTimeout(timer);
  timer = setTimeout(() => form().elements.down.dispatchEvent(new Event("change", { bubbles: true })), rest);
}

document.addEventListener("keydown", (event) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way || !event.target.closest("[data-on-blank]") || !form()) return;
  event.preventDefault();
  const by = event.shiftKey ? bigStep : step;
  const [right, down] = moved();
  move(right + way[0] * by, down + way[1] * by);
});

const spot = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());

document.addEventListener("pointerdown", (event) => {
  const on = event.target.closest("[data-on-blank]");
  if (!on || !form() || !svg()) return;
  const at = spot(event);
  const [right, down] = moved();
  drag = { x: right - at.x, y: down - at.y };
  on.setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const at = spot(event);
  move(drag.x + at.x, drag.y + at.y);
});
document.addEventListener("pointerup", () => (drag = null));
document.addEventListener("pointercancel", () => (drag = null));
