import { exportFormats } from "../formats/registry";
import { isPlainText } from "./in-words";
import type { Recipe } from "./recipe";

/** Where scripts find the key, so that it stands in none of them. */
const keyIn = "LAPWING_KEY";

/** Where a recipe’s file is: the origin of the server, the study’s code and the recipe’s name in addresses. */
export type Placed = { origin: string; code: string; address: string; recipe: Recipe };

const extensionOf = ({ format }: Recipe) => exportFormats[format].extension;
export const recipeAddress = ({ origin, code, address, recipe }: Placed): string =>
  `${origin}/studies/${code}/recipes/${address}.${extensionOf(recipe)}`;

const separator = ({ format, decimal }: Recipe) => (format === "tsv" ? "\\t" : decimal === "," ? ";" : ",");

function readR(recipe: Recipe): string {
  if (isPlainText(recipe)) {
    const { decimal, missing } = recipe;
    return `read.csv(file, sep = "${separator(recipe)}", dec = "${decimal}", na.strings = "${missing}", fileEncoding = "UTF-8${recipe.format === "spreadsheet" ? "-BOM" : ""}")`;
  }
  const readers: Record<string, string> = {
    xlsx: "readxl::read_excel(file)",
    sav: "haven::read_sav(file)",
    parquet: "arrow::read_parquet(file)",
    json: "jsonlite::fromJSON(file)",
    jsonl: "jsonlite::stream_in(base::file(file))",
  };
  return readers[recipe.format] ?? "readLines(file)";
}

/** Lines of R that read the file into `rows`. */
export const inR = (placed: Placed): string =>
  [
    `file <- tempfile(fileext = ".${extensionOf(placed.recipe)}")`,
    `download.file("${recipeAddress(placed)}", file, mode = "wb",`,
    `  headers = c(Authorization = paste("Bearer", Sys.getenv("${keyIn}"))))`,
    `rows <- ${readR(placed.recipe)}`,
    "",
  ].join("\n");

function readPython(recipe: Recipe): string {
  if (isPlainText(recipe)) {
    const { decimal, missing } = recipe;
    const values = missing === "" ? `[""]` : `["", "${missing}"]`;
    return `pandas.read_csv(file, sep="${separator(recipe)}", decimal="${decimal}", na_values=${values}, keep_default_na=False, encoding="utf-8-sig")`;
  }
  const readers: Record<string, string> = {
    xlsx: "pandas.read_excel(file)",
    sav: "pandas.read_spss(file)",
    parquet: "pandas.read_parquet(file)",
    json: "pandas.read_json(file)",
    jsonl: "pandas.read_json(file, lines=True)",
  };
  return readers[recipe.format] ?? "open(file).read()";
}

/** The same in Python. */
export const inPython = (placed: Placed): string =>
  [
    "import os, tempfile, urllib.request, pandas",
    `request = urllib.request.Request("${recipeAddress(placed)}",`,
    `    headers={"Authorization": "Bearer " + os.environ["${keyIn}"]})`,
    `file = os.path.join(tempfile.mkdtemp(), "rows.${extensionOf(placed.recipe)}")`,
    'with urllib.request.urlopen(request) as answer, open(file, "wb") as out:',
    "    out.write(answer.read())",
    `rows = ${readPython(placed.recipe)}`,
    "",
  ].join("\n");
