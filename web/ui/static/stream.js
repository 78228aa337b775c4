// Follows a part of a page by server-sent events: hears of it when it changes and that the
// line is there, comes back by itself, and opens a line anew that was cut without a word.
const dead = 15; // seconds without news after which the line is taken for dead
const look = 1000; // milliseconds between two looks whether it is

// part is told the new part and the number of the last event in it, heard that there was
// news, and refused that the server answered with something else: it may open again.
export function follow(address, { part, heard, refused }) {
  let source;
  let opened;
  let last = Date.now();

  function hear() {
    last = Date.now();
    heard();
  }

  function open() {
    opened = Date.now();
    source = new EventSource(address);
    source.addEventListener("part", (event) => {
      last = Date.now();
      part(event.data, event.lastEventId);
      heard();
    });
    source.addEventListener("pulse", hear);
    source.addEventListener("over", () => {
      source.close();
      location.reload();
    });
    source.addEventListener("error", () => {
      // The browser comes back by itself unless it was answered with something else.
      if (source.readyState === EventSource.CLOSED) refused(open);
    });
  }

  open();
  setInterval(() => {
    heard();
    if (Date.now() - Math.max(last, opened) < dead * 1000) return;
    source.close();
    open();
  }, look);
  addEventListener("online", () => {
    source.close();
    open();
  });
  return { seconds: () => Math.round((Date.now() - last) / 1000) };
}
