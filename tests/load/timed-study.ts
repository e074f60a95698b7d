import { newKeys } from "~/core/devices/keys/keys";
import { newShapeItem } from "~/core/items/shape/shape";
import { newTextItem } from "~/core/items/text/text";
import { newImageItem } from "~/core/items/image/image";
import type { Block } from "~/core/design/block";
import type { Scene } from "~/core/design/scene";
import type { StudyDocument } from "~/core/design/document";
import type { Rule } from "~/core/rules/rule";
import { plainStudy, withBlock } from "~/tests/support/studies";

let count = 0;
const id = (prefix: string) => `${prefix}-t${++count}`;

/** Times of scenes: whole frames at 60 Hz, from 50 to 500 ms. */
export const lengths = [50, 50, 100, 100, 150, 200, 300, 500];

/** So many rules on the trial, as asked for from outside: `LAPWING_RULES=30`. */
const rulesAsked = Number(process.env.LAPWING_RULES ?? 0);

/** Rules that are looked at with every scene and answer; half of them do something, and one moves an item in its frame. */
function withRules(document: StudyDocument, block: Block): void {
  if (rulesAsked === 0) return;
  const sum = id("variable");
  const moved = block.scenes.flatMap(({ items }) => items)[0]?.id;
  document.variables = [{ id: sum, name: "sum_so_far", type: "number", start: 0 }];
  block.rules = Array.from({ length: rulesAsked }, (_, index): Rule => ({
    id: id("rule"),
    name: "",
    when:
      index % 3 === 0 && block.answers.length > 0
        ? { on: "answer", how: "given" }
        : { on: index % 3 === 1 ? "scene-begins" : "scene-ends" },
    if: { left: { from: { builtIn: "session.trials_done" } }, is: index % 2 === 0 ? "≥" : "<", right: 0 },
    do: [{ do: "add", what: { variable: sum }, to: 1 }],
  }));
  if (moved !== undefined)
    block.rules.push({
      id: id("rule"),
      name: "",
      when: { on: "scene-begins" },
      do: [{ do: "item", item: moved, property: "turned", to: { from: { variable: sum } } }],
    });
}

/**
 * A study of scenes with times of their own: four a trial, each with a text, a shape and (where `pictures` names media)
 * a picture, all different from the one before.
 */
export function presentationStudy(trials: number, pictures: string[] = []): StudyDocument {
  return withBlock(plainStudy(), (block: Block, document) => {
    const columns = ["one", "two", "three", "four"].map((name) => ({ id: id("column"), name }));
    block.table = {
      columns: columns.map(({ id, name }) => ({ id, name: `ms_${name}`, type: "number", factor: false })),
      rows: lengths.map((_, row) => ({
        id: id("row"),
        copies: 1,
        cells: Object.fromEntries(
          columns.map((column, position) => [column.id, lengths[(row + position * 3) % lengths.length] ?? 100]),
        ),
      })),
    };
    block.scenes = columns.map(({ id: column, name }, index): Scene => ({
      id: id("scene"),
      name,
      lasts: { kind: "ms", ms: { from: { column } } },
      items: [
        {
          ...newShapeItem(id, "disc"),
          at: { x: -20 + index * 12, y: 10 },
          fill: ["#2e7d8c", "#a3460f", "#4b3fa0", "#17211e"][index] ?? "#000000",
        },
        { ...newTextItem(id, "word", `Scene ${name}`), at: { x: 0, y: -20 } },
        ...(pictures.length > 0
          ? [{ ...newImageItem(id, "picture", pictures[index % pictures.length] ?? ""), at: { x: 30, y: 20 } }]
          : []),
      ],
    }));
    block.answers = [];
    block.order = { method: "shuffled", passes: Math.ceil(trials / lengths.length), limits: [] };
    withRules(document, block);
  });
}

/** A study in which every trial waits a random time and then for one key. */
export function keyStudy(trials: number): StudyDocument {
  return withBlock(plainStudy(), (block: Block, document) => {
    const target = id("scene");
    block.table = { columns: [], rows: [{ id: id("row"), copies: 1, cells: {} }] };
    block.scenes = [
      { id: id("scene"), name: "wait", lasts: { kind: "random-ms", from: 50, to: 150, step: 10 }, items: [] },
      {
        id: target,
        name: "target",
        lasts: { kind: "until-answer", atMostMs: 3000 },
        items: [newTextItem(id, "word", "Now")],
      },
    ];
    block.answers = [
      {
        id: id("answer"),
        name: "answer",
        opensWith: target,
        closesWith: target,
        by: [newKeys(["f"])],
        match: "exact",
        counts: "first",
        onAnswer: "move-on",
        onEarly: "go-on",
      },
    ];
    block.order = { method: "as-listed", passes: Math.min(1000, trials), limits: [] };
    withRules(document, block);
    block.table.rows = Array.from({ length: Math.ceil(trials / 1000) }, () => ({
      id: id("row"),
      copies: 1,
      cells: {},
    }));
  });
}
