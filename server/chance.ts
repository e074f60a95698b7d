import { createHash, randomBytes, randomInt } from "node:crypto";

const letters = "abcdefghjkmnpqrstuvwxyz23456789";
const draw = (count: number) => Array.from({ length: count }, () => letters[randomInt(letters.length)]).join("");

/** A short id with a prefix, unique enough within a database. */
export const newId = (prefix: string): string => `${prefix}-${draw(10)}`;
/** A secret that cannot be guessed: 192 random bits. */
export const newSecret = (): string => randomBytes(24).toString("base64url");
/** The hash that is stored of a secret. */
export const secretHash = (secret: string): string => createHash("sha256").update(secret).digest("hex");
/** The token in the address of an entry link: short enough to type, 59 bits. */
export const newLinkToken = (): string => draw(12);
/** The code a participant hands in as proof of having finished. */
export const newCompletionCode = (): string => `${draw(4)}-${draw(4)}`.toUpperCase();
/** The code by which a participant goes on at another computer: 39 bits, in a study. */
export const newGoOnCode = (): string => `${draw(4)}-${draw(4)}`.toUpperCase();
/** A seed that can be read out. */
export const newSeed = (): string => randomBytes(2).toString("hex").toUpperCase();

const first = [
  "amber",
  "velvet",
  "brass",
  "mossy",
  "copper",
  "salt",
  "grey",
  "quiet",
  "silver",
  "dusky",
  "tidal",
  "pale",
  "russet",
  "windy",
  "early",
  "mellow",
  "chalky",
  "reedy",
  "bright",
  "sandy",
  "plum",
  "ochre",
  "misty",
  "linen",
  "hazel",
];
const second = [
  "quay",
  "crate",
  "tide",
  "pier",
  "lane",
  "ledger",
  "bollard",
  "kettle",
  "harbour",
  "market",
  "basin",
  "ferry",
  "gull",
  "plover",
  "lantern",
  "mooring",
  "ladle",
  "orchard",
  "jetty",
  "marsh",
  "skiff",
  "larder",
  "awning",
  "shoal",
  "buoy",
];
/** A study's two-word code, such as `amber-quay`. */
export const newStudyCode = (): string => `${first[randomInt(first.length)]}-${second[randomInt(second.length)]}`;
