// Keeps a part of a page as it is now, by server-sent events: what changed comes by
// itself, and when nothing comes, the page says how old its news are. What is pressed on
// it is sent without leaving the page.
const part = document.querySelector("[data-news]");
const quiet = 12; // seconds without news that are said
const again = 2000; // milliseconds
const dead = 15; // seconds without news after which the line is taken for dead
// Whose visit is over is told where to sign in, and comes back here.
const headers = { "HX-Request": "true", "HX-Current-URL": location.href };

// What the page came with need not be shown again: data-seq is the last event in it.
let heard = Date.now();
let source;
let opened;

if (part) {
  open();
  setInterval(() => {
    age();
    revive();
  }, 1000);
  addEventListener("online", () => (heard = opened = 0));
}

function open() {
  opened = Date.now();
  source = new EventSource(part.dataset.news);
  source.addEventListener("part", (event) => (event.lastEventId === part.dataset.seq ? hear() : show(event.data), delete part.dataset.seq));
  source.addEventListener("pulse", hear);
  source.addEventListener("over", () => location.reload());
  source.addEventListener("error", () => {
    // The browser comes back by itself unless it was answered with something else.
    if (source.readyState === EventSource.CLOSED) setTimeout(look, again);
  });
}

// Whose visit is over is asked to sign in; whoever may look comes back.
async function look() {
  try {
    const answer = await fetch(location.href, { headers });
    const to = answer.headers.get("HX-Redirect");
    if (to) location.assign(to);
    else open();
  } catch {
    setTimeout(look, again);
  }
}

// A line that was cut without a word is opened anew.
function revive() {
  if (Date.now() - opened < dead * 1000 || Date.now() - heard < dead * 1000) return;
  source.close();
  open();
}

function hear() {
  heard = Date.now();
  age();
}

// What has the keyboard keeps it.
function show(html) {
  const id = part.contains(document.activeElement) ? document.activeElement.id : "";
  part.innerHTML = html;
  if (id) document.getElementById(id)?.focus({ preventScroll: true });
  hear();
  document.dispatchEvent(new CustomEvent("news"));
}

function age() {
  const seconds = Math.round((Date.now() - heard) / 1000);
  for (const el of part.querySelectorAll("[data-age]")) {
    el.textContent = seconds > quiet ? `· news ${seconds} s old` : "";
    el.classList.toggle("brick", seconds > quiet);
  }
}

// A form of the board is answered with the whole page; what changed of it is taken over.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!part || !["press", "happens"].includes(form.id)) return;
  event.preventDefault();
  const pressed = event.submitter;
  pressed?.setAttribute("aria-busy", "true");
  const failed = () => {
    document.querySelector("#refused").textContent = "That was not sent: there is no connection. Press it again when it is back.";
  };
  try {
    const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(new FormData(form, pressed)), headers });
    const to = answer.headers.get("HX-Redirect");
    if (to) return location.assign(to);
    if (answer.status >= 500) return failed();
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const id of ["refused", "happens", "press"]) {
      const [old, now] = [document.getElementById(id), page.getElementById(id)];
      if (old && now) old.replaceWith(document.adoptNode(now));
    }
    const board = page.getElementById("board");
    if (!board) return location.reload();
    if (!part.dataset.news || !board.dataset.news) return location.reload();
    show(board.innerHTML);
  } catch {
    failed();
  } finally {
    pressed?.removeAttribute("aria-busy");
  }
});

// Keys of the board: whoever is chosen beside it, by pointing at their name, is who a
// letter is about.
const whats = { h: "question", x: "skipped", g: "gone", t: "noted", e: "seated", l: "late" };
document.addEventListener("click", (event) => {
  const name = event.target.closest("[data-student]");
  const who = document.querySelector("#happens [name=student]");
  if (!name || !who) return;
  who.value = name.dataset.student;
  mark();
});
document.addEventListener("news", mark);

function mark() {
  const who = document.querySelector("#happens [name=student]")?.value;
  for (const el of document.querySelectorAll("[data-student]")) el.classList.toggle("chosen", el.dataset.student === who);
}

document.addEventListener("keydown", (event) => {
  const form = document.querySelector("#happens");
  if (!form || event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea")) return;
  const who = form.elements.student.value;
  if (event.key === "d" && who) document.getElementById(`done-${who}`)?.click();
  else if (event.key === "s" && who) document.getElementById(`settled-${who}`)?.click();
  else if (whats[event.key] && who) {
    form.elements.what.value = whats[event.key];
    const field = { noted: "text", seated: "machine", late: "minutes" }[whats[event.key]];
    if (field) form.elements[field].focus();
    else form.requestSubmit();
  } else return;
  event.preventDefault();
});
