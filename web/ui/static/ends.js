// Drags the end of a class: the field of its end follows, and the answer below with it.
const range = document.querySelector("#ends");
const from = document.querySelector("#from");
const to = document.querySelector("#to");
const shortest = 30; // minutes
const longest = 480;
const lastMinute = 1439;

const minutes = (clock) => {
  const [h, m] = clock.split(":").map(Number);
  return h * 60 + m;
};
const clock = (m) => `${String(Math.floor(m / 60)).padStart(2, "0")}:${String(m % 60).padStart(2, "0")}`;

function follow() {
  range.parentElement.hidden = !from.value || !to.value;
  if (range.parentElement.hidden) return;
  range.min = minutes(from.value) + shortest;
  range.max = Math.min(lastMinute, minutes(from.value) + longest);
  range.value = minutes(to.value);
  say();
}

function say() {
  range.parentElement.querySelector("output").textContent = to.value;
}

let asked = 0;
range.addEventListener("input", (event) => {
  event.stopPropagation();
  to.value = clock(Number(range.value));
  say();
  clearTimeout(asked);
  asked = setTimeout(() => to.dispatchEvent(new Event("change", { bubbles: true })), 60);
});
range.addEventListener("change", (event) => event.stopPropagation());
from.addEventListener("change", follow);
to.addEventListener("change", follow);
follow();
