import { nameProblem } from "../values/names";

export type FilePattern = { pieces: string[]; match: (name: string) => Record<string, string> | null };
export type PatternRead = { ok: true; pattern: FilePattern } | { ok: false; reason: string };

/**
 * Reads a pattern such as `{direction}-{gap}-{n}.svg`: names in braces stand for what differs between file names, `*`
 * for anything. A piece reaches up to the first of what follows it; the last one as far as it can.
 */
export function filePattern(text: string): PatternRead {
  const pieces: string[] = [];
  let source = "";
  for (const part of text.trim().split(/(\{[^{}]*\}|\*)/)) {
    const piece = /^\{([^{}]*)\}$/.exec(part)?.[1]?.trim();
    if (piece !== undefined) {
      const problem = nameProblem(piece, pieces);
      if (problem) return { ok: false, reason: `“{${piece}}”: ${problem}` };
      pieces.push(piece);
      source += "(.+?)";
    } else if (part === "*") source += ".*?";
    else source += part.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  }
  if (pieces.length === 0)
    return { ok: false, reason: "The pattern names no piece yet. Write {name} where file names differ." };
  const shape = new RegExp(`^${source}$`, "iu");
  return {
    ok: true,
    pattern: {
      pieces,
      match: (name) => {
        const found = shape.exec(name.normalize("NFC"));
        return found ? Object.fromEntries(pieces.map((piece, index) => [piece, found[index + 1] ?? ""])) : null;
      },
    },
  };
}

/** A pattern that fits all these file names, with a piece between any two signs that separate; empty where they have nothing in common. */
export function guessedPattern(names: readonly string[]): string {
  const split = names.map((name) => {
    const [, stem = name, extension = ""] = /^(.*?)(\.[^.]+)?$/.exec(name) ?? [];
    return { pieces: stem.split(/([-_ ]+)/), extension };
  });
  const [first] = split;
  if (!first) return "";
  const isAlike = split.every(
    ({ pieces }) =>
      pieces.length === first.pieces.length &&
      pieces.every((piece, index) => index % 2 === 0 || piece === first.pieces[index]),
  );
  const extension = split.every((each) => each.extension === first.extension) ? first.extension : ".*";
  if (!isAlike) return `{name}${extension}`;
  let count = 0;
  const text = first.pieces.map((piece, index) => {
    const isFixed = index % 2 === 1 || (names.length > 1 && split.every(({ pieces }) => pieces[index] === piece));
    return isFixed ? piece : `{piece${++count}}`;
  });
  return count === 0 ? `{name}${extension}` : `${text.join("")}${extension}`;
}
