import { list, object, variant } from "../shape/compound";
import { only, text } from "../shape/plain";
import { optional, type Of } from "../shape/shape";

/** How people come away from a link: with all of it done, sent away by the study's own conditions, having said no, or because no more are wanted. */
export const endNames = ["finished", "screened-out", "declined", "full"] as const;
export type EndName = (typeof endNames)[number];

/** Most characters of a code, and most codes of a list that are sent at once. */
export const [mostOfCode, mostCodes] = [60, 5000];

const codeForAll = {
  none: object({ kind: only("none") }),
  same: object({ kind: only("same"), code: text({ missing: "is missing: type the code", most: mostOfCode }) }),
};
const code = variant("kind", {
  ...codeForAll,
  /** Each session has one of its own, made by Lapwing. */
  own: object({ kind: only("own") }),
  /** Each session is given one of a list that is kept beside the link. */
  listed: object({ kind: only("listed") }),
});

/** Where a button leads, with placeholders that are filled in. */
const address = optional(text({ most: 2000 }));
const endFields = object({
  /** What is read; what the study says by itself where it is left out. */
  says: optional(text({ most: 2000 })),
  code: optional(code),
  address,
});
export interface End extends Of<typeof endFields> {}
/** Of those who come when it is full, who have no session: what they read stands with the link's other sentences. */
const fullFields = object({ code: optional(variant("kind", codeForAll)), address });

export const ends = object({
  finished: optional(endFields),
  "screened-out": optional(endFields),
  declined: optional(endFields),
  full: optional(fullFields),
});
export type Ends = Of<typeof ends>;

/** What can be filled into an address by name; `link.NAME` stands for any parameter of the link's own. */
export type Filling = {
  "participant.code": string | null;
  "session.code": string | null;
  link: Readonly<Record<string, string>>;
};

const placeholder = /\{\{([^{}]*)\}\}/g;
const ofLink = /^link\.([\w.~-]{1,40})$/;
const fixed = ["participant.code", "session.code"] as const;
const isKnown = (name: string): boolean => (fixed as readonly string[]).includes(name) || ofLink.test(name);
const namesIn = (address: string): string[] => [...address.matchAll(placeholder)].map(([, name = ""]) => name.trim());

/** The link's own parameters that an address asks for. */
export const parametersIn = (address: string): string[] =>
  namesIn(address).flatMap((name) => ofLink.exec(name)?.slice(1) ?? []);

/** The link's own parameters that any end's address asks for. */
export const parametersOf = (all: Ends | undefined): string[] =>
  endNames.flatMap((name) => parametersIn(all?.[name]?.address ?? ""));

/** An address with its placeholders filled in, each encoded for where it stands; what is not known is left empty. */
export const filledAddress = (address: string, filling: Filling): string =>
  address.trim().replace(placeholder, (_, said: string) => {
    const name = said.trim();
    const own = ofLink.exec(name)?.[1];
    const value = own === undefined ? filling[name as (typeof fixed)[number]] : filling.link[own];
    return encodeURIComponent(value ?? "");
  });

/** What is wrong with a return address; null where nothing is. */
export function addressProblem(address: string): string | null {
  const unknown = namesIn(address).find((name) => !isKnown(name));
  if (unknown !== undefined)
    return `“{{${unknown}}}” is not known. Write {{participant.code}}, {{session.code}}, or {{link.NAME}} for a parameter of the link.`;
  const host = /^https?:\/\/([^/?#]*)/i.exec(address.trim())?.[1] ?? "";
  if (host.includes("{{")) return "A placeholder cannot stand in the name of the server.";
  const filled = filledAddress(address, { "participant.code": "x", "session.code": "x", link: {} });
  if (/[{}]/.test(filled)) return "A placeholder has two braces on each side: {{participant.code}}.";
  if (!/^https?:\/\/[^\s/]\S*$/i.test(filled) || !URL.canParse(filled))
    return "Write a web address that begins with https:// or http://.";
  return null;
}

/** What is wrong with ends that have their form; null where nothing is. */
export function endsProblem(all: Ends | undefined): string | null {
  for (const name of endNames) {
    const { address, code: asked } = all?.[name] ?? {};
    const wrong = address === undefined ? null : addressProblem(address);
    if (wrong !== null) return wrong;
    if (asked?.kind === "same" && asked.code.trim() === "") return "Type the code.";
  }
  return null;
}

/** What somebody is shown at their end where the link has a say in it; null in `says` leaves that to the study. */
export type ShownEnd = { says: string | null; code: string | null; address: string | null };

/** What an end shows, with the code that was given. */
export const shownEnd = ({ says, address }: End, code: string | null, filling: Filling): ShownEnd => ({
  says: says?.trim() || null,
  code,
  address: address === undefined ? null : filledAddress(address, filling),
});

/** Codes as they were pasted, one a line; those that are there twice once. */
export function codesIn(pasted: string): { codes: string[] } | { reason: string } {
  const codes = [...new Set(pasted.split(/\r?\n/).map((line) => line.trim()))].filter((line) => line !== "");
  const long = codes.findIndex((each) => each.length > mostOfCode);
  if (codes.length === 0) return { reason: "Paste one code a line." };
  if (codes.length > mostCodes) return { reason: `At most ${mostCodes.toLocaleString("en")} codes at once.` };
  return long >= 0 ? { reason: `Code ${long + 1} has more than ${mostOfCode} characters.` } : { codes };
}

/** Codes as they are sent. */
export const codeList = list(text({ missing: "is missing", most: mostOfCode }), 1, mostCodes);
