import { execFileSync, spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { unzipSync } from "fflate";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { freshFolder, freshStore } from "~/tests/support/store";
import { exportFormats } from "../../core/export/formats/registry";
import { addDemo } from "../../demo/add-demo";
import { findStudyByCode, type Study } from "../studies";
import { studyDataZip, tableFile, type TableAlone } from "./study-data";
import { bytesOf } from "./written";

const runs = (program: string, ...args: string[]) => spawnSync(program, args).status === 0;
const has = {
  PSPP: runs("pspp", "--version"),
  R: runs("Rscript", "--version"),
  pandas: runs("/usr/bin/python3", "-c", "import pandas"),
};
const missing = Object.entries(has).flatMap(([name, isHere]) => (isHere ? [] : [name]));
if (missing.length > 0) console.log(`Not here, so that files are not opened in them: ${missing.join(", ")}.`);

const table = (text: string) => Papa.parse<string[]>(text.trimEnd()).data;
/** A number as it is, whatever its decimals; anything else as text. */
const plain = (cell: string) => {
  const number = cell.trim() === "" ? NaN : Number(cell);
  return Number.isNaN(number) ? cell.trim() : number;
};

async function demoStudies() {
  const store = await freshStore();
  await addDemo(store, "demo");
  const studies: Study[] = [];
  for (const code of ["amber-quay", "copper-ladle"]) {
    const study = await findStudyByCode(store, code);
    if (study) studies.push(study);
  }
  expect(studies).toHaveLength(2);
  return { store, studies };
}

/** What R and pandas are to say of each column, a line each: table, column, and its sum, how often it is yes, or how many texts. */
function toldOf(files: Record<string, Uint8Array>): string[] {
  const read = (name: string) => table(new TextDecoder().decode(files[name]));
  const [head = [], ...lines] = read("codebook.csv");
  const at = (name: string) => head.indexOf(name);
  return lines.flatMap((line) => {
    const [name = "", column = "", type = ""] = [at("table"), at("name"), at("type")].map((index) => line[index] ?? "");
    const [header = [], ...rows] = read(`${name}.csv`);
    const cells = rows.map((row) => row[header.indexOf(column)] ?? "").filter((cell) => cell !== "");
    const number =
      type === "text"
        ? cells.length
        : type === "yes/no"
          ? cells.filter((cell) => cell === "yes").length
          : cells.reduce((sum, cell) => sum + Number(cell), 0);
    return [`${name.replaceAll("-", "_")} ${column} ${number.toFixed(3)}`];
  });
}

const inR = `source("read.R")
for (name in c(TABLES)) {
  data <- get(name)
  for (column in names(data)) {
    cells <- data[[column]]
    number <- if (is.character(cells)) sum(!is.na(cells)) else sum(cells, na.rm = TRUE)
    cat(name, column, sprintf("%.3f", as.numeric(number)), "\\n")
  }
}
`;
const inPython = `import read
for name in [TABLES]:
    data = getattr(read, name)
    for column in data.columns:
        cells = data[column]
        number = cells.notna().sum() if cells.dtype == "string" else cells.sum()
        print(name, column, "%.3f" % float(number))
`;

describe("files of both demo studies", () => {
  it.skipIf(!has.PSPP)("are read by PSPP as system files, cell by cell as they stand in the CSV files", async () => {
    const { store, studies } = await demoStudies();
    const folder = freshFolder();
    for (const study of studies)
      for (const name of ["trials", "answers", "sessions"] satisfies TableAlone[]) {
        const fileOf = async (format: "csv" | "sav") => {
          const pieces: Uint8Array[] = [];
          for await (const piece of tableFile(store, study, name, { format: exportFormats[format], pilots: false }))
            pieces.push(bytesOf(piece));
          const path = join(folder, `${name}.${format}`);
          writeFileSync(path, Buffer.concat(pieces));
          return path;
        };
        const [back, script] = [join(folder, "back.csv"), join(folder, "read.sps")];
        writeFileSync(
          script,
          `GET FILE='${await fileOf("sav")}'.\nSAVE TRANSLATE /OUTFILE='${back}' /TYPE=CSV /FIELDNAMES /CELLS=LABELS /REPLACE.\n`,
        );
        execFileSync("pspp", [script]);
        const [ours, theirs] = [await fileOf("csv"), back].map((path) => table(readFileSync(path, "utf8")));
        expect(theirs?.[0]).toEqual(ours?.[0]);
        expect(theirs?.slice(1).map((row) => row.map(plain))).toEqual(ours?.slice(1).map((row) => row.map(plain)));
      }
  });

  it.skipIf(!has.R && !has.pandas)(
    "are read by the scripts that come with them, with the right types and nothing lost",
    async () => {
      const { store, studies } = await demoStudies();
      for (const study of studies) {
        const pieces: Uint8Array[] = [];
        for await (const piece of studyDataZip(store, study, { format: exportFormats.csv, pilots: false }))
          pieces.push(piece);
        const files = unzipSync(new Uint8Array(Buffer.concat(pieces)));
        const folder = freshFolder();
        for (const [name, bytes] of Object.entries(files)) writeFileSync(join(folder, name), bytes);
        const told = toldOf(files);
        const names = [...new Set(told.map((line) => `"${line.split(" ")[0]}"`))].join(", ");
        const said = (program: string, file: string, script: string) => {
          writeFileSync(join(folder, file), script.replace("TABLES", names));
          const text = execFileSync(program, [file], { cwd: folder, encoding: "utf8" });
          return text
            .trim()
            .split("\n")
            .map((line) => line.trim());
        };
        if (has.R) expect(said("Rscript", "check.R", inR)).toEqual(told);
        if (has.pandas) expect(said("/usr/bin/python3", "check.py", inPython)).toEqual(told);
      }
    },
  );
});
