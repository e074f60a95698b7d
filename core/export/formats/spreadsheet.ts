import { csvFormat } from "./csv";

export const spreadsheet = csvFormat("for a spreadsheet program", { forSpreadsheet: true });
