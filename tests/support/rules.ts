import type { Adaptive } from "~/core/adaptive/specs";
import type { Again } from "~/core/design/trial-order";
import type { TrialTable } from "~/core/values/table";
import fc from "fast-check";
import { newPage } from "~/core/design/page";
import { blocksInOrder } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import type { Action } from "~/core/rules/action";
import type { Criterion } from "~/core/rules/criterion";
import type { Rule } from "~/core/rules/rule";
import type { Trigger } from "~/core/rules/trigger";
import type { Operand } from "~/core/values/calculation";
import type { Condition } from "~/core/values/condition";
import { reaches, type DrawReach } from "~/core/values/draws";
import { creatures, drawn, own } from "./pools";
import { anyStudy, countedIds } from "./studies";

export const [points, words, flag] = ["v-points", "v-words", "v-flag"] as const;
const variables: StudyDocument["variables"] = [
  { id: points, name: "tally_now", type: "number", start: 3 },
  { id: words, name: "words_left", type: "list", start: ["gull", "tern", "knot"] },
  { id: flag, name: "flag_up", type: "yes-no", start: false },
];

const operand: fc.Arbitrary<Operand> = fc.oneof(
  fc.integer({ min: -3, max: 9 }),
  fc.constantFrom<Operand>(
    { from: { variable: points } },
    { from: { builtIn: "last.rt_ms" } },
    { from: { builtIn: "block.wrong_in_a_row" } },
    { calculate: "plus", of: [{ from: { variable: points } }, 2] },
    { calculate: "random-whole", of: [1, 6] },
    { calculate: "count", of: [{ from: { variable: words } }] },
    { calculate: "remainder", of: [{ from: { builtIn: "block.trials_done" } }, 3] },
  ),
);
const compared: fc.Arbitrary<Condition> = fc.record({
  left: operand,
  is: fc.constantFrom("=" as const, "≠" as const, "<" as const, "≤" as const, ">" as const, "≥" as const),
  right: operand,
});
const condition: fc.Arbitrary<Condition> = fc.oneof(
  compared,
  fc.array(compared, { minLength: 1, maxLength: 3 }).map((all) => ({ all })),
  fc.array(compared, { minLength: 1, maxLength: 3 }).map((any) => ({ any })),
  compared.map((each) => ({ not: each })),
);
const afterMs = fc.option(fc.integer({ min: 0, max: 700 }), { nil: undefined });
const maybe = <T extends object>(key: string, value: T | number | undefined) =>
  value === undefined ? {} : { [key]: value };

const trigger: fc.Arbitrary<Trigger> = fc
  .tuple(
    fc.constantFrom<Trigger>(
      { on: "session-begins" },
      { on: "part-begins" },
      { on: "part-ends" },
      { on: "trial-begins" },
      { on: "trial-ends" },
      { on: "scene-begins" },
      { on: "scene-ends" },
      { on: "answer", how: "given" },
      { on: "answer", how: "right" },
      { on: "answer", how: "wrong" },
      { on: "answer", how: "none" },
      { on: "answer", how: "early" },
      { on: "key", key: "KeyB", act: "press" },
      { on: "window", what: "focus-lost" },
      { on: "variable", variable: points },
      { on: "session-ends" },
    ),
    afterMs,
  )
  .map(([on, ms]) => {
    const isOver = ["part-ends", "trial-ends", "session-ends"].includes(on.on);
    return { ...on, ...(isOver ? {} : maybe("afterMs", ms)) } as Trigger;
  });

const repeat = fc.option(
  fc.record({ everyMs: fc.integer({ min: 10, max: 300 }), times: fc.integer({ min: 1, max: 4 }) }),
  { nil: undefined },
);
const actionIn = (parts: readonly string[], aside: string): fc.Arbitrary<Action> =>
  fc
    .tuple(
      fc.oneof(
        operand.map((to): Action => ({ do: "set", what: { variable: points }, to })),
        operand.map((to): Action => ({ do: "add", what: { points: true }, to })),
        operand.map((to): Action => ({ do: "append", variable: words, to })),
        fc.constantFrom<Action>(
          { do: "draw", from: words, what: flag },
          { do: "sound", file: "m-none", volume: 80 },
          { do: "next-scene" },
          { do: "go-to-scene", scene: "s0" },
          { do: "end-trial" },
          { do: "repeat-trial", most: 2 },
          { do: "repeat-trial", afterTrials: 1, most: 3 },
          { do: "end-block" },
          { do: "begin-block-again", most: 2 },
          { do: "page", page: aside },
          { do: "event", name: "seen", value: { from: { variable: points } } },
          { do: "marker", marker: "m 1" },
        ),
        fc.constantFrom(...parts).map((part): Action => ({ do: "go-to-part", part })),
      ),
      afterMs,
      repeat,
    )
    .map(([action, ms, again]) => ({ ...action, ...maybe("afterMs", ms), ...maybe("repeat", again) }));

const criterion = (aside: string): fc.Arbitrary<Criterion | undefined> =>
  fc.option(
    fc.record({
      looked: fc.constantFrom("every-trial" as const, "pass-end" as const),
      rightShare: fc.constantFrom(0.5, 0.85, 1),
      over: fc.constantFrom("last" as const, "all" as const),
      trials: fc.integer({ min: 1, max: 6 }),
      attempts: fc.integer({ min: 1, max: 3 }),
      otherwise: fc.constantFrom("go-on" as const, "end" as const),
      before: fc.constantFrom(aside),
    }),
    { nil: undefined },
  );

/** Trials that come again until they were right often enough. */
const again: fc.Arbitrary<Again | undefined> = fc.option(
  fc.record({
    rightTimes: fc.integer({ min: 1, max: 3 }),
    inARow: fc.boolean(),
    gaps: fc.array(fc.integer({ min: 0, max: 4 }), { maxLength: 3 }),
    most: fc.integer({ min: 2, max: 5 }),
  }),
  { nil: undefined },
);

const range = {
  ...{ least: 1, most: 50, curve: "logistic" as const, guess: 0.5, lapse: 0.02, spreadFrom: 0.1, spreadTo: 0.5 },
};
const scale = fc.constantFrom("linear" as const, "logarithmic" as const);
const harder = fc.constantFrom("lower" as const, "higher" as const);
const ends = fc.option(fc.integer({ min: 1, max: 12 }), { nil: undefined });
/** A value that follows the answers in any way. */
const follows: fc.Arbitrary<Adaptive | undefined> = fc.option(
  fc
    .oneof(
      fc.record({
        ...{ method: fc.constant("staircase" as const), scale, harder, down: fc.integer({ min: 1, max: 3 }) },
        ...{ moves: fc.constantFrom("up-down" as const, "weighted" as const), target: fc.constantFrom(0.6, 0.75) },
        ...{
          start: fc.integer({ min: 1, max: 50 }),
          steps: fc.array(fc.constantFrom(0.1, 0.5, 3), { minLength: 1, maxLength: 3 }),
        },
        ...{ endReversals: ends, endTrials: ends },
      }),
      fc.record({
        ...{ method: fc.constant("bayesian" as const), scale, harder },
        ...{ next: fc.constantFrom("mode" as const, "mean" as const, "entropy" as const), endTrials: ends },
      }),
    )
    .map((each) => ({ ...range, ...(JSON.parse(JSON.stringify(each)) as typeof each) })),
  { nil: undefined },
);

/** The table with a column that follows the answers, in every other block by each level of its first column. */
function withFollowing(table: TrialTable, by: Adaptive, index: number): TrialTable {
  const [first] = table.columns;
  const each = index % 2 === 0 && first ? { each: first.id } : {};
  const column = { id: `follows-${index}`, name: `level_${index}`, type: "number" as const, factor: false };
  return { ...table, columns: [...table.columns, { ...column, follows: { by, ...each } }] };
}

const filledIn = (table: TrialTable, index: number, by: Adaptive | undefined, once: DrawReach | undefined) => {
  const following = by === undefined ? table : withFollowing(table, by, index);
  return once === undefined ? following : withDraws(following, once, index);
};
const draws = fc.option(fc.constantFrom(...reaches), { nil: undefined });
/** A table with columns that draw from the creatures; few as they are, some trials are left without. */
function withDraws(table: TrialTable, once: DrawReach, index: number): TrialTable {
  const lead = drawn(`drawn-${index}`, own({ once, where: index % 2 === 0 ? [] : [{ column: "kind", to: "fish" }] }));
  const length = drawn(`length-${index}`, { with: lead.id, takes: { is: "value", column: "length" } }, "number");
  return {
    ...table,
    columns: [...table.columns, { ...lead, name: `drawn_${index}` }, { ...length, name: `length_${index}` }],
  };
}

/** Studies of many forms with rules at every level that do anything whenever, and blocks that are repeated. */
export const anyRuledStudy: fc.Arbitrary<StudyDocument> = anyStudy.chain((plain) => {
  const document = structuredClone(plain);
  const aside = { ...newPage(countedIds(), "Look again"), id: "page-aside" };
  document.parts[aside.id] = aside;
  document.runningOrder.push({ kind: "part", part: aside.id, aside: true });
  document.variables = variables;
  document.pools = [creatures(6)];
  const blocks = blocksInOrder(document);
  const actions = fc.array(
    actionIn(
      blocks.map(({ id }) => id),
      aside.id,
    ),
    { minLength: 1, maxLength: 3 },
  );
  const rules = (level: string, most: number): fc.Arbitrary<Rule[]> =>
    fc
      .array(
        fc
          .tuple(trigger, fc.option(condition, { nil: undefined }), actions)
          .map(([when, only, does]) => ({ when, does, only })),
        { maxLength: most },
      )
      .map((all) =>
        all.map(({ when, does, only }, index): Rule => ({
          id: `${level}-${index}`,
          name: "",
          when,
          do: does,
          ...maybe("if", only),
        })),
      );
  return fc
    .tuple(
      rules("study", 3),
      rules("block", 5),
      rules("scene", 3),
      criterion(aside.id),
      rules("page", 2),
      again,
      follows,
      draws,
    )
    .map(([ofStudy, ofBlock, ofScene, until, ofPage, comes, by, once]): StudyDocument => ({
      ...document,
      rules: ofStudy,
      parts: Object.fromEntries(
        Object.entries(document.parts).map(([id, part], index) => [
          id,
          part.kind === "page"
            ? { ...part, rules: ofPage.map((rule) => ({ ...rule, id: `${id}-${rule.id}` })) }
            : {
                ...part,
                rules: ofBlock.map((rule) => ({ ...rule, id: `${id}-${rule.id}` })),
                ...maybe("criterion", index % 2 === 0 ? undefined : until),
                order: { ...part.order, ...maybe("again", comes) },
                table: filledIn(part.table, index, by, once),
                scenes: part.scenes.map((scene, at) =>
                  at === 0 ? { ...scene, rules: ofScene.map((rule) => ({ ...rule, id: `${id}-${rule.id}` })) } : scene,
                ),
              },
        ]),
      ) as StudyDocument["parts"],
    }));
});
