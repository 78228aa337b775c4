// The stage draws a reel as far as it is sewn: the present stop in full tone,
// earlier ones lighter, later ones ghosted. Pictures are kept at many places
// along the reel, so that any moment is one of them and a few stitches more,
// and large designs can be scrubbed.
import { isSewn, stopAt } from "./reel.js";

const earlierTone = 0.42;
const ghostTone = 0.2;
const threadWidth = 4; // tenths of a millimetre
const mostPictures = 96;
const leastStep = 400; // moves between pictures
const strokeBatch = 150; // stretches of thread in one path: longer ones draw slower

export class Stage {
  constructor(canvas, reel, colors) {
    this.canvas = canvas;
    this.reel = reel;
    this.colors = colors;
    this.context = canvas.getContext("2d");
    this.places = picturePlaces(reel);
    this.view = { scale: 1, x: 0, y: 0 };
  }

  // Takes a new size or view: everything is drawn anew, bit by bit.
  reset(view) {
    this.view = { ...view };
    const layer = () => {
      const c = document.createElement("canvas");
      c.width = this.canvas.width;
      c.height = this.canvas.height;
      return c;
    };
    this.layer = layer;
    this.ghost = layer();
    this.ghosted = 0;
    this.all = layer(); // everything sewn, in full tone
    this.present = layer(); // the present stop alone
    this.base = null; // the earlier stops, lighter
    this.pictures = [layer()];
    if (this.reel.n <= 4 * leastStep) while (this.build());
  }

  get built() {
    return this.pictures.length - 1;
  }

  // Works until a time at what is missing; false when nothing is.
  work(until) {
    while (this.build()) if (performance.now() > until) return true;
    return this.ghosted < this.places.length - 1 || this.built < this.places.length - 1;
  }

  // Draws the next piece of the ghost and the next picture.
  build() {
    const { places, reel } = this;
    if (this.ghosted < places.length - 1) {
      const g = this.ghost.getContext("2d");
      this.sew(g, places[this.ghosted], places[this.ghosted + 1], 1);
      this.ghosted++;
    }
    const from = this.built;
    if (from >= places.length - 1) return this.ghosted < places.length - 1;
    const to = places[from + 1];
    this.sew(this.all.getContext("2d"), places[from], to, 1);
    this.sew(this.present.getContext("2d"), places[from], to, 1);
    if (to < reel.n && stopAt(reel, to) !== stopAt(reel, places[from])) {
      this.base = this.layer();
      const b = this.base.getContext("2d");
      b.globalAlpha = earlierTone;
      b.drawImage(this.all, 0, 0);
      this.present.getContext("2d").clearRect(0, 0, this.present.width, this.present.height);
    }
    const picture = this.layer();
    const p = picture.getContext("2d");
    if (this.base) p.drawImage(this.base, 0, 0);
    p.drawImage(this.present, 0, 0);
    this.pictures.push(picture);
    return true;
  }

  // Strokes the thread between two moves.
  sew(context, from, to) {
    const { reel, view } = this;
    const { x, y } = reel;
    context.lineWidth = Math.max(0.9, threadWidth * view.scale);
    context.lineCap = context.lineWidth > 2.5 ? "round" : "butt";
    context.lineJoin = "round";
    let stop = stopAt(reel, from);
    let end = reel.ends[stop];
    context.strokeStyle = this.colors[stop];
    let open = 0;
    context.beginPath();
    for (let i = from; i < to; i++) {
      if (i === end) {
        context.stroke();
        context.beginPath();
        open = 0;
        stop++;
        end = reel.ends[stop];
        context.strokeStyle = this.colors[stop];
      }
      if (i === 0 || !isSewn(reel, i)) continue;
      if (open === 0 || !isSewn(reel, i - 1)) context.moveTo(view.x + x[i - 1] * view.scale, view.y - y[i - 1] * view.scale);
      context.lineTo(view.x + x[i] * view.scale, view.y - y[i] * view.scale);
      if (++open === strokeBatch) {
        context.stroke();
        context.beginPath();
        open = 0;
      }
    }
    context.stroke();
  }

  // Shows the reel with moves up to i sewn. While view differs from the one
  // drawn for, what there is is moved and scaled. False when there was not
  // yet a picture near enough.
  show(i, background, view = this.view) {
    const { context, canvas, places } = this;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = background;
    context.fillRect(0, 0, canvas.width, canvas.height);
    const k = view.scale / this.view.scale;
    context.setTransform(k, 0, 0, k, view.x - this.view.x * k, view.y - this.view.y * k);
    if (i >= this.reel.n - 1 && this.built === places.length - 1) {
      // Finished: all of it in full tone.
      context.drawImage(this.all, 0, 0);
      context.setTransform(1, 0, 0, 1, 0, 0);
      return true;
    }
    context.globalAlpha = ghostTone;
    context.drawImage(this.ghost, 0, 0);
    context.globalAlpha = 1;
    let at = placeBefore(places, i + 1);
    const ready = at <= this.built;
    at = Math.min(at, this.built);
    context.drawImage(this.pictures[at], 0, 0);
    this.sew(context, places[at], Math.min(i + 1, places[Math.min(at + 1, places.length - 1)]));
    context.setTransform(1, 0, 0, 1, 0, 0);
    return ready;
  }
}

// Where pictures are kept: at the start of every stop, or of some where there
// are very many, and so often between that there are not too many in all.
function picturePlaces(reel) {
  const every = Math.ceil(reel.starts.length / (mostPictures / 2));
  const fixed = reel.starts.filter((_, k) => k > 0 && k % every === 0);
  const step = Math.max(leastStep, Math.ceil(reel.n / (mostPictures / 2)));
  const places = [0];
  for (const end of [...fixed, reel.n]) {
    while (end - places.at(-1) > step) places.push(places.at(-1) + step);
    places.push(end);
  }
  return places;
}

function placeBefore(places, i) {
  let low = 0;
  let high = places.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (places[middle] <= i) low = middle;
    else high = middle - 1;
  }
  return low;
}
