// Draws docs/structure.txt as docs/structure.svg. Run: node docs/draw.mjs, or with --check to see whether the drawing
// is of this text.
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const lines = readFileSync(join(here, "structure.txt"), "utf8").split("\n");
const WIDTH = 1000;
const [BOX_WIDTH, BOX_HEIGHT, ROW, COLUMN] = [200, 58, 120, 250];

const boxes = new Map();
for (const line of lines) {
  const box = /^box ([\d.]+) ([\d.]+) (\w+) \| (.+) \| (.+)$/.exec(line);
  if (!box) continue;
  const [, row, column, id, name, words] = box;
  boxes.set(id, { x: (Number(column) - 0.5) * COLUMN, y: 20 + (Number(row) - 1) * ROW + BOX_HEIGHT / 2, name, words });
}

const escaped = (text) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");

/** Where the line between two middles leaves the box of the first. */
function edge(from, to) {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const scale = Math.min(
    dx === 0 ? Infinity : BOX_WIDTH / 2 / Math.abs(dx),
    dy === 0 ? Infinity : BOX_HEIGHT / 2 / Math.abs(dy),
  );
  return [from.x + dx * scale, from.y + dy * scale].map((it) => it.toFixed(1));
}

const arrows = lines.flatMap((line) => {
  const arrow = /^(\w+) (->|~>) (\w+)$/.exec(line);
  if (!arrow) return [];
  const [from, to] = [boxes.get(arrow[1]), boxes.get(arrow[3])];
  if (!from || !to) throw new Error(`structure.txt: no box for '${line}'`);
  const [x1, y1] = edge(from, to);
  const [x2, y2] = edge(to, from);
  const dashed = arrow[2] === "~>" ? ' stroke-dasharray="5 4"' : "";
  return `  <line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="#5b6470"${dashed} marker-end="url(#tip)"/>`;
});
const drawn = [...boxes.values()].map((it) =>
  [
    `  <rect x="${it.x - BOX_WIDTH / 2}" y="${it.y - BOX_HEIGHT / 2}" width="${BOX_WIDTH}"`,
    `    height="${BOX_HEIGHT}" rx="6" fill="#fdfcf8" stroke="#1f7060"/>`,
    `  <text x="${it.x}" y="${it.y - 6}" font-weight="600">${escaped(it.name)}</text>`,
    `  <text x="${it.x}" y="${it.y + 15}" font-size="12" fill="#5b6470">${escaped(it.words)}</text>`,
  ].join("\n"),
);
const height = Math.max(...[...boxes.values()].map((it) => it.y)) + BOX_HEIGHT / 2 + 20;
const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}"
  font-family="sans-serif" font-size="15" text-anchor="middle" fill="#1d2530">
  <defs><marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" orient="auto">
    <path d="M0 0L8 4L0 8z" fill="#5b6470"/></marker></defs>
  <rect width="${WIDTH}" height="${height}" fill="#f6f5ef"/>
${arrows.join("\n")}
${drawn.join("\n")}
</svg>
`;
const file = join(here, "structure.svg");
if (process.argv[2] === "--check") {
  if (!existsSync(file) || readFileSync(file, "utf8") !== svg) {
    console.error("docs/structure.svg is not of docs/structure.txt. Run: node docs/draw.mjs");
    process.exit(1);
  }
} else writeFileSync(file, svg);
