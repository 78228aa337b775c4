// Pointing at the drawing of a design asks where its stitches are to be
// restarted from there, and shows the answer's stitch as a chalk cross.
const drawing = document.querySelector("svg[data-point]");
const stitches = drawing.querySelector("g");
const mark = drawing.querySelector("#mark");

const showMark = () => {
  const place = document.querySelector("#place [data-x]");
  mark.toggleAttribute("hidden", !place);
  if (place) mark.setAttribute("transform", `translate(${place.dataset.x * 10} ${place.dataset.y * -10})`);
};

drawing.addEventListener("click", (event) => {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(stitches.getScreenCTM().inverse());
  htmx.ajax("GET", `${drawing.dataset.point}?x=${(at.x / 10).toFixed(2)}&y=${(-at.y / 10).toFixed(2)}`, { target: "#place", swap: "outerHTML" });
});
document.addEventListener("htmx:afterSwap", showMark);
showMark();
