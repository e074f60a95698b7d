import { formatNames, type FormatName } from "~/core/export/formats/registry";

/** `?format=NAME` (or `?spreadsheet=yes`, as older links have it), and `?pilots=yes` with rehearsals. */
export function exportChoice(request: Request): { format: FormatName; pilots: boolean } {
  const query = new URL(request.url).searchParams;
  return {
    format:
      query.get("spreadsheet") === "yes"
        ? "spreadsheet"
        : (formatNames.find((each) => each === query.get("format")) ?? "csv"),
    pilots: query.get("pilots") === "yes",
  };
}

/** The address of a study's data in a format. */
export const dataAddress = (code: string, format: FormatName): string => `/studies/${code}/data?format=${format}`;
