/** What somebody can be in a study. One person can be several at once. */
export const roles = ["owner", "designer", "assistant", "analyst", "reader"] as const;
export type Role = (typeof roles)[number];

/** A right, in words that follow “may”, and the roles that have it. Owners have them all. */
const table = {
  "open-study": { says: "open the study's pages", of: ["designer", "analyst", "reader"] },
  "see-design": { says: "see the design", of: ["designer", "reader"] },
  "change-design": { says: "change the design", of: ["designer"] },
  rehearse: { says: "rehearse", of: ["designer"] },
  "hand-out": { says: "release it, make links and waves, pause and close them", of: ["designer"] },
  "see-sessions": { says: "follow the sessions with their groups", of: ["designer", "analyst"] },
  "start-sessions": { says: "start sessions in the laboratory and see how they stand", of: ["designer", "assistant"] },
  note: { says: "write notes on sessions", of: ["designer", "assistant", "analyst"] },
  "see-results": { says: "see answers and results, and take the data away", of: ["analyst"] },
  "leave-out": { says: "say that a session does not count", of: ["analyst"] },
  "keep-data": { says: "find what is kept of a participant, give it to them and delete it", of: [] },
  share: { says: "say who works on it, and read its log", of: [] },
  "end-study": { says: "move it to the bin, and delete it for good", of: [] },
} as const satisfies Record<string, { says: string; of: readonly Role[] }>;

export type Right = keyof typeof table;
export const rights = Object.keys(table) as Right[];

/** Whether somebody with these roles has a right. This alone decides. */
export const mayDo = (own: readonly Role[], right: Right): boolean =>
  own.includes("owner") || own.some((role) => (table[right].of as readonly Role[]).includes(role));

/** What a right is, in words that follow “may”. */
export const rightInWords = (right: Right): string => table[right].says;

/** Who has a right: “owners and designers”. */
export const rolesWith = (right: Right): string =>
  new Intl.ListFormat("en", { type: "conjunction" }).format(
    roles.filter((role) => mayDo([role], right)).map((role) => `${role}s`),
  );

/** What each role is for, in a sentence. */
export const roleSays: Record<Role, string> = {
  owner: "may do everything",
  designer: "edits, rehearses, releases; does not see results",
  assistant: "starts sessions in the laboratory; sees neither groups nor results",
  analyst: "sees sessions and results; does not see the design",
  reader: "sees the design, and changes nothing",
};

/** Roles in their order, each once: “a designer and an analyst”. */
export const rolesInWords = (own: readonly Role[]): string =>
  new Intl.ListFormat("en", { type: "conjunction" }).format(
    inOrder(own).map((role) => `${/^[ao]/.test(role) ? "an" : "a"} ${role}`),
  );

/** Roles in their order, each once. */
export const inOrder = (own: readonly Role[]): Role[] => roles.filter((role) => own.includes(role));

/** Roles as they are stored, one text; what is no role is passed over. */
export const storedRoles = (text: string): Role[] => inOrder(text.split(" ") as Role[]);

/** Where somebody with these roles begins in a study: the last part of the address. */
export function firstPage(own: readonly Role[]): "plan" | "collect" | "laboratory" {
  if (mayDo(own, "see-design")) return "plan";
  return mayDo(own, "see-sessions") ? "collect" : "laboratory";
}
