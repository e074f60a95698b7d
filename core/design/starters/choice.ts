import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, feedback, filled, fixation, keyAnswer, ref, type Starter } from "./starter";

export const choice: Starter = {
  id: "choice",
  title: "Which way the boat goes",
  measures:
    "Choice between two: how fast and how surely a direction is told, on the side it points to or on the other.",
  make: (newId) => {
    const directions = ["left", "right"].flatMap((direction) => ["left", "right"].map((side) => ({ direction, side })));
    const direction = filled(
      newId,
      "direction",
      "text",
      true,
      directions.map((each) => each.direction),
    );
    const side = filled(
      newId,
      "side",
      "text",
      true,
      directions.map((each) => each.side),
    );
    const turn = filled(
      newId,
      "turn",
      "number",
      false,
      directions.map((each) => (each.direction === "left" ? 180 : 0)),
    );
    const x = filled(
      newId,
      "x",
      "number",
      false,
      directions.map((each) => (each.side === "left" ? -28 : 28)),
    );
    const key = filled(
      newId,
      "key",
      "text",
      false,
      directions.map((each) => (each.direction === "left" ? "f" : "j")),
    );
    const boat = {
      ...newItem(newId, "shape", "boat"),
      form: "arrow",
      at: { x: ref(x), y: 0 },
      turned: ref(turn),
      size: { w: 18, h: 12 },
      fill: "#0e5a4e",
    } as Item;
    const target: Scene = {
      id: newId("scene"),
      name: "boat",
      lasts: { kind: "until-answer", atMostMs: 1500 },
      items: [boat],
    };
    return {
      instructions: [
        "Look at the cross. Then a boat appears. Press F when it points to the left and J when it points to the right, wherever it is.",
        "Answer as fast as you can without making mistakes.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Boats",
          [direction, side, turn, x, key],
          5,
          [fixation(newId), target, feedback(newId)],
          [keyAnswer(newId, target, ["f", "j"], ref(key))],
        ),
      ],
    };
  },
};
