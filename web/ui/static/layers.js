// Lays a layer before another stop, by dragging its ring along the stops or by
// the arrow keys on it. The stop's field follows, and the form asks what would
// come of it.
let drag = null;

const svgOf = (ring) => ring.closest("svg");
const field = (ring) => document.querySelectorAll('#lying input[name="stop"]')[ring.dataset.ring];

function lay(ring, stop) {
  const most = Number(ring.getAttribute("aria-valuemax"));
  stop = Math.max(1, Math.min(most, stop));
  if (stop === Number(ring.getAttribute("aria-valuenow"))) return;
  ring.setAttribute("aria-valuenow", stop);
  ring.setAttribute("aria-valuetext", `before stop ${stop}`);
  const places = JSON.parse(svgOf(ring).dataset.places);
  const y = ring.transform.baseVal.consolidate().matrix.f;
  ring.setAttribute("transform", `translate(${places[stop - 1]} ${y})`);
  field(ring).value = stop;
}

const ask = () => document.querySelector("#lying").dispatchEvent(new Event("laid"));

document.addEventListener("keydown", (event) => {
  const ring = event.target.closest?.("[data-ring]");
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
  if (!ring || !by) return;
  event.preventDefault();
  lay(ring, Number(ring.getAttribute("aria-valuenow")) + by);
  kept = ring.dataset.ring;
  ask();
});

document.addEventListener("pointerdown", (event) => {
  const ring = event.target.closest?.("[data-ring]");
  if (!ring) return;
  event.preventDefault();
  drag = ring;
  ring.setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svgOf(drag).getScreenCTM().inverse());
  const places = JSON.parse(svgOf(drag).dataset.places);
  const near = places.reduce((best, x, i) => (Math.abs(x - at.x) < Math.abs(places[best] - at.x) ? i : best), 0);
  lay(drag, near + 1);
});
document.addEventListener("pointerup", () => {
  if (!drag) return;
  kept = drag.dataset.ring;
  drag = null;
  ask();
});

document.addEventListener("pointercancel", () => (drag = null));

// What had the focus has it again when the answer is there.
let kept = null;
document.addEventListener("htmx:beforeRequest", (event) => {
  const on = document.activeElement;
  if (event.target.id === "lying" && kept === null && on?.getAttribute("aria-label")) kept = on.getAttribute("aria-label");
});
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.target.id !== "lying" || kept === null) return;
  const ring = document.querySelector(`[data-ring="${CSS.escape(kept)}"]`);
  (ring ?? document.querySelector(`#lying [aria-label="${CSS.escape(kept)}"]`))?.focus();
  kept = null;
});
