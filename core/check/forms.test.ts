import { expect, it } from "vitest";
import { everyKind, pageOf, question, studyOfPages } from "~/tests/support/forms";
import type { StudyDocument } from "../design/document";
import type { Page } from "../design/page";
import { preflight } from "./preflight";

const found = (document: StudyDocument) =>
  preflight(document).map(({ level, where, message }) => `${level}: ${where}: ${message}`);
const onPage = (flow: Page["flow"], more: Partial<Page> = {}) => found(studyOfPages([pageOf("p", flow, more)]));

it("finds nothing wrong with a fresh question of any kind", () =>
  expect(found(everyKind()).filter((each) => !each.startsWith("note"))).toEqual([]));

it.each<[string, string[], RegExp]>([
  [
    "one option",
    onPage([question("one-of", "bird", { options: [{ id: "a", label: "a" }] })]),
    /question “bird”: It has fewer than two options/,
  ],
  [
    "two options of one value",
    onPage([
      question("ranking", "best", {
        options: [
          { id: "a", label: "x" },
          { id: "b", label: "y", value: "X" },
        ],
      }),
    ]),
    /Two options have “X” in the data/,
  ],
  [
    "a missing picture",
    onPage([{ kind: "picture", id: "i", file: "", width: 50, says: "" }]),
    /error: .*No file is chosen for the picture/,
  ],
  [
    "a page elsewhere",
    onPage([{ kind: "site", id: "i", address: "http://tides.example/", width: 50, height: 100 }]),
    /warning: .*needs the network .* learns their internet address\. Browsers do not show/,
  ],
  [
    "an answer that comes later",
    onPage([
      question("scale", "first", { when: { left: { from: { question: "q-second" } }, is: "=", right: 1 } }),
      question("scale", "second"),
    ]),
    /question “first”: It is shown by the answer to a question that comes after it/,
  ],
  [
    "an answer that is gone",
    onPage([question("scale", "first", { when: { left: { from: { question: "gone" } }, is: "=", right: 1 } })]),
    /error: .*removed/,
  ],
  [
    "a time that cannot be",
    onPage([], { time: { least: 20, most: 10, countdown: false } }),
    /shortest time is not shorter/,
  ],
  [
    "an empty list",
    onPage([{ kind: "set", id: "s", name: "Birds", questions: [], order: "listed" }]),
    /“Birds” has no questions/,
  ],
  [
    "more drawn than there are",
    onPage([{ kind: "set", id: "s", name: "Birds", questions: [question("scale", "a")], take: 2, order: "listed" }]),
    /2 questions are to be drawn of the 1/,
  ],
  [
    "more text than is sent at once",
    onPage(Array.from({ length: 160 }, (_, at) => question("long-text", `t${at}`, { most: 20_000 }))),
    /Divide it into several pages/,
  ],
  [
    "a score of a question without a right answer",
    found(
      studyOfPages([pageOf("p", [question("scale", "a")])], {
        scores: [{ id: "s", name: "known", of: "share-right", from: [{ question: "q-a" }], atLeast: 1 }],
      }),
    ),
    /score “known”: It counts right answers, and one of its questions has none/,
  ],
  [
    "a name that the sessions have",
    onPage([question("scale", "browser")]),
    /The sessions in the exported data have a column “browser”/,
  ],
])("finds %s", (_, findings, expected) => expect(findings.join("\n")).toMatch(expected));
