/** A link for one person: what it is called, and what is noted of it. */
export type ListedLink = { label: string; note: string };

/** So many links are made at once. */
export const mostLinks = 1000;
const [longestLabel, longestNote] = [80, 300];

export type LinkList = { ok: true; links: ListedLink[] } | { ok: false; problem: string };

/** Links from a pasted list, a line each: the name, then after a tab, comma or semicolon what is noted. Empty lines are left out. */
export function linksFromText(text: string): LinkList {
  const links = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line !== "")
    .map((line): ListedLink => {
      const at = line.search(/[\t,;]/);
      return at < 0 ? { label: line, note: "" } : { label: line.slice(0, at).trim(), note: line.slice(at + 1).trim() };
    });
  return judged(links);
}

/** So many links by a pattern in which `#` stands for a digit of their number: `course-b-##` gives `course-b-01` and so on. */
export function linksFromPattern(pattern: string, count: number): LinkList {
  if (!Number.isInteger(count) || count < 1) return { ok: false, problem: "Say how many, as a whole number from 1." };
  const named = pattern.trim();
  const [signs = "", ...others] = named.match(/#+/g) ?? [];
  if (others.length > 0) return { ok: false, problem: "Put the signs # for the number next to each other." };
  const at = signs === "" ? named.length : named.indexOf("#");
  const [before, after] = [named.slice(0, at), named.slice(at + signs.length)];
  const separated = signs === "" && before !== "" && count > 1 ? `${before} ` : before;
  const links = Array.from({ length: Math.min(count, mostLinks + 1) }, (_, index) => ({
    label:
      count === 1 && signs === "" && before !== ""
        ? before
        : `${separated}${String(index + 1).padStart(signs.length, "0")}${after}`,
    note: "",
  }));
  return judged(links);
}

function judged(links: ListedLink[]): LinkList {
  const problem = listProblem(links);
  return problem === null ? { ok: true, links } : { ok: false, problem };
}

/** What is wrong with a list of links; null where nothing is. */
export function listProblem(links: readonly ListedLink[]): string | null {
  if (links.length === 0) return "The list is empty. Write a name a line.";
  if (links.length > mostLinks) return `At most ${mostLinks.toLocaleString("en")} links are made at once.`;
  const nameless = links.findIndex(({ label }) => label === "");
  if (nameless >= 0) return `Line ${nameless + 1} has no name.`;
  const long = links.findIndex(({ label, note }) => label.length > longestLabel || note.length > longestNote);
  if (long >= 0)
    return `Line ${long + 1} is too long: a name has at most ${longestLabel} characters, a note ${longestNote}.`;
  const seen = new Set<string>();
  for (const [index, { label }] of links.entries()) {
    if (seen.has(label.toLowerCase())) return `Line ${index + 1}: “${label}” stands in the list twice.`;
    seen.add(label.toLowerCase());
  }
  return null;
}
