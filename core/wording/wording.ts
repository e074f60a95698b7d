import { ar } from "./languages/ar";
import { de } from "./languages/de";
import { en } from "./languages/en";
import { es } from "./languages/es";
import { fr } from "./languages/fr";
import { nl } from "./languages/nl";
import type { Wording } from "./names";

/** The languages whose wording is shipped, by the first part of a language tag, with their own names. */
export const shippedLanguages = {
  en: "English",
  de: "Deutsch",
  fr: "Français",
  es: "Español",
  nl: "Nederlands",
  ar: "العربية",
};
const shipped: Record<string, Wording> = { en, de, fr, es, nl, ar };

const primary = (language: string) => language.split("-")[0]?.toLowerCase() ?? "";

/** What participants read in a language (BCP 47), English where none is shipped for it; a study's own texts go before. */
export const wordingFor = (language: string, own: Record<string, string> = {}): Wording => ({
  ...(shipped[primary(language)] ?? en),
  ...Object.fromEntries(Object.entries(own).filter(([, text]) => text.trim() !== "")),
});

export const isShipped = (language: string): boolean => Object.hasOwn(shipped, primary(language));

/** The direction a language is written in. */
export const directionOf = (language: string): "ltr" | "rtl" =>
  /-(Arab|Hebr)\b/i.test(language) || ["ar", "he", "fa", "ur", "ps", "yi", "dv", "ug"].includes(primary(language))
    ? "rtl"
    : "ltr";

/** A language in which moments can be written: tags that are none, though they look so, are taken for English. */
export function localeOf(language: string): string {
  try {
    return Intl.getCanonicalLocales(language)[0] ?? "en";
  } catch {
    return "en";
  }
}
