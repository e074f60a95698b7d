// Prints the compressed size of all script a participant loads before the first trial; exit code 1 over 120 kB.
import { readdirSync, readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";

const most = 120_000;
const folder = "build/player/assets";
const files = readdirSync(folder).filter((name) => name.endsWith(".js"));
const bytes = files.reduce((sum, name) => sum + gzipSync(readFileSync(`${folder}/${name}`)).length, 0);
console.log(
  `${files.length} file(s), ${(bytes / 1000).toFixed(1)} kB compressed with gzip, of at most ${most / 1000} kB`,
);
process.exit(files.length > 0 && bytes <= most ? 0 : 1);
