import type { Pool } from "../../values/pool";
import {
  blockOfTrials,
  filled,
  fixation,
  keyAnswer,
  ref,
  rowsOf,
  shownText,
  type Filled,
  type Starter,
} from "./starter";
import type { Scene } from "../scene";
import type { NewId } from "../../values/ref";

const goods = {
  fruit: ["apple", "pear", "plum", "grape", "melon", "lemon", "cherry", "peach"],
  fish: ["trout", "herring", "salmon", "cod", "tuna", "eel", "plaice", "sardine"],
  bread: ["bun", "loaf", "roll", "bagel", "pretzel", "crispbread", "scone", "baguette"],
  flower: ["rose", "tulip", "daisy", "lily", "poppy", "violet", "iris", "aster"],
};
const kinds = Object.keys(goods) as (keyof typeof goods)[];

function poolOfGoods(newId: NewId): { pool: Pool; good: Filled; kind: Filled } {
  const all = kinds.flatMap((kind) => goods[kind].map((good) => [good, kind] as const));
  const good = filled(
    newId,
    "good",
    "text",
    false,
    all.map(([each]) => each),
  );
  const kind = filled(
    newId,
    "kind",
    "text",
    false,
    all.map(([, each]) => each),
  );
  const table = { columns: [good.column, kind.column], rows: rowsOf(newId, [good, kind], 1) };
  return { pool: { id: newId("pool"), name: "Goods", table }, good, kind };
}

export const remember: Starter = {
  id: "remember",
  title: "What was on the stalls",
  measures:
    "Memory: which goods were seen before, among new ones of the same kinds. Both are drawn from a pool, so that each good is old as often as any other.",
  make: (newId) => {
    const { pool, good, kind: kindOfGood } = poolOfGoods(newId);
    const drawn = (name: string): Filled => ({ column: filled(newId, name, "text", false, []).column, values: [] });
    const own = (kind: Filled) => ({
      pool: pool.id,
      takes: { is: "value" as const, column: good.column.id },
      where: [{ column: kindOfGood.column.id, to: ref(kind) }],
      once: "session" as const,
    });
    const kind = filled(newId, "kind", "text", true, kinds);
    const seen = drawn("good");
    seen.column.draws = own(kind);
    const shown: Scene = {
      id: newId("scene"),
      name: "stall",
      lasts: { kind: "ms", ms: 1500 },
      items: [shownText(newId, "good", seen)],
    };
    const learning = blockOfTrials(newId, "Learning", [kind, seen], 3, [fixation(newId), shown], []);
    const askedKind = filled(newId, "kind", "text", true, [...kinds, ...kinds]);
    const status = filled(newId, "status", "text", true, kinds.flatMap(() => ["old"]).concat(kinds.map(() => "new")));
    const key = filled(
      newId,
      "key",
      "text",
      false,
      status.values.map((each) => (each === "old" ? "j" : "f")),
    );
    const asked = drawn("good");
    asked.column.draws = {
      ...own(askedKind),
      before: { block: learning.id, shown: { column: status.column.id, is: "old" } },
    };
    const place = filled(newId, "shown_at", "number", false, []);
    place.column.draws = { with: asked.column.id, takes: { is: "position" } };
    const question: Scene = {
      id: newId("scene"),
      name: "question",
      lasts: { kind: "until-answer", atMostMs: 4000 },
      items: [shownText(newId, "good", asked)],
    };
    return {
      instructions: [
        "You walk along the stalls of a market. Look at each good and try to remember it.",
        "Then goods come again, among others. Press J for those you have seen, and F for new ones.",
      ],
      pools: [pool],
      blocks: [
        learning,
        blockOfTrials(
          newId,
          "Remembering",
          [status, askedKind, key, asked, place],
          3,
          [fixation(newId), question],
          [keyAnswer(newId, question, ["f", "j"], ref(key))],
        ),
      ],
    };
  },
};
