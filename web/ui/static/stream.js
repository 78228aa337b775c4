// Follows a part of a page by server-sent events: hears of it when it changes and that the
// line is there, comes back by itself, and opens a line anew that was cut without a word.
const dead = 15; // seconds without news after which the line is taken for dead
const look = 1000; // milliseconds between two looks whether it is
const soonest = 2000; // milliseconds before it is opened again where it was refused
const latest = 60000; // milliseconds, when it was refused again and again

// part is told the new part and the number of the last event in it, heard that there was
// news, and refused that the server answered with something else: it may open again.
export function follow(address, { part, heard, refused }) {
  let source;
  let opened;
  let last = Date.now();
  let wait = soonest;
  let waiting;

  function hear() {
    last = Date.now();
    wait = soonest;
    heard();
  }

  function open() {
    clearTimeout(waiting);
    source?.close();
    opened = Date.now();
    source = new EventSource(address);
    source.addEventListener("part", (event) => {
      part(event.data, event.lastEventId);
      hear();
    });
    source.addEventListener("pulse", hear);
    source.addEventListener("over", () => {
      source.close();
      location.reload();
    });
    source.addEventListener("error", () => {
      // The browser comes back by itself unless it was answered with something else.
      if (source.readyState !== EventSource.CLOSED) return;
      waiting = setTimeout(() => refused(open), wait * (0.5 + Math.random()));
      wait = Math.min(2 * wait, latest);
    });
  }

  open();
  setInterval(() => {
    heard();
    const closed = source.readyState === EventSource.CLOSED; // it is opened again by and by
    if (!closed && Date.now() - Math.max(last, opened) > dead * 1000) open();
  }, look);
  addEventListener("online", open);
  return { seconds: () => Math.round((Date.now() - last) / 1000) };
}
