import { exportFormats, formatCalled, type FormatName } from "~/core/export/formats/registry";
import type { ExportChoice } from "~/server/export/study-data";

/** `?format=NAME` (or `?spreadsheet=yes`, as older links have it), and `?pilots=yes` with rehearsals. */
export function exportChoice(request: Request): ExportChoice {
  const query = new URL(request.url).searchParams;
  return {
    format: query.get("spreadsheet") === "yes" ? exportFormats.spreadsheet : formatCalled(query.get("format")),
    pilots: query.get("pilots") === "yes",
  };
}

/** The address of a study's data in a format. */
export const dataAddress = (code: string, format: FormatName): string => `/studies/${code}/data?format=${format}`;
