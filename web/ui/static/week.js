// Pressing in the middle of a free stretch books from there: the link begins where the
// pointer is, to the quarter of an hour, for as long as it would have.
const quarter = 15; // minutes
const clock = (m) => `${String(Math.floor(m / 60)).padStart(2, "0")}:${String(m % 60).padStart(2, "0")}`;
const minutes = (text) => {
  const [h, m] = text.split(":").map(Number);
  return h * 60 + m;
};

document.querySelector("[data-week]")?.addEventListener("click", (event) => {
  const link = event.target.closest("a.free");
  if (!link || event.detail === 0) return; // by key: the beginning is as good
  const box = link.querySelector("rect").getBoundingClientRect();
  const from = Number(link.dataset.from);
  const to = Number(link.dataset.to);
  const url = new URL(link.href.baseVal ?? link.href, location.href);
  const length = minutes(url.searchParams.get("to")) - minutes(url.searchParams.get("from"));
  const share = (event.clientX - box.left) / box.width;
  let begin = from + Math.floor(((to - from) * share) / quarter) * quarter;
  begin = Math.max(from, Math.min(begin, to - length));
  url.searchParams.set("from", clock(begin));
  url.searchParams.set("to", clock(begin + length));
  event.preventDefault();
  location.assign(url);
});
