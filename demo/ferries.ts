import { newPage } from "../core/design/page";
import { newCriterion } from "../core/rules/criterion";
import { newRule } from "../core/rules/rule";
import { addRules, addVariable, asidePage, setCriterion } from "../core/design/edits/rules";
import type { NewId } from "../core/values/ref";
import { applyEdit, together, type Edit } from "../core/design/edits/edit";
import { addPart, copyPart, sameBlockAgain, setBlock, setOrder, setPart } from "../core/design/edits/parts";
import { bracketRound } from "../core/design/edits/running-order";
import { addGroup, addGroupValue, renameGroup, setAbout } from "../core/design/edits/study";
import { blocksInOrder, partsInOrder } from "../core/design/lookup";
import { choice } from "../core/design/starters/choice";
import { studyFrom } from "../core/design/starters/starter";
import type { StudyDocument } from "../core/design/document";

/**
 * A draft with two groups, practice made from the main block and repeated until good enough, with rules, and three blocks in a Latin square between fixed pages, each
 * with two limits on its order: what Plan is for, in one study.
 */
export function ferries(): StudyDocument {
  let count = 0;
  const id: NewId = (prefix) => `${prefix}-${++count}`;
  let document = studyFrom(choice, id, "Ferries in the fog", "5A77");
  const edit = (...edits: Edit[]) => void (document = applyEdit(document, together(...edits)).document);
  const main = blocksInOrder(document)[0];
  const welcome = partsInOrder(document)[0];
  const [direction, side] = main?.table.columns ?? [];
  if (!main || !welcome || !direction || !side) throw new Error("The starter has lost its block");
  edit(
    setAbout({ description: "Does fog cost more when a ferry comes from the side it does not point to?" }),
    renameGroup(document.groups[0]?.id ?? "", "Dawn"),
    addGroup({ id: "dusk", name: "Dusk" }),
    addGroupValue({
      id: "fog",
      name: "fog_lifts",
      type: "text",
      perGroup: { [document.groups[0]?.id ?? ""]: "slowly", dusk: "at once" },
    }),
    setPart(main.id, { name: "Clear water" }),
    setOrder(main.id, {
      passes: 2,
      limits: [
        { kind: "longest-run", columns: [direction.id], most: 2 },
        { kind: "smallest-gap", columns: [], atLeast: 1 },
      ],
    }),
    copyPart(main.id, "mist"),
    setPart("mist", { name: "Thin mist" }),
    copyPart("mist", "fog-bank"),
    setPart("fog-bank", { name: "Fog bank" }),
    sameBlockAgain(main.id, "practice"),
    setPart("practice", { name: "Practice" }),
    setBlock("practice", { practice: true }),
    setOrder("practice", { passes: 1, limits: [] }),
  );
  const how = newPage(id, "How to answer", [
    { as: "heading", runs: [{ text: "How to answer" }] },
    {
      as: "paragraph",
      runs: [{ text: "In this part the fog lifts " }, { ref: { groupValue: "fog" } }, { text: "." }],
    },
  ]);
  edit(addPart(how, welcome.id));
  // The practice stands after the page that explains it, before the bracket.
  document = {
    ...document,
    runningOrder: [
      ...[welcome.id, how.id, "practice", main.id, "mist", "fog-bank"].map((part) => ({ kind: "part" as const, part })),
      ...document.runningOrder.slice(-1),
    ],
  };
  const once = newPage(id, "Once more", [
    { as: "heading", runs: [{ text: "Once more" }] },
    { as: "paragraph", runs: [{ text: "Press the key for the side the ferry points to, wherever it comes from." }] },
  ]);
  const points = { variable: "points" };
  edit(
    asidePage(once),
    addVariable({ id: points.variable, name: "points", type: "number", start: 0 }),
    addRules(
      { part: "practice", scene: null },
      newRule(id, { on: "answer", how: "right" }, { do: "add", what: points, to: 1 }),
      newRule(id, { on: "answer", how: "wrong" }, { do: "add", what: points, to: -1 }),
      {
        ...newRule(id, { on: "trial-ends" }, { do: "page", page: how.id }),
        if: { left: { from: { builtIn: "block.wrong_in_a_row" } }, is: "=", right: 3 },
      },
    ),
    setCriterion("practice", { ...newCriterion, trials: 12, before: once.id }),
  );
  edit(bracketRound([main.id, "fog-bank"], "bracket-1", "latin-square"));
  return document;
}
