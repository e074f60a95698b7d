import * as yup from "yup";

/**
 * The parameters of a participant's address: at most twenty short texts by name, so that no one can store what they
 * like.
 */
export const parameters = yup.mixed<Record<string, string>>().test("parameters", "must be texts by name", (value) => {
  if (value === undefined) return true;
  if (typeof value !== "object" || value === null) return false;
  const entries = Object.entries(value);
  return (
    entries.length <= 20 &&
    entries.every(([name, text]) => name.length <= 40 && typeof text === "string" && text.length <= 200)
  );
});
