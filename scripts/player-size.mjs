// Prints the compressed size of the script a participant loads before the first page (the player and what it always needs)
// and of everything there is, with the kinds of items, answers and questions that only studies using them load; what only an
// eye tracker needs stands apart. Exit code 1 over 60 kB before the first page, or 120 kB in all.
import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";

const [mostFirst, mostAll] = [60_000, 120_000];
const folder = "build/player";
const manifest = JSON.parse(readFileSync(`${folder}/.vite/manifest.json`, "utf8"));
const size = (key) => gzipSync(readFileSync(`${folder}/${manifest[key].file}`)).length;
const withImports = (key, found = new Set()) => {
  if (found.has(key)) return found;
  found.add(key);
  for (const each of manifest[key].imports ?? []) withImports(each, found);
  return found;
};
const sum = (keys) => [...keys].reduce((total, key) => total + size(key), 0);
const scripts = Object.keys(manifest).filter((key) => manifest[key].file.endsWith(".js"));
const first = sum(withImports(scripts.find((key) => manifest[key].isEntry)));
const ofTracker = scripts.filter((key) => key.startsWith("player/gaze/"));
const tracker = sum(ofTracker);
const all = sum(scripts) - tracker;
const kB = (bytes) => (bytes / 1000).toFixed(1);
console.log(
  `${kB(first)} kB compressed with gzip before the first page, of at most ${mostFirst / 1000}; ${kB(all)} kB with every kind there is, of at most ${mostAll / 1000} kB; ${kB(tracker)} kB more with an eye tracker`,
);
process.exit(first <= mostFirst && all <= mostAll ? 0 : 1);
