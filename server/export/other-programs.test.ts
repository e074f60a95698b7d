import { execFileSync, spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Ajv from "ajv";
import { strFromU8, unzipSync } from "fflate";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { freshFolder, freshStore } from "~/tests/support/store";
import { exportFormats, formatNames, type FormatName } from "../../core/export/formats/registry";
import { addDemo } from "../../demo/add-demo";
import { findStudyByCode, type Study } from "../studies";
import { studyDataZip, tableFile, type TableAlone } from "./study-data";
import { bytesOf } from "./written";

const runs = (program: string, ...args: string[]) => spawnSync(program, args).status === 0;
const has = {
  PSPP: runs("pspp", "--version"),
  R: runs("Rscript", "--version"),
  pandas: runs("/usr/bin/python3", "-c", "import pandas"),
  haven: runs("Rscript", "-e", "library(haven)"),
  openpyxl: runs("/usr/bin/python3", "-c", "import openpyxl"),
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

const tables = ["trials", "answers", "sessions", "events"] as const satisfies readonly TableAlone[];
/** Formats that pandas opens by itself, and what opens one. */
const openedBy = {
  csv: "pandas.read_csv(path, dtype=object, keep_default_na=False, na_values=[''])",
  spreadsheet: "pandas.read_csv(path, dtype=object, keep_default_na=False, na_values=[''])",
  tsv: "pandas.read_csv(path, sep='\\t', dtype=object, keep_default_na=False, na_values=[''])",
  json: "pandas.read_json(path, dtype=False, convert_dates=False)",
  jsonl: "pandas.read_json(path, lines=True, dtype=False, convert_dates=False)",
  xlsx: "pandas.read_excel(path, sheet_name=0, dtype=object, keep_default_na=False, na_values=[''])",
} as const;
type OpenedByPandas = keyof typeof openedBy;

/** Of each column its name, how many cells are there, and the sum of those that are numbers. */
const summedUp = (header: readonly string[], rows: readonly (readonly string[])[]): string[] =>
  header.map((name, at) => {
    const cells = rows.map((row) => row[at] ?? "").filter((cell) => cell !== "");
    const numbers = cells.map(plain).filter((cell) => typeof cell === "number");
    return `${name} ${cells.length} ${numbers.reduce((sum, number) => sum + number, 0).toFixed(2)}`;
  });
const summedInPython = (lines: readonly string[]) => `import pandas
def number(cell):
    try:
        return float(str(cell).strip())
    except ValueError:
        return 0.0
def tell(data):
    for column in data.columns:
        cells = [cell for cell in data[column] if not pandas.isna(cell) and cell != ""]
        print(column, len(cells), "%.2f" % sum(0.0 if isinstance(cell, bool) else number(cell) for cell in cells))
${lines.join("\n")}
`;
const summedInR = (path: string) => `data <- haven::read_sav("${path}", user_na = FALSE)
for (column in names(data)) {
  cells <- as.character(haven::as_factor(data[[column]], levels = "labels"))
  cells <- cells[!is.na(cells) & cells != ""]
  numbers <- suppressWarnings(as.numeric(trimws(cells)))
  cat(column, length(cells), sprintf("%.2f", sum(numbers, na.rm = TRUE)), "\n")
}
`;

describe("files of both demo studies", () => {
  it("are described as the standard for data packages has it", async () => {
    const { store, studies } = await demoStudies();
    const ajv = new Ajv({ schemaId: "auto", unknownFormats: "ignore", logger: false });
    ajv.addMetaSchema(
      JSON.parse(readFileSync("node_modules/ajv/lib/refs/json-schema-draft-04.json", "utf8")) as object,
    );
    const fits = (of: "data-package" | "tabular-data-package") =>
      ajv.compile(JSON.parse(readFileSync(`tests/support/${of}.schema.json`, "utf8")) as object);
    const schemas = { tabular: fits("tabular-data-package"), other: fits("data-package") };
    for (const study of studies)
      for (const format of formatNames) {
        const pieces: Uint8Array[] = [];
        for await (const piece of studyDataZip(store, study, { format: exportFormats[format], pilots: false }))
          pieces.push(piece);
        const files = unzipSync(new Uint8Array(Buffer.concat(pieces)));
        const described = JSON.parse(strFromU8(files["datapackage.json"] as Uint8Array)) as {
          profile: string;
          resources: { path: string }[];
        };
        const fitsIt = described.profile === "tabular-data-package" ? schemas.tabular : schemas.other;
        expect([study.code, format, fitsIt(described), fitsIt.errors]).toEqual([study.code, format, true, null]);
        // What is described is there.
        for (const { path } of described.resources) expect(Object.keys(files)).toContain(path);
      }
    // The schemas refuse what is none.
    expect(schemas.tabular({ profile: "tabular-data-package", resources: [] })).toBe(false);
  });

  it.skipIf(!has.R && !has.pandas)(
    "hold the same in every format that R and pandas open",
    async () => {
      const { store, studies } = await demoStudies();
      const folder = freshFolder();
      const [inPandas, inHaven, told]: [string[], string[], { pandas: string[]; haven: string[] }] = [
        [],
        [],
        { pandas: [], haven: [] },
      ];
      for (const study of studies)
        for (const name of tables) {
          const fileOf = async (format: FormatName) => {
            const pieces: Uint8Array[] = [];
            for await (const piece of tableFile(store, study, name, { format: exportFormats[format], pilots: false }))
              pieces.push(bytesOf(piece));
            const path = join(folder, `${study.code}-${name}-${format}.${exportFormats[format].extension}`);
            writeFileSync(path, Buffer.concat(pieces));
            return path;
          };
          const [header = [], ...rows] = table(readFileSync(await fileOf("csv"), "utf8"));
          // A study that only asks questions has no trials: programs see no columns in some formats then.
          if (rows.length === 0) continue;
          const sums = summedUp(header, rows);
          // A spreadsheet program’s file marks texts that would run.
          const isMarked = rows.flat().some((cell) => /^[=+\-@]/.test(cell) && Number.isNaN(Number(cell)));
          for (const format of Object.keys(openedBy) as OpenedByPandas[]) {
            if ((format === "xlsx" && !has.openpyxl) || (format === "spreadsheet" && isMarked)) continue;
            const heading = `${study.code} ${name} ${format}`;
            inPandas.push(
              `path = ${JSON.stringify(await fileOf(format))}`,
              `print("${heading}")`,
              `tell(${openedBy[format]})`,
            );
            told.pandas.push(heading, ...sums);
          }
          inHaven.push(`cat("${study.code} ${name}\\n")`, summedInR(await fileOf("sav")));
          told.haven.push(`${study.code} ${name}`, ...sums);
        }
      const said = (program: string, script: string, code: string) => {
        writeFileSync(join(folder, script), code);
        const text = execFileSync(program, [join(folder, script)], { encoding: "utf8", maxBuffer: 1e8 });
        return text
          .trim()
          .split("\n")
          .map((line) => line.trim());
      };
      if (has.pandas) expect(said("/usr/bin/python3", "sums.py", summedInPython(inPandas))).toEqual(told.pandas);
      if (has.haven) expect(said("Rscript", "sums.R", inHaven.join("\n"))).toEqual(told.haven);
    },
    180_000,
  );

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
