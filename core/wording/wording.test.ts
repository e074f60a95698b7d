import { describe, expect, it } from "vitest";
import { filledIn, wordingNames } from "./names";
import { directionOf, shippedLanguages, wordingFor } from "./wording";

const slots = (text: string) => [...text.matchAll(/\{\{\w+\}\}/g)].map(([slot]) => slot).sort();

describe("wording of participants' pages", () => {
  it.each(Object.keys(shippedLanguages))("in %s has every text, with the values of the English one", (language) => {
    const english = wordingFor("en");
    const wording = wordingFor(language);
    expect(Object.keys(wording).sort()).toEqual(Object.keys(wordingNames).sort());
    for (const [name, text] of Object.entries(wording)) {
      expect(text.trim(), name).not.toBe("");
      expect(slots(text), name).toEqual(slots(english[name as keyof typeof english]));
      if (language !== "en" && text.length > 12) expect(text, name).not.toBe(english[name as keyof typeof english]);
    }
  });

  it("is found by the first part of a tag, and English where a language is not shipped", () => {
    expect(wordingFor("de-CH").start).toBe("Beginnen");
    expect(wordingFor("fi").start).toBe("Start");
  });

  it("is changed by a study, but not by an empty text", () => {
    expect(wordingFor("en", { start: "Set sail", goOn: " " })).toMatchObject({ start: "Set sail", goOn: "Continue" });
  });

  it("knows which languages are written from the right", () => {
    expect(["ar", "he-IL", "az-Arab", "de", "en-GB"].map(directionOf)).toEqual(["rtl", "rtl", "rtl", "ltr", "ltr"]);
  });

  it("fills values in", () => {
    expect(filledIn("{{sent}} of {{all}}", { sent: 38, all: 412 })).toBe("38 of 412");
  });
});
