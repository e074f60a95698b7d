import { describe, expect, it } from "vitest";
import { pageOf, question, studyOfPages } from "~/tests/support/forms";
import { countedIds } from "~/tests/support/studies";
import { plainText } from "../../values/formatted-text";
import type { StudyDocument } from "../document";
import type { Page, Piece } from "../page";
import { questionsOf } from "../questions";
import { parseStudy } from "../parse";
import { usesOfQuestion, usesOfScore } from "../uses-of-answers";
import { applyEdit, type Edit } from "./edit";
import {
  addPiece,
  addScore,
  copiedPiece,
  movePiece,
  newSet,
  removeFromSet,
  removePiece,
  setFlow,
  setQuestion,
} from "./page";

const said = (text: string): Piece => ({ kind: "text", id: "t", text: plainText(text) });
const [heron, gull] = [question("scale", "heron"), question("number", "gull")];
const study = () => studyOfPages([pageOf("p", [said("Hello"), heron, gull])]);
const after = (document: StudyDocument, edit: Edit) => {
  const { document: next, patches } = applyEdit(document, edit);
  const page = next.parts["p"] as Page;
  return { next, patches, flow: page.flow, ids: page.flow.map(({ id }) => id) };
};

describe("a page's flow", () => {
  it("gets, moves and loses pieces", () => {
    expect(after(study(), addPiece("p", question("date", "day"), heron.id)).ids).toEqual([
      "t",
      heron.id,
      "q-day",
      gull.id,
    ]);
    expect(after(study(), addPiece("p", question("date", "day"), null)).ids.at(-1)).toBe("q-day");
    expect(after(study(), movePiece("p", gull.id, 0)).ids).toEqual([gull.id, "t", heron.id]);
    expect(after(study(), removePiece("p", heron.id)).ids).toEqual(["t", gull.id]);
  });

  it("changes only where something was written, so that a keystroke is a small patch", () => {
    const { flow } = study().parts["p"] as Page;
    const written = flow.map((piece) =>
      piece.id === heron.id ? { ...piece, text: plainText("How many herons?") } : piece,
    );
    const { patches } = after(study(), setFlow("p", written as Piece[]));
    expect(patches.map(({ path }) => path.slice(0, 5))).toEqual([["parts", "p", "flow", 1, "text"]]);
    expect(after(study(), setFlow("p", flow)).patches).toEqual([]);
  });

  it("has questions of a set changed and removed where they stand", () => {
    const document = after(
      study(),
      addPiece("p", newSet(countedIds(), "Birds", [question("scale", "tern")]), null),
    ).next;
    const named = after(document, setQuestion("p", "q-tern", { name: "sandwich_tern" }));
    expect(questionsOf(named.next.parts["p"] as Page).map(({ name }) => name)).toEqual([
      "heron",
      "gull",
      "sandwich_tern",
    ]);
    expect(after(document, removeFromSet("p", "set-1", "q-tern")).flow.at(-1)).toMatchObject({ questions: [] });
  });

  it("is copied with ids and names of its own", () => {
    const set = newSet(countedIds(), "Birds", [question("scale", "tern"), question("scale", "ruff")]);
    const document = after(study(), addPiece("p", set, null)).next;
    const copy = copiedPiece(set, document, (prefix) => `${prefix}-copy-${Math.random().toString(36).slice(2)}`);
    expect(copy.questions.map(({ name }) => name)).toEqual(["tern_2", "ruff_2"]);
    const { next } = after(document, addPiece("p", copy, null));
    expect(parseStudy(JSON.parse(JSON.stringify(next))).ok).toBe(true);
  });
});

it("says where an answer and a score are used before they go", () => {
  const asking = pageOf("q", [
    {
      kind: "text",
      id: "t",
      text: [{ as: "paragraph", runs: [{ ref: { question: heron.id } }, { ref: { score: "s" } }] }],
    },
    question("date", "day", { when: { left: { from: { question: heron.id } }, is: ">", right: 3 } }),
  ]);
  const { next } = after(
    studyOfPages([pageOf("p", [heron, gull]), asking]),
    addScore({ id: "s", name: "birds", of: "sum", from: [{ question: heron.id }], atLeast: 1 }),
  );
  expect(usesOfQuestion(next, heron.id)).toEqual([
    expect.stringContaining("page “Page q”"),
    expect.stringMatching(/question “day”.*condition/),
    "score “birds”",
  ]);
  expect(usesOfQuestion(next, gull.id)).toEqual([]);
  expect(usesOfScore(next, "s")).toHaveLength(1);
});
