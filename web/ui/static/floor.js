// Puts machines where they stand: each is a tile that is dragged to a place, or moved by the
// arrow keys; the fields below say the same, and are what is saved.
const floor = document.querySelector("[data-floor]");
const says = document.querySelector("[data-says]");
const fields = [...document.querySelectorAll("[data-machine]")];
const across = 4;
const places = [...floor.querySelectorAll("[data-place]")];
const tiles = new Map();

for (const field of fields) {
  const tile = document.createElement("button");
  tile.type = "button";
  tile.className = "stands";
  tile.textContent = field.dataset.machine;
  tile.addEventListener("pointerdown", (event) => drag(tile, field, event));
  tile.addEventListener("keydown", (event) => {
    const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -across, ArrowDown: across }[event.key];
    if (!way) return;
    event.preventDefault();
    const at = Number(field.value) || 0;
    const to = at === 0 ? firstFree() : at + way;
    if (to >= 1 && to <= places.length && !(Math.abs(way) === 1 && at !== 0 && Math.ceil(to / across) !== Math.ceil(at / across))) move(field, to);
    tile.focus();
  });
  tiles.set(field, tile);
  field.addEventListener("input", draw);
}
draw();

function firstFree() {
  const taken = new Set(fields.map((f) => Number(f.value)));
  return places.findIndex((_, i) => !taken.has(i + 1)) + 1;
}

// Whoever stands there changes places.
function move(field, to) {
  const other = fields.find((f) => f !== field && Number(f.value) === to);
  if (other) other.value = field.value;
  field.value = to;
  says.textContent = `${field.dataset.machine} stands at place ${to}.`;
  draw();
}

function draw() {
  for (const [field, tile] of tiles) {
    const place = places[Number(field.value) - 1];
    tile.classList.toggle("loose", !place);
    (place ?? floor).append(tile);
  }
}

function drag(tile, field, event) {
  if (event.button !== 0) return;
  tile.setPointerCapture(event.pointerId);
  const end = (up) => {
    tile.removeEventListener("pointerup", end);
    tile.removeEventListener("pointercancel", end);
    if (up.type === "pointercancel") return;
    const to = places.find((p) => {
      const box = p.getBoundingClientRect();
      return up.clientX >= box.left && up.clientX < box.right && up.clientY >= box.top && up.clientY < box.bottom;
    });
    if (to) move(field, Number(to.dataset.place));
  };
  tile.addEventListener("pointerup", end);
  tile.addEventListener("pointercancel", end);
}
