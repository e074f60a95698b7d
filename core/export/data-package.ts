import type { DataColumn } from "../values/data-column";
import type { ExportFormat, WrittenColumn } from "./formats/format";

/** A table of the data set: its file's name without the ending, what a row is, and its columns. */
export type PackagedTable = { name: string; one: string; columns: readonly WrittenColumn[] };

const types: Record<DataColumn<never>["type"], string> = {
  text: "string",
  number: "number",
  "whole number": "integer",
  "yes/no": "boolean",
};

/** Values that are listed whole, as the codebook has them; those of which there are more are no levels. */
const levelsOf = ({ type, values }: WrittenColumn): string[] =>
  type !== "text" || values === "" || values.includes("…") ? [] : values.split(", ");

/**
 * The description of a data set by the Frictionless Data Package standard (version 1): each file with its columns, their types, units,
 * levels and what stands for a missing value, and the keys by which the files belong together.
 */
export function dataPackage(
  { title, code }: { title: string; code: string },
  tables: readonly PackagedTable[],
  { extension, mime }: Pick<ExportFormat, "extension" | "mime">,
): object {
  // Only text files are tabular to the standard; others are described all the same.
  const isText = extension === "csv" || extension === "tsv";
  const has = new Set(tables.map(({ name }) => name));
  return {
    profile: isText ? "tabular-data-package" : "data-package",
    name: code,
    title,
    resources: tables.map(({ name, one, columns }) => ({
      profile: isText ? "tabular-data-resource" : "data-resource",
      name,
      description: `One row ${one}.`,
      path: `${name}.${extension}`,
      format: extension,
      mediatype: mime.split(";")[0],
      ...(isText ? { encoding: "utf-8" } : {}),
      ...(extension === "csv" ? { dialect: { delimiter: ",", doubleQuote: true, lineTerminator: "\r\n" } } : {}),
      ...(extension === "tsv" ? { dialect: { delimiter: "\t", doubleQuote: true, lineTerminator: "\n" } } : {}),
      schema: {
        ...(isText ? { missingValues: [""] } : {}),
        fields: columns.map((column) => ({
          name: column.name,
          type: types[column.type],
          description: column.meaning,
          ...(column.unit === "" ? {} : { unit: column.unit }),
          ...(column.type === "yes/no" ? { trueValues: ["yes"], falseValues: ["no"] } : {}),
          ...(levelsOf(column).length > 0 ? { levels: levelsOf(column) } : {}),
        })),
        ...(name === "sessions" ? { primaryKey: "session" } : {}),
        ...(name !== "sessions" && has.has("sessions") && columns.some((column) => column.name === "session")
          ? {
              foreignKeys: [{ fields: "session", reference: { resource: "sessions", fields: "session" } }],
            }
          : {}),
      },
    })),
  };
}

const rNames = (columns: readonly WrittenColumn[], ...kinds: DataColumn<never>["type"][]) =>
  columns.filter(({ type }) => kinds.includes(type)).map(({ name }) => `"${name}"`);
const listed = (names: readonly string[]) => names.join(", ");
const separatorOf = ({ extension }: Pick<ExportFormat, "extension">) => (extension === "tsv" ? "\\t" : ",");

/** A script for R that reads all tables with the types of their columns, without further packages. */
export function readInR(tables: readonly PackagedTable[], format: Pick<ExportFormat, "extension">): string {
  return [
    "# Reads the tables of this folder with the right types: numbers as numbers, yes and no as TRUE and FALSE.",
    '# Set the working directory to the folder, then source("read.R").',
    "",
    "read_table <- function(file, numbers, logicals) {",
    `  table <- read.table(file, header = TRUE, sep = "${separatorOf(format)}", quote = ${format.extension === "tsv" ? '""' : '"\\""'}, comment.char = "",`,
    '                      colClasses = "character", na.strings = "", encoding = "UTF-8", check.names = FALSE)',
    "  for (name in numbers) table[[name]] <- as.numeric(table[[name]])",
    '  for (name in logicals) table[[name]] <- table[[name]] == "yes"',
    "  table",
    "}",
    "",
    ...tables.flatMap(({ name, columns }) => [
      `${name.replaceAll("-", "_")} <- read_table("${name}.${format.extension}",`,
      `  numbers = c(${listed(rNames(columns, "number", "whole number"))}),`,
      `  logicals = c(${listed(rNames(columns, "yes/no"))}))`,
    ]),
    "",
  ].join("\n");
}

/** The same for Python with pandas. */
export function readInPython(tables: readonly PackagedTable[], format: Pick<ExportFormat, "extension">): string {
  const dtypes: Record<DataColumn<never>["type"], string> = {
    text: "string",
    number: "float64",
    "whole number": "Int64",
    "yes/no": "boolean",
  };
  return [
    '"""Reads the tables of this folder with the right types. Run it in the folder: from read import trials"""',
    "import pandas as pd",
    "",
    "",
    "def read_table(file, types):",
    '    logicals = [name for name, kind in types.items() if kind == "boolean"]',
    '    plain = {name: "string" if kind == "boolean" else kind for name, kind in types.items()}',
    `    table = pd.read_csv(file, sep="${separatorOf(format)}", dtype=plain, keep_default_na=False, na_values=[""]${format.extension === "tsv" ? ", quoting=3" : ""})`,
    "    for name in logicals:",
    '        table[name] = table[name].map({"yes": True, "no": False}).astype("boolean")',
    "    return table",
    "",
    "",
    ...tables.flatMap(({ name, columns }) => [
      `${name.replaceAll("-", "_")} = read_table("${name}.${format.extension}", {`,
      ...columns.map(({ name: column, type }) => `    "${column}": "${dtypes[type]}",`),
      "})",
    ]),
    "",
  ].join("\n");
}
