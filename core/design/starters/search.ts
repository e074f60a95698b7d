import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, feedback, filled, fixation, keyAnswer, ref, type Starter } from "./starter";

export const search: Starter = {
  id: "search",
  title: "The tilted buoy",
  measures: "Search among others: how the time to find a target grows with the number of things around it.",
  make: (newId) => {
    const cells = [4, 8, 12].flatMap((count) => [true, false].map((present) => ({ count, present })));
    const count = filled(
      newId,
      "count",
      "number",
      true,
      cells.map((each) => each.count),
    );
    const present = filled(
      newId,
      "present",
      "yes-no",
      true,
      cells.map((each) => each.present),
    );
    const key = filled(
      newId,
      "key",
      "text",
      false,
      cells.map((each) => (each.present ? "j" : "f")),
    );
    const buoys = {
      ...newItem(newId, "array", "buoys"),
      arrangement: "scattered",
      size: { w: 110, h: 80 },
      count: ref(count),
      element: 9,
      distance: 14,
      present: ref(present),
      target: { form: "line", color: "#a3460f", picture: "", text: "", turned: 35 },
      others: { form: "line", color: "#a3460f", picture: "", text: "", turned: 0 },
    } as Item;
    const display: Scene = {
      id: newId("scene"),
      name: "buoys",
      lasts: { kind: "until-answer", atMostMs: 5000 },
      items: [buoys],
    };
    return {
      instructions: [
        "Among upright buoys one may be tilted. Press J when you see a tilted one and F when there is none.",
        "Answer as fast as you can without making mistakes.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Buoys",
          [count, present, key],
          4,
          [fixation(newId), display, feedback(newId)],
          [keyAnswer(newId, display, ["f", "j"], ref(key))],
        ),
      ],
    };
  },
};
