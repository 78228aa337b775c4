// Collects the fonts of print into paper/fonts: the text face in two weights,
// and one weight of faces for the scripts it has not, in the order they are
// asked for. Large scripts come in numbered parts. index.txt says which
// characters each file has.
import { copyFileSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync, readdirSync } from "node:fs";

const out = "paper/fonts";
const scripts = [
  "armenian", "georgian", "hebrew", "arabic", "bengali", "gurmukhi", "gujarati", "oriya", "tamil", "telugu", "kannada",
  "malayalam", "sinhala", "thai", "lao", "khmer", "myanmar", "ethiopic", "sc", "kr", "symbols", "symbols-2", "math",
];
const signs = ["symbols", "symbols-2", "math"];
const faces = [
  { name: "atkinson-hyperlegible-next", weights: [400, 700], subsets: ["latin", "latin-ext"] },
  { name: "noto-sans", weights: [400] },
  ...scripts.map((s) => ({ name: `noto-sans-${s}`, weights: [400], subsets: signs.includes(s) ? ["symbols", "math", "braille"] : [s, "number"] })),
  { name: "noto-emoji", weights: [400] },
];

mkdirSync(out, { recursive: true });
for (const old of readdirSync(out)) if (old !== ".gitkeep") rmSync(`${out}/${old}`);

const index = [];
for (const face of faces) {
  const folder = `node_modules/@fontsource/${face.name}`;
  const ranges = JSON.parse(readFileSync(`${folder}/unicode.json`, "utf8"));
  for (const [key, range] of Object.entries(ranges)) {
    const subset = key.replace(/^\[(.*)\]$/, "$1");
    const kind = /^\d+$/.test(subset) ? "number" : subset;
    if (face.subsets && !face.subsets.includes(kind)) continue;
    const files = face.weights.map((weight) => `${face.name}-${subset}-${weight}-normal.woff`);
    if (!files.every((file) => existsSync(`${folder}/files/${file}`))) continue;
    for (const file of files) copyFileSync(`${folder}/files/${file}`, `${out}/${file}`);
    index.push(`${files.join(",")} ${range.replaceAll("U+", "").replaceAll(" ", "")}`);
  }
}
writeFileSync(`${out}/index.txt`, index.join("\n") + "\n");
