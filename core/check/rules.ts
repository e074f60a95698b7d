import { codeParameter } from "../design/allocation";
import { partNodes } from "../design/lookup";
import type { Block } from "../design/block";
import { placedRules, type PlacedRule } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import { questionById } from "../design/questions";
import { ruleInWords, usesOfPage } from "../design/uses-of-rules";
import { openingOf } from "../order/opening";
import { bracketsIn } from "../order/parts";
import type { Action } from "../rules/action";
import { serviceProblems } from "./services";
import { neededRight, type Criterion } from "../rules/criterion";
import type { Rule } from "../rules/rule";
import type { Id } from "../values/ref";
import { usesIn } from "../values/uses";
import { trialsInBlock } from "../design/lookup";
import type { Check, Finding } from "./finding";

/** What rules speak of that is gone, what can never happen, and what would go on without end. */
export const ruleProblems: Check = (document) => [
  ...placedRules(document)
    .filter(({ rule }) => !rule.off)
    .flatMap((placed) => problemsOf(document, placed)),
  ...circles(document),
  ...document.variables.flatMap(({ name, from }): Finding[] =>
    from?.urlParameter === codeParameter
      ? [
          {
            level: "error",
            where: `variable “${name}”`,
            message: `“?${codeParameter}=” is the participant’s code, which is kept apart from the data. Take another parameter.`,
            target: {},
          },
        ]
      : [],
  ),
  ...partNodes(document.runningOrder).flatMap(({ part, aside }): Finding[] =>
    aside && usesOfPage(document, part).length === 0
      ? [
          {
            level: "note",
            where: `page “${document.parts[part]?.name ?? part}”`,
            message:
              "Only rules show it, and none does. Let a rule or “until good enough” show it, or take it into the order.",
            target: { part },
          },
        ]
      : [],
  ),
];

type Problem = { level: Finding["level"]; message: string };
const error = (message: string): Problem => ({ level: "error", message });
const warning = (message: string): Problem => ({ level: "warning", message });

function problemsOf(document: StudyDocument, placed: PlacedRule): Finding[] {
  const { rule, place } = placed;
  const part = place.part === null ? undefined : document.parts[place.part];
  const block = part?.kind === "block" ? part : null;
  const where = ruleInWords(document, placed);
  const target = { part: place.part ?? undefined, scene: place.scene ?? undefined, rule: rule.id };
  const columns = usesIn(rule).some(({ ref }) => "column" in ref);
  const problems = [
    ...ofTrigger(document, rule, block),
    ...rule.do.flatMap((action) => ofAction(document, rule, action, block, place.part)),
    ...(columns && !block ? [error("It uses a column, and a column has a value only in trials of its block.")] : []),
  ];
  return problems.map(({ level, message }) => ({ level, where, message, target }));
}

function ofTrigger(document: StudyDocument, { when }: Rule, block: Block | null): Problem[] {
  switch (when.on) {
    case "scene-begins":
    case "scene-ends":
      return when.scene === undefined || !block || block.scenes.some(({ id }) => id === when.scene)
        ? []
        : [error("It waits for a scene that has been removed. Choose another.")];
    case "answer": {
      if (!block) return [];
      const answers = block.answers.filter(({ id }) => when.answer === undefined || id === when.answer);
      if (answers.length === 0) return [error("The block takes no such answer, so it can never be set off.")];
      if ((when.how === "right" || when.how === "wrong") && answers.every(({ right }) => right === undefined))
        return [error(`No answer is ${when.how} here: say in the margin of the answer which one is right.`)];
      if (when.how === "none" && answers.every((answer) => waitsForEver(block, answer.closesWith)))
        return [
          warning("Its scene waits for the answer without end, so one always comes. Give the scene a longest wait."),
        ];
      return [];
    }
    case "pointer":
    case "media":
    case "message":
      return when.item === undefined || !block || hasItem(block, when.item)
        ? []
        : [error("It waits for an item that has been removed. Choose another.")];
    case "question":
      return when.question === undefined || questionById(document)(when.question)
        ? []
        : [error("It waits for a question that has been removed. Choose another.")];
    case "variable":
      return hasVariable(document, when.variable)
        ? []
        : [error("It waits for a variable that has been removed. Choose another.")];
    default:
      return [];
  }
}

/** Only an answer ends the last scene of its window. */
function waitsForEver(block: Block, closesWith: Id): boolean {
  const lasts = block.scenes.find(({ id }) => id === closesWith)?.lasts;
  return lasts?.kind === "until-answer" && lasts.atMostMs === undefined;
}
const hasItem = (block: Block, item: Id) => block.scenes.some(({ items }) => items.some(({ id }) => id === item));
const hasVariable = ({ variables }: StudyDocument, id: Id) => variables.some((variable) => variable.id === id);

function ofAction(
  document: StudyDocument,
  rule: Rule,
  action: Action,
  block: Block | null,
  part: Id | null,
): Problem[] {
  const problems: Problem[] = [];
  const variables = [
    ...("what" in action
      ? typeof action.what === "string"
        ? [action.what]
        : "variable" in action.what
          ? [action.what.variable]
          : []
      : []),
    ...("variable" in action ? [action.variable] : []),
    ...("from" in action ? [action.from] : []),
    ...(action.do === "script" || action.do === "ask" ? action.gives.map(({ variable }) => variable) : []),
  ];
  if (!variables.every((id) => hasVariable(document, id)))
    problems.push(error("It changes a variable that has been removed. Choose another."));
  if ((action.do === "item" || action.do === "media") && block && !hasItem(block, action.item))
    problems.push(error("It changes an item that has been removed. Choose another."));
  if (action.do === "sound" && !document.media.some(({ id }) => id === action.file))
    problems.push(error("It plays a sound that has been removed. Choose another."));
  if (action.do === "ask") problems.push(...serviceProblems(document, action));
  if (action.do === "go-to-scene" && block) problems.push(...backwards(rule, action.scene, block));
  if (action.do === "page") {
    if (document.parts[action.page]?.kind !== "page")
      problems.push(error("It shows a page that has been removed. Choose another."));
    else if (action.page === part)
      problems.push(error("It shows its own page again and again. Let another rule, or another page, do it."));
  }
  if (action.do === "go-to-part") {
    const order = partNodes(document.runningOrder).map((node) => node.part);
    const opening = openingOf(document).map((node) => node.part);
    if (!document.parts[action.part]) problems.push(error("It goes to a part that has been removed. Choose another."));
    else if (opening.includes(part ?? "") && !opening.includes(action.part))
      problems.push(
        error(
          "Its page comes before places are given, and the part after. Let the page end as it is, and leave out later parts by conditions.",
        ),
      );
    else if (part !== null && order.indexOf(action.part) <= order.indexOf(part))
      problems.push(
        error(
          "It goes to a part that does not come later, and a session goes only forward. To repeat something, use “until good enough”, or show a page and come back.",
        ),
      );
  }
  if (action.repeat && action.repeat.times === undefined && action.repeat.until === undefined)
    problems.push(
      warning(
        "It repeats without end. Say how often, or until when: as it is, it stops with the trial or page, or after 1,000 times.",
      ),
    );
  if (action.do === "end-session" && action.text.length === 0)
    problems.push({
      level: "note",
      message: "It ends the session without words of its own, so participants are only thanked.",
    });
  return problems;
}

/** Going back to a scene, where nothing says that it ends. */
function backwards(rule: Rule, scene: Id, block: Block): Problem[] {
  const index = block.scenes.findIndex(({ id }) => id === scene);
  if (index < 0) return [error("It goes to a scene that has been removed. Choose another.")];
  const from =
    "scene" in rule.when ? block.scenes.findIndex(({ id }) => id === (rule.when as { scene?: Id }).scene) : -1;
  const isForward = from >= 0 && index > from;
  if (isForward || rule.if !== undefined || ["answer", "key", "pointer", "message"].includes(rule.when.on)) return [];
  return [
    (from >= 0 ? error : warning)(
      `It goes back to “${block.scenes[index]?.name ?? scene}” each time, and nothing says when to stop: a trial ends after 200 scenes. Give it a condition.`,
    ),
  ];
}

/** Rules that set each other off by the variables they change, without a condition that could stop them. */
function circles(document: StudyDocument): Finding[] {
  const placed = placedRules(document).filter(({ rule }) => !rule.off);
  const waiting = placed.filter(({ rule }) => rule.when.on === "variable" && rule.if === undefined);
  const next = new Map(waiting.map((each) => [each, new Set(changedBy(each.rule))]));
  return waiting.flatMap((start): Finding[] => {
    const seen = new Set<PlacedRule>();
    const queue = [start];
    for (let one = queue.shift(); one; one = queue.shift()) {
      for (const each of waiting) {
        const { when } = each.rule;
        if (when.on !== "variable" || !next.get(one)?.has(when.variable)) continue;
        if (each === start)
          return [
            {
              level: "error",
              where: ruleInWords(document, start),
              message:
                "It changes the variable it waits for, itself or by other rules, and so sets itself off for ever. Give it a condition.",
              target: { part: start.place.part ?? undefined, rule: start.rule.id },
            },
          ];
        if (!seen.has(each)) queue.push(each);
        seen.add(each);
      }
    }
    return [];
  });
}

const changedBy = (rule: Rule): Id[] =>
  rule.do.flatMap((action) => {
    if (action.do === "set" || action.do === "add") return "variable" in action.what ? [action.what.variable] : [];
    if (action.do === "append") return [action.variable];
    if (action.do === "script" || action.do === "ask") return action.gives.map(({ variable }) => variable);
    return action.do === "draw" ? [action.from, action.what] : [];
  });

/** What cannot be reached, or names what is gone, in “until good enough”. */
export const criterionProblems: Check = (document) => [
  ...Object.values(document.parts).flatMap((part) =>
    part.kind === "block" && part.criterion
      ? ofCriterion(document, part.criterion, [part], `block “${part.name}”`, part.id)
      : [],
  ),
  ...bracketsIn(document.runningOrder).flatMap((bracket) => {
    if (!bracket.until) return [];
    const inside = partNodes(bracket.nodes).flatMap(({ part }) => document.parts[part] ?? []);
    const blocks = inside.filter((part): part is Block => part.kind === "block");
    return ofCriterion(
      document,
      bracket.until,
      blocks,
      `the bracket with ${inside[0]?.name ?? "nothing"}`,
      inside[0]?.id,
    );
  }),
];

function ofCriterion(
  document: StudyDocument,
  criterion: Criterion,
  blocks: readonly Block[],
  place: string,
  part: Id | undefined,
): Finding[] {
  const where = `${place}, until good enough`;
  const found = (level: Finding["level"], message: string): Finding => ({ level, where, message, target: { part } });
  const findings: Finding[] = [];
  const { trials, rightShare, each, before, attempts } = criterion;
  if (blocks.every(({ answers }) => answers.every(({ right }) => right === undefined)))
    findings.push(
      found("error", "No answer is right or wrong there, so that it is never reached. Say which answer is right."),
    );
  const all = blocks.reduce((sum, block) => sum + trialsInBlock(block), 0);
  if (trials > all)
    findings.push(
      found(
        "error",
        `It looks at ${trials} trials, and an attempt has ${all}: it is never reached. Use fewer, or more copies.`,
      ),
    );
  if (each !== undefined && !blocks.some(({ table }) => table.columns.some(({ id }) => id === each)))
    findings.push(found("error", "It looks at the levels of a column that has been removed. Choose another."));
  if (before !== undefined && document.parts[before]?.kind !== "page")
    findings.push(found("error", "The page before another attempt has been removed. Choose another."));
  const length = blocks.reduce((sum, { table }) => sum + table.rows.filter(({ copies }) => copies > 0).length, 0);
  if (each !== undefined && length > 0 && trials > all / 2)
    findings.push(found("note", `Each level needs ${trials} trials of its own: an attempt has ${all} in all.`));
  if (rightShare !== undefined && criterion.looked === "every-trial" && criterion.over === "last") {
    const chance = 1 - (1 - byGuessing(neededRight(rightShare, trials), trials, all)) ** attempts;
    if (chance > 0.05)
      findings.push(
        found(
          "note",
          `Somebody who guesses between two answers reaches it in ${Math.round(chance * 100)} of 100 sessions, since it is looked at after every trial. Look at more trials, or only at the end.`,
        ),
      );
  }
  return findings;
}

const known = new Map<string, number>();
/**
 * How probable it is that of trials answered right by chance (one half) at least `needed` of some `window` in a row are
 * right, somewhere in `all`. Worked out exactly over all windows of up to 16 trials; longer ones are taken as if windows
 * followed each other without overlap, which gives less than the truth.
 */
export function byGuessing(needed: number, window: number, all: number): number {
  const key = `${needed} ${window} ${all}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const made = window <= 14 ? exactly(needed, window, Math.min(all, 2000)) : roughly(needed, window, all);
  if (known.size > 200) known.clear();
  known.set(key, made);
  return made;
}

function exactly(needed: number, window: number, all: number): number {
  if (all < window) return 0;
  // The last trials as bits; those that have reached it are counted out.
  const size = 2 ** window;
  const mask = size - 1;
  const ones = (bits: number) => bits.toString(2).replaceAll("0", "").length;
  const counts = Array.from({ length: size }, (_, bits) => ones(bits));
  let alive = new Float64Array(size);
  alive[0] = 1;
  let reached = 0;
  for (let trial = 1; trial <= all; trial++) {
    const next = new Float64Array(size);
    for (let bits = 0; bits < size; bits++) {
      const share = alive[bits] as number;
      if (share === 0) continue;
      for (const right of [0, 1]) {
        const after = ((bits << 1) | right) & mask;
        if (trial >= window && (counts[after] as number) >= needed) reached += share / 2;
        else next[after] = (next[after] as number) + share / 2;
      }
    }
    alive = next;
  }
  return reached;
}

function roughly(needed: number, window: number, all: number): number {
  let tail = 0;
  let choose = 1;
  for (let right = 0; right <= window; right++) {
    if (right >= needed) tail += choose;
    choose = (choose * (window - right)) / (right + 1);
  }
  return 1 - (1 - tail / 2 ** window) ** Math.floor(all / window);
}
