// Keeps a part of a page as it is now, by server-sent events: what changed comes by
// itself, and when nothing comes, the page says how old its news are. What is pressed on
// it is sent without leaving the page.
import { follow } from "./stream.js";

const part = document.querySelector("[data-news]");
const quiet = 12; // seconds without news that are said
const again = 2000; // milliseconds
// Whose visit is over is told where to sign in, and comes back here.
const headers = { "HX-Request": "true", "HX-Current-URL": location.href };
// What the page came with need not be shown again: data-seq is the last event in it.
const line = part && follow(part.dataset.news, { part: news, heard: age, refused: look });

function news(html, seq) {
  if (seq !== part.dataset.seq) show(html);
  delete part.dataset.seq;
}

// Whose visit is over is asked to sign in; whoever may look comes back.
async function look(open) {
  try {
    const answer = await fetch(location.href, { headers });
    const to = answer.headers.get("HX-Redirect");
    if (to) location.assign(to);
    else open();
  } catch {
    setTimeout(() => look(open), again);
  }
}

// What has the keyboard keeps it.
function show(html) {
  const id = part.contains(document.activeElement) ? document.activeElement.id : "";
  part.innerHTML = html;
  if (id) document.getElementById(id)?.focus({ preventScroll: true });
  document.dispatchEvent(new CustomEvent("news"));
}

function age() {
  const seconds = line?.seconds() ?? 0;
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
  const failed = (text) => (document.querySelector("#refused").textContent = text);
  try {
    const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(new FormData(form, pressed)), headers });
    const to = answer.headers.get("HX-Redirect");
    if (to) return location.assign(to);
    if (answer.status >= 500)
      return failed("That did not work, and it may not have been saved. Open the board again and look before you press it once more.");
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
    failed("That was not sent: there is no connection. Press it again when it is back.");
  } finally {
    pressed?.removeAttribute("aria-busy");
  }
});

// Keys of the board: whoever is chosen beside it, by pointing at their name, is who a
// letter is about.
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
  else if (who) {
    const what = [...form.elements.what.options].find((option) => option.dataset.key === event.key);
    if (!what) return;
    form.elements.what.value = what.value;
    if (what.dataset.asks) form.elements[what.dataset.asks.split(" ")[0]].focus();
    else form.requestSubmit();
  } else return;
  event.preventDefault();
});
