import { formatNames, type FormatName } from "~/core/export/formats/registry";

/** `?format=NAME` (or `?spreadsheet=yes`, as older links have it), `?pilots=yes` with rehearsals, `?wave=ID` of one wave. */
export function exportChoice(request: Request): { format: FormatName; pilots: boolean; wave: string | null } {
  const query = new URL(request.url).searchParams;
  return {
    format:
      query.get("spreadsheet") === "yes"
        ? "spreadsheet"
        : (formatNames.find((each) => each === query.get("format")) ?? "csv"),
    pilots: query.get("pilots") === "yes",
    wave: query.get("wave"),
  };
}

/** The address of a study's data in a format. */
export const dataAddress = (code: string, format: FormatName, wave: string | null): string =>
  `/studies/${code}/data?format=${format}${wave === null ? "" : `&wave=${wave}`}`;
