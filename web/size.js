// First load: the scripts a browser must have before the board stands, gzipped. Held to a limit.
import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";

const LIMIT_KB = 260;
const manifest = JSON.parse(readFileSync("dist/.vite/manifest.json", "utf8"));
const needed = new Set();
const take = (key) => {
  const chunk = manifest[key];
  if (!chunk || needed.has(chunk.file)) return;
  needed.add(chunk.file);
  chunk.imports?.forEach(take);
};
take("index.html");
take("src/board/BoardView.tsx");
const sizes = [...needed]
  .filter((f) => f.endsWith(".js"))
  .map((f) => gzipSync(readFileSync(`dist/${f}`)).length);
const kb = sizes.reduce((a, b) => a + b, 0) / 1024;
console.log(`first load ${kb.toFixed(0)} kB of ${LIMIT_KB} kB gzipped script, ${sizes.length} files`);
if (sizes.length < 2 || kb > LIMIT_KB) process.exit(1);
