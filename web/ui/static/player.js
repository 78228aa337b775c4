// The player sews a design on a canvas in place of its still drawing: at real
// speed or faster, scrubbed along the strip of stops, by stop or by stitch.
// Pointing at a place asks where to restart from there.
import { loadReel, isStitch, moveOf, stitchOf, stopAt } from "./reel.js";
import { Stage } from "./stage.js";

const root = document.querySelector("[data-player]");
const canvas = root.querySelector("canvas");
const still = root.querySelector("svg[data-still]");
const scrub = root.querySelector("[data-scrub]");
const status = root.querySelector("[data-status]");
const play = root.querySelector("[data-do=play]");
const speed = root.querySelector("[data-speed]");
const cloth = root.querySelector("[data-cloth]");
const bars = [...root.querySelectorAll("[data-bar]")].map((bar) => ({
  x: Number(bar.getAttribute("x")),
  width: Number(bar.getAttribute("width")),
  color: bar.getAttribute("fill"),
  minutes: Number(bar.dataset.minutes),
}));
const field = { x: Number(root.dataset.fieldX), y: Number(root.dataset.fieldY), round: Number(root.dataset.round) };
const turned = root.dataset.turn === "90";
const bounds = still.viewBox.baseVal;

let reel;
let stage;
let view;
let at = 0; // the move that was last sewn
let exact = 0; // the same while playing, between moves
let playing = false;
let lastFrame = 0;
let dirty = true;
let settling = 0;
let mark = null;

const height = 340; // as the still drawing's
const begun = performance.now();
let live = false;
reel = await loadReel(root.dataset.stitches, turned);
at = exact = reel.n - 1;
stage = new Stage(canvas, reel, bars.map((b) => b.color));
fit();
showMark();
requestAnimationFrame(frame);

// Takes the place of the still drawing once everything is drawn.
function goLive() {
  live = true;
  still.setAttribute("hidden", "");
  canvas.hidden = false;
  for (const el of root.querySelectorAll("[data-live]")) el.hidden = false;
  dirty = true;
  root.dataset.ready = Math.round(performance.now() - begun);
}

// Fits the hoop, or the design where there is none, to the canvas.
function fit() {
  const box = canvas.parentElement.getBoundingClientRect();
  const dots = Math.min(2, window.devicePixelRatio || 1);
  canvas.width = Math.round(box.width * dots);
  canvas.height = Math.round(height * dots);
  canvas.style.height = `${canvas.height / dots}px`;
  const scale = Math.min(canvas.width / bounds.width, canvas.height / bounds.height);
  setView({ scale, x: canvas.width / 2, y: canvas.height / 2 }, true);
}

// A view that is being dragged or zoomed is drawn from what there is, and
// anew when it has settled.
function setView(next, now) {
  view = next;
  clearTimeout(settling);
  const settle = () => {
    stage.reset(view);
    dirty = true;
  };
  if (now) settle();
  else settling = setTimeout(settle, 140);
  dirty = true;
}

function frame(time) {
  if (playing) {
    const stop = bars[stopAt(reel, at)];
    const k = stopAt(reel, at);
    const perMillisecond = (reel.ends[k] - reel.starts[k]) / Math.max(stop.minutes, 1e-3) / 60000;
    exact += perMillisecond * (time - lastFrame) * Number(speed.value);
    if (exact >= reel.n - 1) {
      exact = reel.n - 1;
      setPlaying(false);
    }
    at = Math.floor(exact);
    dirty = true;
  }
  lastFrame = time;
  const busy = stage.work(performance.now() + (live ? 7 : 40));
  if (!live && !busy) goLive();
  if (live && (dirty || busy)) draw();
  requestAnimationFrame(frame);
}

function draw() {
  const style = getComputedStyle(root);
  const colors = { paper: style.getPropertyValue("--sheet"), grey: "#8b948e", dark: "#1d2621" };
  dirty = !stage.show(at, colors[cloth.value], view);
  const c = canvas.getContext("2d");
  const ink = cloth.value === "dark" ? "#e8efe6" : cloth.value === "grey" ? "#10150f" : style.getPropertyValue("--ink");
  c.strokeStyle = ink;
  c.lineWidth = 1.5;
  c.globalAlpha = 1;
  const s = view.scale;
  if (field.x > 0) {
    c.beginPath();
    c.roundRect(view.x - field.x * s, view.y - field.y * s, 2 * field.x * s, 2 * field.y * s, field.round * s);
    for (const [x, y, dx, dy] of [[0, -field.y, 0, -20], [0, field.y, 0, 20], [-field.x, 0, -20, 0], [field.x, 0, 20, 0]]) {
      c.moveTo(view.x + x * s, view.y + y * s);
      c.lineTo(view.x + (x + dx) * s, view.y + (y + dy) * s);
    }
    c.stroke();
  }
  cross(c, 0, 0, 6, ink, 1);
  if (at < reel.n - 1) cross(c, reel.x[at], reel.y[at], 9, style.getPropertyValue("--blue"), 2);
  if (mark) cross(c, mark.x, mark.y, 13, style.getPropertyValue("--blue"), 3);
  tell();
}

function cross(c, x, y, arm, color, width) {
  const px = view.x + x * view.scale;
  const py = view.y - y * view.scale;
  c.strokeStyle = color;
  c.lineWidth = width;
  c.beginPath();
  c.moveTo(px - arm, py);
  c.lineTo(px + arm, py);
  c.moveTo(px, py - arm);
  c.lineTo(px, py + arm);
  c.stroke();
}

// The place on the strip, and in words.
function tell() {
  const k = stopAt(reel, at);
  const share = (at - reel.starts[k] + 1) / (reel.ends[k] - reel.starts[k]);
  if (document.activeElement !== scrub || playing) scrub.value = bars[k].x + share * bars[k].width;
  root.querySelector("[data-cursor]").setAttribute("x", bars[k].x + share * bars[k].width - 1);
  const words = `stop ${k + 1}, stitch ${stitchOf(reel, at).toLocaleString("en")}`;
  if (status.textContent !== words) {
    status.textContent = words;
    scrub.setAttribute("aria-valuetext", words);
  }
}

function seek(i) {
  at = Math.max(0, Math.min(reel.n - 1, i));
  exact = at;
  dirty = true;
}

// Goes to the next or last stitch, past moves that sew nothing.
function step(by) {
  setPlaying(false);
  const direction = Math.sign(by);
  let i = at;
  for (let left = Math.abs(by); left > 0; left--) {
    do i += direction;
    while (i > 0 && i < reel.n - 1 && !isStitch(reel, i));
  }
  seek(i);
}

function stepStop(by) {
  setPlaying(false);
  const k = stopAt(reel, at);
  if (by > 0) seek(at === reel.ends[k] - 1 && k + 1 < bars.length ? reel.ends[k + 1] - 1 : reel.ends[k] - 1);
  else seek(at > reel.starts[k] || k === 0 ? reel.starts[k] : reel.starts[k - 1]);
}

function setPlaying(on) {
  if (on && at >= reel.n - 1) seek(0);
  playing = on;
  play.textContent = on ? "Pause" : "Sew";
  play.setAttribute("aria-pressed", on);
}

scrub.addEventListener("input", () => {
  setPlaying(false);
  const x = Number(scrub.value);
  let k = bars.findIndex((b) => x <= b.x + b.width);
  if (k < 0) k = bars.length - 1;
  const share = Math.max(0, Math.min(1, (x - bars[k].x) / bars[k].width));
  seek(reel.starts[k] + Math.round(share * (reel.ends[k] - reel.starts[k] - 1)));
});

const actions = {
  play: () => setPlaying(!playing),
  "stop-back": () => stepStop(-1),
  "stop-on": () => stepStop(1),
  back: () => step(-1),
  on: () => step(1),
  in: () => zoom(1.25, canvas.width / 2, canvas.height / 2),
  out: () => zoom(0.8, canvas.width / 2, canvas.height / 2),
  whole: fit,
};
root.addEventListener("click", (event) => actions[event.target.closest("[data-do]")?.dataset.do]?.());
cloth.addEventListener("change", () => (dirty = true));

const keys = { " ": "play", "[": "stop-back", "]": "stop-on", ArrowLeft: "back", ArrowRight: "on", "+": "in", "=": "in", "-": "out", 0: "whole" };
document.addEventListener("keydown", (event) => {
  const busy = event.target.closest("input, select, textarea, summary, [popover]") || (event.key === " " && event.target.closest("button, a"));
  if (busy || event.ctrlKey || event.metaKey || event.altKey || !keys[event.key]) return;
  event.preventDefault();
  if (event.shiftKey && event.key.startsWith("Arrow")) step(event.key === "ArrowLeft" ? -10 : 10);
  else actions[keys[event.key]]();
});

function zoom(by, x, y) {
  const scale = Math.max(0.05, Math.min(12, view.scale * by));
  const k = scale / view.scale;
  setView({ scale, x: x - (x - view.x) * k, y: y - (y - view.y) * k });
}

// Where an event lies on the canvas, in its own dots.
function spot(event) {
  const box = canvas.getBoundingClientRect();
  return { x: ((event.clientX - box.left) * canvas.width) / box.width, y: ((event.clientY - box.top) * canvas.height) / box.height };
}

canvas.addEventListener("wheel", (event) => {
  event.preventDefault();
  const p = spot(event);
  zoom(Math.exp(-event.deltaY * 0.0015), p.x, p.y);
}, { passive: false });

// One finger or the mouse drags, two fingers zoom, a tap points.
const fingers = new Map();
let moved = 0;
canvas.addEventListener("pointerdown", (event) => {
  canvas.setPointerCapture(event.pointerId);
  fingers.set(event.pointerId, spot(event));
  if (fingers.size === 1) moved = 0;
});
canvas.addEventListener("pointermove", (event) => {
  const before = fingers.get(event.pointerId);
  if (!before) return;
  const now = spot(event);
  moved += Math.abs(now.x - before.x) + Math.abs(now.y - before.y);
  if (fingers.size === 2) {
    const [other] = [...fingers].filter(([id]) => id !== event.pointerId).map(([, p]) => p);
    const k = Math.hypot(now.x - other.x, now.y - other.y) / Math.max(1, Math.hypot(before.x - other.x, before.y - other.y));
    zoom(k, other.x, other.y);
  } else if (moved > 6) {
    setView({ ...view, x: view.x + now.x - before.x, y: view.y + now.y - before.y });
  }
  fingers.set(event.pointerId, now);
});
canvas.addEventListener("pointerup", (event) => {
  const tap = fingers.size === 1 && moved <= 6;
  fingers.delete(event.pointerId);
  if (tap) point(spot(event));
});
canvas.addEventListener("pointercancel", (event) => fingers.delete(event.pointerId));

function point(p) {
  let x = (p.x - view.x) / view.scale / 10;
  let y = (view.y - p.y) / view.scale / 10;
  if (turned) [x, y] = [y, -x];
  htmx.ajax("GET", `${root.dataset.restart}?x=${x.toFixed(2)}&y=${y.toFixed(2)}`, { target: "#place", swap: "outerHTML" });
}

// Marks the place that was found, and sews up to it.
function showMark() {
  const place = document.querySelector("#place [data-stitch]");
  mark = null;
  if (place) {
    setPlaying(false);
    seek(moveOf(reel, Number(place.dataset.stop) - 1, Number(place.dataset.stitch)));
    mark = { x: reel.x[at], y: reel.y[at] };
  }
  dirty = true;
}
document.addEventListener("htmx:afterSwap", showMark);
new ResizeObserver(() => canvas.parentElement.clientWidth > 0 && Math.round(canvas.parentElement.getBoundingClientRect().width * Math.min(2, window.devicePixelRatio || 1)) !== canvas.width && fit()).observe(canvas.parentElement);
window.matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () => (dirty = true));
