import { newAdaptive } from "../../adaptive/new";
import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, filled, fixation, keyAnswer, ref, type Starter } from "./starter";

export const threshold: Starter = {
  id: "threshold",
  title: "The faintest lamp",
  measures:
    "A threshold: how faint a lamp may be and still be seen, by a staircase that follows the answers, for each side by itself.",
  make: (newId) => {
    const sides = ["left", "right"];
    const side = filled(newId, "side", "text", true, sides);
    const x = filled(newId, "x", "number", false, [-24, 24]);
    const key = filled(newId, "key", "text", false, ["f", "j"]);
    const by = {
      ...newAdaptive("staircase", 1, 60),
      ...{ scale: "logarithmic" as const, curve: "weibull" as const, steps: [0.2, 0.1, 0.05], easierBy: 1.8 },
      ...{ spreadFrom: 0.1, spreadTo: 0.5, endReversals: 8 },
    };
    const brightness = {
      column: { ...filled(newId, "brightness", "number", false, []).column, follows: { by, each: side.column.id } },
      values: [null, null],
    };
    const lamp = {
      ...newItem(newId, "shape", "lamp"),
      form: "ellipse",
      at: { x: ref(x), y: 0 },
      size: { w: 7, h: 7 },
      fill: "#17211e",
      opacity: ref(brightness),
    } as Item;
    const shown: Scene = { id: newId("scene"), name: "lamp", lasts: { kind: "ms", ms: 200 }, items: [lamp] };
    const dark: Scene = {
      id: newId("scene"),
      name: "dark",
      lasts: { kind: "until-answer", atMostMs: 2500 },
      items: [],
    };
    return {
      instructions: [
        "Look at the cross. Then a lamp appears for a moment, on the left or on the right. Press F where it was on the left and J where it was on the right.",
        "It becomes fainter the better you see it. Guess where you saw nothing.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Lamps",
          [side, x, key, brightness],
          40,
          [fixation(newId), shown, dark],
          [{ ...keyAnswer(newId, dark, ["f", "j"], ref(key)), opensWith: shown.id }],
        ),
      ],
    };
  },
};
