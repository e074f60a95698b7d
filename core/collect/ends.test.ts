import { describe, expect, it } from "vitest";
import {
  addressProblem,
  codesIn,
  ends,
  endsProblem,
  filledAddress,
  parametersOf,
  shownEnd,
  type Filling,
} from "./ends";

const filling = (more: Partial<Filling> = {}): Filling => ({
  "participant.code": "knot 7",
  "session.code": "ABCD",
  link: { visit: "a&b", "made.up": "1" },
  ...more,
});

describe("a return address", () => {
  it.each<[string, string]>([
    ["https://panel.example/back", "https://panel.example/back"],
    [" https://panel.example/back?who={{participant.code}} ", "https://panel.example/back?who=knot%207"],
    ["https://panel.example/{{ link.visit }}/{{session.code}}", "https://panel.example/a%26b/ABCD"],
    ["https://panel.example/?v={{link.made.up}}&o={{link.other}}", "https://panel.example/?v=1&o="],
  ])("%s is filled in", (address, filled) => {
    expect(filledAddress(address, filling())).toBe(filled);
  });

  it("leaves out what is not known", () => {
    const nobody = filling({ "participant.code": null, "session.code": null, link: {} });
    expect(filledAddress("https://a.example/?p={{participant.code}}&s={{session.code}}&v={{link.visit}}", nobody)).toBe(
      "https://a.example/?p=&s=&v=",
    );
  });

  it("does not let what a link brings lead elsewhere", () => {
    const link = { visit: "//elsewhere.example/?x=1#" };
    expect(new URL(filledAddress("https://a.example/{{link.visit}}", filling({ link }))).host).toBe("a.example");
  });

  it.each<[string, RegExp | null]>([
    ["https://panel.example/back?visit={{link.visit}}", null],
    ["http://localhost:4700/back?p={{participant.code}}", null],
    ["panel.example/back", /begins with https/],
    ["javascript:alert(1)", /begins with https/],
    ["https://panel.example/a b", /begins with https/],
    ["https://panel.example/{{participant.name}}", /“{{participant.name}}” is not known/],
    ["https://panel.example/{{link.}}", /is not known/],
    ["https://panel.example/{participant.code}", /two braces/],
    ["https://panel.example/{{participant.code", /two braces/],
    ["https://{{link.visit}}/back", /name of the server/],
    ["https://{{link.visit}}.example/back", /name of the server/],
    ["", /begins with https/],
  ])("%s: %s", (address, problem) => {
    if (problem === null) expect(addressProblem(address)).toBeNull();
    else expect(addressProblem(address)).toMatch(problem);
  });
});

it("knows which parameters of the link its addresses ask for", () => {
  expect(
    parametersOf({
      finished: { address: "https://a.example/?v={{link.visit}}&p={{participant.code}}" },
      full: { address: "https://a.example/?w={{link.wish}}" },
    }),
  ).toEqual(["visit", "wish"]);
  expect(parametersOf(undefined)).toEqual([]);
});

it("shows what it says, or leaves that to the study", () => {
  expect(shownEnd({ says: "  ", address: "https://a.example/{{session.code}}" }, "K1", filling())).toEqual({
    says: null,
    code: "K1",
    address: "https://a.example/ABCD",
  });
});

it.each<[object, boolean]>([
  [{}, true],
  [{ finished: { code: { kind: "same", code: "TIDE" } } }, true],
  [{ finished: { code: { kind: "same", code: "" } } }, false],
  [{ finished: { says: "x".repeat(2001) } }, false],
  [{ withdrawn: {} }, false],
  // Whoever comes when it is full has no session, and so no code of their own.
  [{ full: { code: { kind: "same", code: "FULL" } } }, true],
  [{ full: { code: { kind: "own" } } }, false],
  [{ full: { code: { kind: "listed" } } }, false],
])("has a form: %j", (value, fits) => {
  expect(ends.fits(value)).toBe(fits);
});

it("tells what is wrong with ends that have their form", () => {
  expect(endsProblem(undefined)).toBeNull();
  expect(endsProblem({ full: { code: { kind: "same", code: "FULL" } } })).toBeNull();
  expect(endsProblem({ declined: { address: "nowhere" } })).toMatch(/begins with https/);
  expect(endsProblem({ finished: { code: { kind: "same", code: "  " } } })).toBe("Type the code.");
});

it("reads codes one a line, each once", () => {
  expect(codesIn("A1\r\n\n B2 \nA1\n")).toEqual({ codes: ["A1", "B2"] });
  expect(codesIn(" \n")).toEqual({ reason: "Paste one code a line." });
  expect(codesIn(`A1\n${"x".repeat(61)}`)).toEqual({ reason: "Code 2 has more than 60 characters." });
});
