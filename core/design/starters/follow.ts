import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, filled, fixation, keyAnswer, ref, said, type Starter } from "./starter";

const steps = 8;

export const follow: Starter = {
  id: "follow",
  title: "The ferry in the fog",
  measures:
    "Follow a moving thing: how well the moment is met at which something that moved out of sight would come out again.",
  make: (newId) => {
    const pace = filled(newId, "step_ms", "number", true, [120, 180, 240]);
    const ferry = (x: number): Item =>
      ({
        ...newItem(newId, "shape", "ferry"),
        form: "rectangle",
        at: { x, y: 0 },
        size: { w: 10, h: 6 },
        fill: "#0e5a4e",
      }) as Item;
    const fog = (): Item =>
      ({
        ...newItem(newId, "shape", "fog"),
        form: "rectangle",
        at: { x: 32, y: 0 },
        size: { w: 40, h: 30 },
        fill: "#c9c4b6",
      }) as Item;
    const moves = Array.from({ length: steps }, (_, index): Scene => ({
      id: newId("scene"),
      name: `step ${index + 1}`,
      lasts: { kind: "ms", ms: ref(pace) },
      items: [ferry(-70 + index * 10), fog()],
    }));
    const hidden: Scene = {
      id: newId("scene"),
      name: "fog",
      lasts: { kind: "until-answer", atMostMs: 4000 },
      items: [fog(), { ...said(newId, "hint", "now?", 4), at: { x: 32, y: -24 } }],
    };
    return {
      instructions: [
        "A ferry crosses the harbour at a steady pace and goes into the fog.",
        "Press the space bar at the moment at which it would come out on the other side. Four steps of its way lie in the fog.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Ferries",
          [pace],
          6,
          [fixation(newId), ...moves, hidden],
          [keyAnswer(newId, hidden, ["Space"], undefined)],
        ),
      ],
    };
  },
};
