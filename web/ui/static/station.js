// The phone beside a machine. What is pressed is kept until the server has it, in order,
// each with a name of its own, so that it counts once; meanwhile the page goes on to its
// next screen. News come by server-sent events; the screen stays awake.
import { follow } from "./stream.js";

const root = document.querySelector("[data-station]");
const station = document.querySelector("#station");
const refused = document.querySelector("#refused");
const address = `/station/${root.dataset.station}`;
const store = `chalkstep presses ${root.dataset.station}`;
const quiet = 15; // seconds without news that are said
const again = 3000; // milliseconds
const most = 50; // sent at once

let latest = null; // what the server showed while presses were still kept
let sending = false;

const kept = () => JSON.parse(localStorage.getItem(store) ?? "[]");
const keep = (presses) => localStorage.setItem(store, JSON.stringify(presses));
const line = follow(root.dataset.news, { part: news, heard: () => say(), refused: (open) => open() });

flush();
setInterval(flush, again);
addEventListener("online", flush);
if ("serviceWorker" in navigator) navigator.serviceWorker.register("/station/worker.js", { scope: "/station/" }).then(fetchAhead, () => {});

function news(html, seq) {
  const same = seq === root.dataset.seq; // what the page came with
  delete root.dataset.seq;
  if (same) return;
  latest = html;
  if (kept().length === 0 && !sending) show();
}

// What is pointed at or open stays so while the clock goes on.
function show() {
  const place = station.querySelector("[data-place]")?.innerHTML;
  const mark = station.querySelector("[data-mark]:not([hidden])")?.getAttribute("transform");
  const open = station.querySelector("details")?.open;
  station.innerHTML = latest;
  latest = null;
  if (place && station.querySelector("[data-reason=thread-broke]:not([hidden])")) {
    station.querySelector("[data-place]").innerHTML = place;
    point(mark);
  }
  if (open) station.querySelector("details")?.setAttribute("open", "");
  fetchAhead();
}

function say() {
  const n = kept().length;
  root.querySelector("[data-kept]").textContent = n > 0 ? `${n} kept, sent when the connection is back` : "";
  const seconds = line?.seconds() ?? 0;
  root.querySelector("[data-age]").textContent = seconds > quiet ? `news ${seconds} s old` : "";
}

root.addEventListener("submit", (event) => {
  const button = event.submitter;
  if (!button?.hasAttribute("data-press")) return;
  event.preventDefault();
  const form = new FormData(event.target);
  const press = { id: name(), kind: button.value, student: Number(form.get("student")), pressed: Date.now() };
  if (form.get("step")) press.step = form.get("step");
  if (form.get("stop")) press.stop = Number(form.get("stop"));
  if (form.get("reason")) press.reason = form.get("reason");
  const presses = kept();
  const last = presses.at(-1);
  // A finger that trembles presses twice.
  if (last && last.kind === press.kind && last.step === press.step && last.stop === press.stop && press.pressed - last.pressed < 700) return;
  keep([...presses, press]);
  refused.textContent = "";
  ahead(button, press);
  say();
  flush();
});

const name = () => Array.from(crypto.getRandomValues(new Uint8Array(12)), (b) => b.toString(16).padStart(2, "0")).join("");

// Shows what follows of a press before the server says so.
function ahead(button, press) {
  const hide = (selector, hidden) => station.querySelector(selector)?.toggleAttribute("hidden", hidden);
  if (button.hasAttribute("data-goes")) {
    const screen = button.closest("[data-screen]");
    const next = screen.nextElementSibling;
    if (next?.hasAttribute("data-screen")) {
      screen.remove();
      next.hidden = false;
      next.querySelector("h1").focus?.();
      scrollTo(0, 0);
    } else {
      screen.querySelector("form").remove();
      screen.querySelector("h1").textContent = "That was the last one here: take the hoop off.";
    }
  }
  if (press.kind === "hand-up") {
    hide("[data-up]", false);
    hide("[data-down]", true);
    for (const section of station.querySelectorAll("[data-reason]")) section.hidden = section.dataset.reason !== press.reason;
    const what = station.querySelector("[data-what]");
    if (what) what.textContent = button.textContent.trim().toLowerCase();
    scrollTo(0, 0);
  } else if (press.kind === "going" || press.kind === "settled") {
    hide("[data-up]", true);
    hide("[data-down]", false);
    hide(".ask", true);
  } else if (!button.hasAttribute("data-goes")) {
    button.disabled = true;
  }
}

async function flush() {
  const presses = kept();
  if (sending || presses.length === 0) return;
  sending = true;
  try {
    const part = presses.slice(0, most).map(({ pressed, ...press }) => ({ ...press, ago_ms: Math.max(0, Date.now() - pressed) }));
    const answer = await fetch(`${address}/press`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ presses: part }) });
    if (answer.status >= 500) return;
    const said = await answer.json();
    if (!answer.ok) {
      refused.textContent = said.error ?? "That could not be noted.";
      keep(kept().slice(part.length));
      return;
    }
    const there = new Set(said.pressed.map((p) => p.id));
    keep(kept().filter((p) => !there.has(p.id)));
    for (const p of said.pressed) if (p.refused) refused.textContent = p.refused;
  } catch {
    // kept, and sent again
  } finally {
    sending = false;
    say();
    if (kept().length > 0) return;
    if (latest) show();
    else look();
  }
}

// What the server shows now, where its news did not come by themselves.
async function look() {
  try {
    const page = new DOMParser().parseFromString(await (await fetch(address)).text(), "text/html");
    const now = page.querySelector("#station");
    if (!now || kept().length > 0) return;
    latest = now.innerHTML;
    show();
  } catch {
    // shown when the connection is back
  }
}

// Pointing at the drawing while the thread is broken asks where to restart.
root.addEventListener("click", async (event) => {
  const drawing = event.target.closest("[data-drawing]");
  const place = station.querySelector("[data-reason=thread-broke]:not([hidden]) [data-place]");
  if (!drawing || !place) return;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(drawing.querySelector("[data-design]").getScreenCTM().inverse());
  try {
    const answer = await fetch(`${address}/restart?x=${(at.x / 10).toFixed(2)}&y=${(-at.y / 10).toFixed(2)}`);
    if (!answer.ok) throw new Error();
    place.innerHTML = await answer.text();
    const found = place.querySelector("[data-x]");
    if (found) point(`translate(${found.dataset.x * 10} ${-found.dataset.y * 10})`);
    place.scrollIntoView({ block: "nearest" });
  } catch {
    place.innerHTML = '<p class="note">There is no connection: look for the place when it is back, or step back by hand.</p>';
  }
});

function point(transform) {
  const mark = station.querySelector("[data-screen]:not([hidden]) [data-mark]");
  if (!mark || !transform) return;
  mark.setAttribute("transform", transform);
  mark.removeAttribute("hidden");
}

// The drawings of the stops to come are fetched while there is a connection.
function fetchAhead() {
  for (const image of station.querySelectorAll("image")) fetch(image.getAttribute("href")).catch(() => {});
}

async function stayAwake() {
  if (document.visibilityState !== "visible") return;
  try {
    await navigator.wakeLock?.request("screen");
  } catch {
    // the phone decides
  }
}
document.addEventListener("visibilitychange", stayAwake);
document.addEventListener("click", stayAwake, { once: true });
stayAwake();
