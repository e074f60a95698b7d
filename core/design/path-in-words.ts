/**
 * Puts a path into a document into words, for example `parts.b-near.scenes[1].items[0].size.w` → `block “Near waders”,
 * scene 2, item “left bird”: size, width`. Works on documents that are not valid, since it is used to explain why.
 */
export function pathInWords(document: unknown, path: string): string {
  const steps = path.split(/[.[\]"]+/).filter(Boolean);
  const words: string[] = [];
  const rest: string[] = [];
  let here: unknown = document;
  let inList = "";
  for (const step of steps) {
    here = typeof here === "object" && here !== null ? (here as Record<string, unknown>)[step] : undefined;
    if (inList) {
      rest.length = 0;
      words.push(entryInWords(inList, step, here));
      inList = "";
    } else if (step in listWords || step === "parts") inList = step;
    else rest.push(propertyWords[step] ?? step);
  }
  if (inList) rest.push(listWords[inList]?.many ?? inList);
  const subject = words.join(", ");
  const property = rest.join(", ");
  return subject && property ? `${subject}: ${property}` : subject || property || "the study";
}

const listWords: Record<string, { one: string; many: string; numbered?: true }> = {
  scenes: { one: "scene", many: "scenes", numbered: true },
  items: { one: "item", many: "items" },
  rows: { one: "row", many: "rows", numbered: true },
  columns: { one: "column", many: "columns" },
  answers: { one: "answer", many: "answers" },
  groups: { one: "group", many: "groups" },
  groupValues: { one: "group value", many: "group values" },
  pools: { one: "pool", many: "pools" },
  where: { one: "condition", many: "conditions", numbered: true },
  variables: { one: "variable", many: "variables" },
  media: { one: "media file", many: "media files" },
  runningOrder: { one: "running order, place", many: "running order", numbered: true },
  nodes: { one: "place", many: "places in the bracket", numbered: true },
  markers: { one: "marker", many: "markers" },
  rules: { one: "rule", many: "rules", numbered: true },
  limits: { one: "limit", many: "limits", numbered: true },
  flow: { one: "piece", many: "pieces", numbered: true },
  scores: { one: "score", many: "scores" },
  strata: { one: "stratum", many: "strata", numbered: true },
  endings: { one: "ending", many: "endings", numbered: true },
  options: { one: "option", many: "options", numbered: true },
  statements: { one: "statement", many: "statements", numbered: true },
  pairs: { one: "pair", many: "pairs", numbered: true },
  questions: { one: "question", many: "questions" },
  text: { one: "paragraph", many: "text", numbered: true },
  body: { one: "paragraph", many: "text", numbered: true },
  runs: { one: "stretch", many: "text", numbered: true },
};

const propertyWords: Record<string, string> = {
  w: "width",
  allocation: "who gets what",
  after: "where places are given",
  h: "height",
  at: "position",
  fontSize: "letter size",
  stageColor: "stage colour",
  textColor: "text colour",
  table: "trial table",
  lasts: "duration",
  ms: "milliseconds",
  atMostMs: "longest wait",
  lineWidth: "line width",
  continueLabel: "label of the button",
  opensWith: "opening scene",
  closesWith: "closing scene",
  by: "how it is given",
  perGroup: "value for a group",
  color: "colour",
  sha256: "content hash",
  mime: "kind of file",
  turned: "turn",
  right: "right answer",
  match: "comparison",
  onAnswer: "what an answer does",
  onEarly: "what an early answer does",
  counts: "which answer counts",
  countsFrom: "onset it counts from",
  when: "condition",
  begins: "appearance",
  ends: "going",
  upsideDown: "flip",
  lineSpacing: "line spacing",
  cases: "cases",
  draws: "what is drawn",
  factor: "factor mark",
  do: "what it does",
  if: "condition",
  on: "what sets it off",
  criterion: "until good enough",
  until: "until good enough",
  aside: "whether only rules show it",
  start: "what it starts with",
  need: "whether it must be answered",
  ratherNot: "“I would rather not say”",
  explanation: "explanation",
  apart: "choice apart",
  numbers: "numbers at the points",
  reversed: "direction it counts in",
};

/** A property of the document as people call it. */
export const propertyInWords = (property: string): string => propertyWords[property] ?? property;

function entryInWords(list: string, step: string, entry: unknown): string {
  const named = typeof entry === "object" && entry !== null ? (entry as { name?: unknown; kind?: unknown }) : {};
  const name = typeof named.name === "string" && named.name !== "" ? named.name : null;
  if (list === "parts")
    return `${named.kind === "page" ? "page" : named.kind === "block" ? "block" : "part"} “${name ?? step}”`;
  if (list === "flow" && name) return `question “${name}”`;
  const words = listWords[list];
  const number = /^\d+$/.test(step) ? Number(step) + 1 : step;
  if (!words || words.numbered || !name) return `${words?.one ?? list} ${number}`;
  return `${words.one} “${name}”`;
}
