import type { Rule } from "../rules/rule";
import { newRule } from "../rules/rule";
import { freeName, freeTitle } from "../values/names";
import { plainText } from "../values/formatted-text";
import type { Id, NewId } from "../values/ref";
import { mediaKind } from "../media/types";
import { newTextItem } from "../items/text/text";
import type { RulePlace } from "./all-rules";
import type { Block } from "./block";
import type { StudyDocument } from "./document";
import { addRules, addVariable, asidePage } from "./edits/rules";
import { addScene } from "./edits/scenes";
import { together, type Edit } from "./edits/edit";
import { namesEverywhere } from "./names-in-reach";
import { newPage } from "./page";
import { newScene } from "./scene";

/** A common rule, whole: what it says, and the edit that adds it with what it needs. */
export type ReadyRule = {
  says: string;
  /** Why it cannot be had here; null where it can. */
  missing: string | null;
  make: (newId: NewId) => { edit: Edit; rule: Id };
};

const lastRight = { from: { builtIn: "last.right" } };

/** The common rules for the trials of a block, each one click. */
export function readyRules(document: StudyDocument, block: Block): ReadyRule[] {
  const place: RulePlace = { part: block.id, scene: null };
  const hasRight = block.answers.some(({ right }) => right !== undefined);
  const noRight = hasRight ? null : "say first which answer is right";
  const sound = document.media.find(({ mime }) => mediaKind(mime) === "sound");
  const added = (rules: Rule[], ...before: Edit[]) => ({
    edit: together(...before, addRules(place, ...rules)),
    rule: rules[0]?.id ?? "",
  });
  return [
    {
      says: "A sound when an answer is wrong",
      missing: noRight ?? (sound ? null : "add a sound to the study’s media first"),
      make: (newId) =>
        added([newRule(newId, { on: "answer", how: "wrong" }, { do: "sound", file: sound?.id ?? "", volume: 100 })]),
    },
    {
      says: "A point for each right answer, one less for each wrong one",
      missing: noRight,
      make: (newId) => {
        const name = freeName("points", namesEverywhere(document, null));
        const variable = newId("variable");
        const what = { variable };
        return added(
          [
            newRule(newId, { on: "answer", how: "right" }, { do: "add", what, to: 1 }),
            newRule(newId, { on: "answer", how: "wrong" }, { do: "add", what, to: -1 }),
          ],
          addVariable({ id: variable, name, type: "number", start: 0 }),
        );
      },
    },
    {
      says: "“Too slow” after an answer above a time",
      missing: block.answers.length > 0 ? null : "the block takes no answer",
      make: (newId) => {
        const scene = {
          ...newScene(
            newId,
            freeTitle(
              "too slow",
              block.scenes.map(({ name }) => name),
            ),
          ),
          // It comes only where a rule sends the trial to it.
          when: { left: false, is: "=" as const, right: true },
          items: [newTextItem(newId, "too slow", "Too slow")],
        };
        const slow: Rule = {
          ...newRule(newId, { on: "answer", how: "given" }, { do: "go-to-scene", scene: scene.id }),
          if: { left: { from: { builtIn: "last.rt_ms" } }, is: ">", right: 1000 },
        };
        return added([slow], addScene(block.id, scene, block.scenes.at(-1)?.id ?? null));
      },
    },
    {
      says: "The instructions again after three wrong answers in a row",
      missing: noRight,
      make: (newId) => {
        const there = Object.values(document.parts).find((part) => part.kind === "page");
        const page = there ?? newPage(newId, "How to answer", plainText("Write here how to answer."));
        const again: Rule = {
          ...newRule(newId, { on: "trial-ends" }, { do: "page", page: page.id }),
          if: { left: { from: { builtIn: "block.wrong_in_a_row" } }, is: "=", right: 3 },
        };
        return there ? added([again]) : added([again], asidePage(page));
      },
    },
    {
      says: "The block ends after so many minutes",
      missing: null,
      make: (newId) => {
        const over: Rule = {
          ...newRule(newId, { on: "trial-ends" }, { do: "end-block" }),
          if: { left: { from: { builtIn: "block.minutes" } }, is: "≥", right: 5 },
        };
        return added([over]);
      },
    },
    {
      says: "Trials with a wrong answer come again at the end",
      missing: noRight,
      make: (newId) => {
        const again: Rule = {
          ...newRule(newId, { on: "trial-ends" }, { do: "repeat-trial", most: 3 }),
          if: { left: lastRight, is: "≠", right: true },
        };
        return added([again]);
      },
    },
  ];
}
