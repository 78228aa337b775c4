// Keys for getting about: an area's number opens it, ? lists the keys, n
// starts something new, and Escape closes what is open.
const typing = (el) => el.closest("input, select, textarea, [contenteditable]");

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  if (!target) return;
  event.preventDefault();
  target.click();
});
