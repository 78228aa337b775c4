// The picture of a day explains itself: whichever block is pointed at, touched or
// gone to by the arrow keys says what it is and what it waits for. A sitting can be
// dragged to another machine or time, or taken by Enter and moved by the arrow keys;
// the form below it says the same, and asks.
const day = document.querySelector("[data-day]");
const says = document.querySelector("#says");
const form = document.querySelector("#move");
const step = 5; // minutes
const far = 4; // pixels of a drag that is meant

// What explains itself has a title of its own.
const blocks = day ? [...day.querySelectorAll("title")].map((t) => t.parentElement).filter((b) => b !== day) : [];
const texts = new Map();
let at = null;
let taken = null;

for (const block of blocks) {
  const title = block.querySelector(":scope > title");
  texts.set(block, title.textContent.trim().replace(/\s+/g, " "));
  block.setAttribute("aria-label", texts.get(block));
  block.setAttribute("role", "img");
  block.setAttribute("tabindex", "-1");
  title.remove(); // or the browser says it a second time
}
// What is beside the blocks, such as a wash behind them, is not gone to by keys.
const stops = blocks.filter((b) => b.closest("g"));
stops[0]?.setAttribute("tabindex", "0");
if (says) says.hidden = false;
say(null);

function say(block) {
  if (!says) return;
  says.textContent = block ? texts.get(block) : "Point at a block, touch it, or go to it with the arrow keys: it says what it waits for.";
}

function go(block) {
  if (at) at.classList.remove("at");
  at?.setAttribute("tabindex", "-1");
  at = block;
  at.classList.add("at");
  at.setAttribute("tabindex", "0");
  at.focus({ preventScroll: true });
  say(at);
}

const box = (b) => b.getBoundingClientRect();

// The nearest block in a direction: along the lane first, or the lane over or under.
function next(key) {
  const here = box(at);
  const middle = (r) => r.y + r.height / 2;
  const beside = stops.filter((b) => Math.abs(middle(box(b)) - middle(here)) < 8 && b !== at);
  if (key === "ArrowRight") return beside.filter((b) => box(b).x > here.x).sort((a, b) => box(a).x - box(b).x)[0];
  if (key === "ArrowLeft") return beside.filter((b) => box(b).x < here.x).sort((a, b) => box(b).x - box(a).x)[0];
  const sign = key === "ArrowDown" ? 1 : -1;
  const over = stops.filter((b) => sign * (middle(box(b)) - middle(here)) > 8);
  const lane = Math.min(...over.map((b) => sign * middle(box(b))));
  return over.filter((b) => sign * middle(box(b)) < lane + 8).sort((a, b) => Math.abs(box(a).x - here.x) - Math.abs(box(b).x - here.x))[0];
}

// Where a sitting is on the picture, in minutes of the class, and its lane.
const minuteX = day ? Number(day.dataset.minute) : 1;
const lanes = day ? [...day.querySelectorAll("[data-lane]")] : [];
const shift = (g) => Number(g.getAttribute("transform").match(/translate\(([-\d.]+)/)[1]);
const laneY = (g) => Number(g.getAttribute("transform").match(/ ([-\d.]+)\)/)[1]);

function take(block) {
  const x = shift(block);
  taken = { block, x, lane: lanes.indexOf(block.closest("[data-lane]")), from: x, home: lanes.indexOf(block.closest("[data-lane]")) };
  block.classList.add("taken");
  say(block);
}

function clock(minute) {
  const [h, m] = day.dataset.clock.split(":").map(Number);
  const all = (h * 60 + m + minute + 1440) % 1440;
  return `${String(Math.floor(all / 60)).padStart(2, "0")}:${String(all % 60).padStart(2, "0")}`;
}

const minuteOf = (x) => Math.round((x - Number(day.dataset.from)) / minuteX);

function place(x, lane) {
  taken.x = Math.max(Number(day.dataset.from), x);
  taken.lane = Math.max(0, Math.min(lanes.length - 1, lane));
  const dy = laneY(lanes[taken.lane]) - laneY(lanes[taken.home]);
  taken.block.setAttribute("transform", `translate(${taken.x} ${dy})`);
  fill();
  const machine = lanes[taken.lane].querySelector("text").textContent;
  says.textContent = `${machine} from ${form.elements.at.value}. Enter keeps it, Escape puts it back.`;
}

// The form says where the taken sitting is; who sits is chosen by its number.
function fill() {
  const name = `${taken.block.dataset.sitting}.`;
  const option = [...form.elements.sitting.options].find((o) => o.value.startsWith(name));
  if (option) form.elements.sitting.value = option.value;
  form.elements.machine.value = lanes[taken.lane].dataset.lane;
  form.elements.at.value = clock(minuteOf(taken.x));
}

function drop(keep) {
  const { block, from, lane, home, x } = taken;
  block.classList.remove("taken");
  if (keep && (lane !== home || Math.abs(x - from) > 0.5)) {
    fill();
    taken = null;
    form.requestSubmit();
    return;
  }
  block.setAttribute("transform", `translate(${from} 0)`);
  taken = null;
  say(block);
}

day?.addEventListener("pointerover", (event) => {
  const block = blocks.find((b) => b.contains(event.target));
  if (block && !taken) say(block);
});
day?.addEventListener("pointerleave", () => taken || say(at));
day?.addEventListener("focusin", (event) => {
  const block = stops.find((b) => b === event.target);
  if (block && block !== at) go(block);
});
day?.addEventListener("keydown", (event) => {
  if (!at || event.ctrlKey || event.metaKey || event.altKey) return;
  if (taken) {
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (way) place(taken.x + way[0] * minuteX, taken.lane + way[1]);
    else if (event.key === "Enter" || event.key === " ") drop(true);
    else if (event.key === "Escape") drop(false);
    else return;
    event.preventDefault();
    return;
  }
  if (event.key.startsWith("Arrow")) {
    const block = next(event.key);
    if (block) go(block);
    event.preventDefault();
  } else if ((event.key === "Enter" || event.key === " ") && form && at.dataset.sitting) {
    take(at);
    place(taken.x, taken.lane);
    event.preventDefault();
  }
});

// A drag, in the picture's own measure.
let drag = null;
const spot = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(day.getScreenCTM().inverse());
day?.addEventListener("pointerdown", (event) => {
  const block = event.target.closest("[data-sitting]");
  const any = blocks.find((b) => b.contains(event.target));
  if (any && stops.includes(any)) go(any);
  if (!block || !form || event.button !== 0) return;
  const p = spot(event);
  drag = { block, x: p.x, y: p.y, id: event.pointerId };
  event.preventDefault();
});
day?.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const p = spot(event);
  if (!taken) {
    if (Math.hypot(p.x - drag.x, p.y - drag.y) < far) return;
    take(drag.block);
    day.setPointerCapture(drag.id);
  }
  const lane = lanes.reduce((best, g, i) => (Math.abs(laneY(g) + 18 - p.y) < Math.abs(laneY(lanes[best]) + 18 - p.y) ? i : best), 0);
  place(taken.from + p.x - drag.x, lane);
});
day?.addEventListener("pointerup", () => {
  if (drag && taken) drop(true);
  drag = null;
});
day?.addEventListener("pointercancel", () => {
  if (taken) drop(false);
  drag = null;
});

// The line of now goes on with the clock.
const line = day?.querySelector("[data-now]");
if (line) {
  const began = Date.now();
  setInterval(() => line.setAttribute("transform", `translate(${((Date.now() - began) / 60000) * minuteX} 0)`), 20000);
}
