// Goes through who can do what by keys: up and down through the students of the step that
// is looked at, left and right to the steps beside, Space ticks, 1 to 4 press how it was
// done. Says whom a press is for.
const table = document.querySelector("[data-matrix]");
const boxes = [...document.querySelectorAll("[data-matrix] input[name=student]")];
const says = document.querySelector("[data-for]");

function tell() {
  if (!says) return;
  const names = boxes.filter((box) => box.checked).map((box) => box.dataset.name);
  says.textContent = names.length === 0 ? "for those ticked" : `for ${names.join(", ")}`;
}

function step(by) {
  const links = [...table.querySelectorAll("thead a")];
  const at = links.findIndex((link) => link.getAttribute("aria-current"));
  links[at + by]?.click();
}

table.addEventListener("change", tell);
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const typing = event.target.matches("input:not([type=checkbox]), select, textarea");
  if (typing) return;
  const at = boxes.indexOf(document.activeElement);
  const button = at >= 0 && document.querySelector(`[data-level="${CSS.escape(event.key)}"]`);
  switch (true) {
    case event.key === "ArrowDown":
      boxes[Math.min(at + 1, boxes.length - 1)]?.focus();
      break;
    case event.key === "ArrowUp":
      boxes[Math.max(at - 1, 0)]?.focus();
      break;
    case event.key === "ArrowLeft" || event.key === "ArrowRight":
      step(event.key === "ArrowLeft" ? -1 : 1);
      break;
    case Boolean(button):
      event.stopImmediatePropagation();
      button.click();
      break;
    default:
      return;
  }
  event.preventDefault();
}, true);
tell();
