import type { Block } from "~/core/design/block";
import { itemsIn } from "~/core/design/lookup";
import { markedInWords } from "~/core/describe/markers";
import type { AnyMarker } from "~/core/markers/marker";
import { isByte } from "~/core/markers/marker";
import type { ValuedMarker } from "~/core/check/markers";

type At = AnyMarker["at"];
/** Something a marker can mark: what it is called in the menu, and what such a marker is named after. */
export type MarkerChoice = { at: At; says: string; name: string };

const choice = (at: At, block: Block | null, name: string): MarkerChoice => ({
  at,
  says: markedInWords({ at }, block),
  name: name.slice(0, 60),
});

/** What can be marked in a session. */
export const ofSession: readonly MarkerChoice[] = [
  choice({ on: "session-begins" }, null, "session"),
  choice({ on: "session-ends" }, null, "end of session"),
];

/** What can be marked in a block, by kind. */
export const ofBlock = (block: Block): readonly (readonly [string, readonly MarkerChoice[]])[] => [
  ["Scenes", block.scenes.map(({ id, name }) => choice({ on: "scene-begins", scene: id }, block, name))],
  [
    "Answers",
    block.answers.flatMap(({ id, name }) => [
      choice({ on: "answer", answer: id, how: "given" }, block, name),
      choice({ on: "answer", answer: id, how: "right" }, block, `${name} right`),
      choice({ on: "answer", answer: id, how: "wrong" }, block, `${name} wrong`),
    ]),
  ],
  ["Items", itemsIn(block).map(({ id, name }) => choice({ on: "item-begins", item: id }, block, name))],
  [
    "Trial and block",
    [
      choice({ on: "trial-begins" }, block, "trial"),
      choice({ on: "trial-ends" }, block, "end of trial"),
      choice({ on: "block-begins" }, block, block.name),
      choice({ on: "block-ends" }, block, `end of ${block.name}`),
    ],
  ],
];

/** The smallest number from 1 to 255 that no marker has; 255 where all are taken. */
export function freeValue(all: readonly ValuedMarker[]): number {
  const taken = new Set(
    all.flatMap(({ values }) => values.flatMap((value) => (value && isByte(value) ? [Number(value)] : []))),
  );
  for (let value = 1; value < 255; value++) if (!taken.has(value)) return value;
  return 255;
}
