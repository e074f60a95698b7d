import { newItem } from "../../items/item";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { blockOfTrials, filled, fixation, keyAnswer, ref, type Starter } from "./starter";

export const goOrWait: Starter = {
  id: "go-or-wait",
  title: "Harbour lights",
  measures: "Go or wait: how fast a frequent signal is answered, and how often an answer is held back at a rare one.",
  make: (newId) => {
    const light = filled(newId, "light", "text", true, ["green", "green", "green", "red"]);
    const color = filled(newId, "color", "color", false, ["#009e73", "#009e73", "#009e73", "#d55e00"]);
    const lamp = {
      ...newItem(newId, "shape", "lamp"),
      form: "ellipse",
      size: { w: 22, h: 22 },
      fill: ref(color),
    } as Item;
    const signal: Scene = {
      id: newId("scene"),
      name: "light",
      lasts: { kind: "until-answer", atMostMs: 900 },
      items: [lamp],
    };
    return {
      instructions: [
        "You are a ferry's pilot. When the light is green, press the space bar as fast as you can.",
        "When it is red, wait and press nothing.",
      ],
      blocks: [
        blockOfTrials(
          newId,
          "Lights",
          [light, color],
          6,
          [fixation(newId), signal],
          [keyAnswer(newId, signal, ["Space"], undefined)],
        ),
      ],
    };
  },
};
