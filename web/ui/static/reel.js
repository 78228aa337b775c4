// A reel is a design's moves as the server packs them (core/stitch, Reel):
// typed arrays, with each stop's part of them.
export async function loadReel(address, turned) {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(`the stitches did not load (${answer.status})`);
  const data = await answer.arrayBuffer();
  const n = new DataView(data).getUint32(0, true);
  // Little-endian like every machine that runs a browser; copied, as arrays
  // of two bytes have to begin on an even one.
  let x = new Int16Array(data.slice(4, 4 + 2 * n));
  let y = new Int16Array(data.slice(4 + 2 * n, 4 + 4 * n));
  const flags = new Uint8Array(data, 4 + 4 * n, n);
  if (turned) {
    const up = x;
    x = y.map((v) => -v);
    y = up;
  }
  const starts = [];
  for (let i = 0; i < n; i++) if (flags[i] & 4) starts.push(i);
  return { n, x, y, flags, starts, ends: [...starts.slice(1), n] };
}

export const isSewn = (reel, i) => (reel.flags[i] & 1) !== 0;
export const isStitch = (reel, i) => (reel.flags[i] & 2) !== 0;

// The stop that move i belongs to.
export function stopAt(reel, i) {
  let low = 0;
  let high = reel.starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (reel.starts[middle] <= i) low = middle;
    else high = middle - 1;
  }
  return low;
}

// The move of a stop's nth stitch, counted from 1.
export function moveOf(reel, stop, nth) {
  let n = 0;
  for (let i = reel.starts[stop]; i < reel.ends[stop]; i++) if (isStitch(reel, i) && ++n === nth) return i;
  return reel.ends[stop] - 1;
}

// How many stitches of its stop are sewn up to and with move i.
export function stitchOf(reel, i) {
  let n = 0;
  for (let j = reel.starts[stopAt(reel, i)]; j <= i; j++) if (isStitch(reel, j)) n++;
  return n;
}
