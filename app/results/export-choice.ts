import { formatNames, type FormatName } from "~/core/export/formats/registry";

export type AskedExport = { format: FormatName; pilots: boolean; wave: string | null; codes: boolean };

/** `?format=NAME` (or `?spreadsheet=yes`, as older links have it), `?pilots=yes` with rehearsals, `?wave=ID` of one wave, `?codes=yes` with a table of codes. */
export function exportChoice(request: Request): AskedExport {
  const query = new URL(request.url).searchParams;
  return {
    format:
      query.get("spreadsheet") === "yes"
        ? "spreadsheet"
        : (formatNames.find((each) => each === query.get("format")) ?? "csv"),
    pilots: query.get("pilots") === "yes",
    wave: query.get("wave"),
    codes: query.get("codes") === "yes",
  };
}

/** The address of a study's data in a format. */
export const dataAddress = (code: string, { format, wave, codes }: Omit<AskedExport, "pilots">): string =>
  `/studies/${code}/data?format=${format}${wave === null ? "" : `&wave=${wave}`}${codes ? "&codes=yes" : ""}`;
