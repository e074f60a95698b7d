import Papa from "papaparse";
import type { Band, BandCondition, NormValues } from "./norm";

/** What a table of norms says, or what is wrong with it, line by line. */
export type ReadNorms = { ok: true; bands: Band[] } | { ok: false; problems: string[] };

const [mostLines, mostProblems] = [20_000, 8];
const own = new Set(["raw", "percentile", "mean", "sd", "n"]);

/**
 * Reads norms from a text of comma, semicolon or tab separated values with a line of headers: `raw` and `percentile` (a line each raw
 * score), or `mean` and `sd`; `n` where it is known. All other columns say whom a line is for: `age_from` and `age_to` a range of the
 * column `age`, any other a word. `isNormal`: whether the scores are said to be normally distributed.
 */
export function normsFromCsv(text: string, isNormal: boolean): ReadNorms {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ""), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (header) => header.trim(),
    transform: (cell) => cell.trim(),
  });
  const headers = (meta.fields ?? []).filter((header) => header !== "");
  const has = (header: string) => headers.includes(header);
  const isTable = has("raw") && has("percentile");
  if (!isTable && !(has("mean") && has("sd")))
    return {
      ok: false,
      problems: [
        `The first line should name the columns raw and percentile, or mean and sd; it has ${headers.slice(0, 8).join(", ") || "none"}.`,
      ],
    };
  if (isTable && has("mean"))
    return { ok: false, problems: ["It has both percentiles and means. Take them in as two norm samples."] };
  if (data.length > mostLines)
    return { ok: false, problems: [`It has more than ${mostLines.toLocaleString("en")} lines.`] };
  const problems: string[] = [];
  const bands = new Map<
    string,
    { where: BandCondition[]; n: number | null; lines: { at: number; a: number; b: number }[] }
  >();
  const numberIn = (row: Record<string, string>, header: string, at: number): number => {
    const cell = row[header] ?? "";
    const value = cell === "" ? NaN : Number(cell.replace(/^−/, "-").replace(/^([^.]*),([^,]*)$/, "$1.$2"));
    if (!Number.isFinite(value)) problems.push(`Line ${at}: ${header} is “${cell}”; it should be a number.`);
    return value;
  };
  for (const [index, row] of data.entries()) {
    const at = index + 2;
    const where = conditionsIn(row, headers, (header) => numberIn(row, header, at));
    const key = JSON.stringify(where);
    const n = (row["n"] ?? "") === "" ? null : numberIn(row, "n", at);
    const [a, b] = (isTable ? ["raw", "percentile"] : ["mean", "sd"]).map((header) => numberIn(row, header, at));
    const line = { at, a: a ?? NaN, b: b ?? NaN };
    if (isTable && (line.b < 0 || line.b > 100))
      problems.push(`Line ${at}: percentile is ${line.b}; it lies between 0 and 100.`);
    if (!isTable && line.b <= 0) problems.push(`Line ${at}: sd is ${line.b}; it is above 0.`);
    if (n !== null && (!Number.isInteger(n) || n < 1))
      problems.push(`Line ${at}: n is “${row["n"] ?? ""}”; it is a whole number.`);
    const known = bands.get(key);
    if (known && !isTable)
      problems.push(`Line ${at}: there is a line for the same persons already (line ${known.lines[0]?.at ?? ""}).`);
    bands.set(key, { where, n, lines: [...(known?.lines ?? []), line] });
  }
  if (data.length === 0) problems.push("It has no lines below the first.");
  const made: Band[] = [];
  for (const { where, n, lines } of bands.values()) {
    const found = isTable ? tableOf(lines) : momentsOf(lines, isNormal);
    if (typeof found === "string") problems.push(found);
    else made.push({ where, n, values: found });
  }
  if (problems.length === 0) return { ok: true, bands: made };
  const more = problems.length - mostProblems;
  return { ok: false, problems: [...problems.slice(0, mostProblems), ...(more > 0 ? [`And ${more} more.`] : [])] };
}

function conditionsIn(
  row: Record<string, string>,
  headers: readonly string[],
  numberAt: (header: string) => number,
): BandCondition[] {
  const found = new Map<string, BandCondition>();
  for (const header of headers) {
    const cell = row[header] ?? "";
    if (own.has(header) || cell === "") continue;
    const [, column = header, end] = /^(.+)_(from|to)$/.exec(header) ?? [];
    const before = found.get(column) ?? { column };
    found.set(column, end === undefined ? { ...before, is: cell } : { ...before, [end]: numberAt(header) });
  }
  return [...found.values()];
}

function tableOf(lines: readonly { at: number; a: number; b: number }[]): NormValues | string {
  const steps = lines.map(({ a, b }) => ({ raw: a, percentile: b })).sort((x, y) => x.raw - y.raw);
  const first = lines[0]?.at ?? 0;
  if (steps.length < 2) return `Line ${first}: a band needs two raw scores at least.`;
  const twice = steps.find(({ raw }, at) => raw === steps[at + 1]?.raw);
  if (twice) return `From line ${first} on: the raw score ${twice.raw} is there twice for the same persons.`;
  const rises = (sign: number) =>
    steps.every(({ percentile }, at) => at === 0 || sign * (percentile - (steps[at - 1]?.percentile ?? 0)) >= 0);
  if (!rises(1) && !rises(-1)) return `From line ${first} on: percentiles go up and down as raw scores rise.`;
  return { kind: "table", steps };
}

function momentsOf(lines: readonly { a: number; b: number }[], isNormal: boolean): NormValues | string {
  const [{ a, b }] = lines as [{ a: number; b: number }];
  return { kind: "moments", mean: a, sd: b, isNormal };
}
