import { execFileSync, spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Papa from "papaparse";
import { expect, it } from "vitest";
import { freshFolder, freshStore } from "~/tests/support/store";
import { exportFormats } from "../../core/export/formats/registry";
import { addDemo } from "../../demo/add-demo";
import { findStudyByCode } from "../studies";
import { tableFile, type TableAlone } from "./study-data";
import { bytesOf } from "./written";

const hasPspp = spawnSync("pspp", ["--version"]).status === 0;
if (!hasPspp) console.log("PSPP is not here: system files are read by the tests' own reader only.");
const table = (text: string) => Papa.parse<string[]>(text.trimEnd()).data;

/** A number as it is, whatever its decimals; anything else as text. */
const plain = (cell: string) => {
  const number = cell.trim() === "" ? NaN : Number(cell);
  return Number.isNaN(number) ? cell.trim() : number;
};

it.skipIf(!hasPspp)(
  "PSPP reads the system files of both demo studies cell by cell as they stand in the CSV files",
  async () => {
    const folder = freshFolder();
    const store = await freshStore();
    await addDemo(store, "demo");
    for (const code of ["amber-quay", "copper-ladle"])
      for (const name of ["trials", "answers", "sessions"] satisfies TableAlone[]) {
        const study = await findStudyByCode(store, code);
        if (!study) throw new Error("no demo study");
        const fileOf = async (format: "csv" | "sav") => {
          const pieces: Uint8Array[] = [];
          for await (const piece of tableFile(store, study, name, { format: exportFormats[format], pilots: false }))
            pieces.push(bytesOf(piece));
          const path = join(folder, `${name}.${format}`);
          writeFileSync(path, Buffer.concat(pieces));
          return path;
        };
        const back = join(folder, "back.csv");
        const script = join(folder, "read.sps");
        writeFileSync(
          script,
          `GET FILE='${await fileOf("sav")}'.\nSAVE TRANSLATE /OUTFILE='${back}' /TYPE=CSV /FIELDNAMES /CELLS=LABELS /REPLACE.\n`,
        );
        execFileSync("pspp", [script]);
        const [ours, theirs] = [await fileOf("csv"), back].map((path) => table(readFileSync(path, "utf8")));
        expect(theirs?.[0]).toEqual(ours?.[0]);
        expect(theirs?.slice(1).map((row) => row.map(plain))).toEqual(ours?.slice(1).map((row) => row.map(plain)));
      }
  },
);
