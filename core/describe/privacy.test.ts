import { describe, expect, it } from "vitest";
import { newGazeSettings } from "../design/settings";
import { plainStudy, withBlock } from "~/tests/support/studies";
import type { Participation } from "../design/participation";
import { itemKind } from "../items/registry";
import { privacyForEthics, privacyOf } from "./privacy";

const study = (change: Partial<Participation>) =>
  withBlock(plainStudy(), (_, copy) => void Object.assign(copy.settings.participation, change));
const said = (change: Partial<Participation>) =>
  privacyOf(study(change))
    .flatMap(({ sentences }) => sentences)
    .join(" ");

describe("what is kept, in words", () => {
  it("follows the study's settings", () => {
    expect(said({})).toMatch(/No name and no address\. A code only where the link/);
    expect(said({ ownCode: "must" })).toMatch(/The code they have to type/);
    expect(said({})).toMatch(/kept as long as the answers/);
    expect(said({ answersKeptYears: 10 })).toMatch(
      /Everything else is deleted for good 10 years after the wave was closed or, where it stays open, after its last session/,
    );
    expect(privacyForEthics(study({ answersKeptYears: 1 }))).toMatch(/deleted for good 1 year after your part/);
    expect(said({ namesKeptDays: 30 })).toMatch(
      /removed 30 days after the wave was closed or, where it stays open, after its last session/,
    );
    expect(said({ withdrawn: "remove" })).toMatch(/All of the session is removed at once/);
    expect(said({ withdrawn: "keep" })).toMatch(/What was answered until then is kept/);
  });

  it("says that nothing leaves the server, unless a page of the study does", () => {
    expect(said({})).toMatch(/Nothing\. Pages, fonts and media come from this server alone/);
    const reaching = withBlock(study({}), (block) => {
      const page = itemKind("web").make(
        (prefix) => `${prefix}-1`,
        "dial",
        () => "m",
      ) as never as { page: unknown };
      block.scenes[0]!.items.push({
        ...page,
        page: { from: "file", file: "m" },
        connects: ["https://tides.example.org"],
      } as never);
    });
    expect(JSON.stringify(privacyOf(reaching))).toContain("reach https://tides.example.org");
    expect(privacyForEthics(reaching)).toContain("are loaded from https://tides.example.org");
  });

  it("is a paragraph for an ethics form", () => {
    expect(privacyForEthics(study({ withdrawn: "remove", namesKeptDays: 30 }))).toMatch(
      /not recorded\..*not passed to anyone else.*deleted 30 days after.*deleted at once\.$/,
    );
  });
});

it("tells what variables take from the link", () => {
  const study = plainStudy();
  const kept = () => privacyOf(study)[0]?.sentences.join(" ") ?? "";
  expect(kept()).not.toMatch(/link they came by says/);
  study.variables = [{ id: "v", name: "level", type: "number", start: 0, from: { urlParameter: "level" } }];
  expect(kept()).toMatch(/What the link they came by says as “level”/);
});

it("tells that people were given links of their own, where they were", () => {
  const told = (arePersonal: boolean) => {
    const links = { arePersonal, ends: [] };
    return [JSON.stringify(privacyOf(plainStudy(), links)), privacyForEthics(plainStudy(), links)];
  };
  expect(told(false).join()).not.toMatch(/links?\b.*(one person each|you were given)/);
  expect(told(true)[0]).toMatch(/links for one person each they came by.*names of links, are kept/);
  expect(told(true)[1]).toMatch(/traced to the link that you were given/);
});

it("tells that the device is looked at, where it is", () => {
  const kept = (study: ReturnType<typeof plainStudy>) => privacyOf(study)[0]?.sentences.join(" ") ?? "";
  expect(kept(plainStudy())).not.toMatch(/worked by touch/);
  const looking = plainStudy();
  const [first] = looking.runningOrder;
  if (first?.kind === "part") first.when = { left: { from: { builtIn: "device.touch" } }, is: "=", right: true };
  expect(kept(looking)).toMatch(/worked by touch, and the language/);
});

it("tells what of the link's address is kept, and where people are led at their end", () => {
  const ends = { finished: { address: "https://panel.example/back?visit={{link.visit}}&c={{session.code}}" } };
  const links = { arePersonal: false, ends: [ends] };
  const text = JSON.stringify(privacyOf(plainStudy(), links));
  expect(text).toContain("says as “visit”, to lead them back");
  expect(text).toContain("a button can lead to panel.example, which then learns");
  expect(text).toContain("Nothing else. Pages");
  expect(privacyForEthics(plainStudy(), links)).toContain("you can go back to panel.example");
  expect(JSON.stringify(privacyOf(plainStudy()))).not.toMatch(/lead/);
});

it("tells that gaze is recorded, and where it lies, in a study that does so", () => {
  const told = (study: ReturnType<typeof plainStudy>) => [JSON.stringify(privacyOf(study)), privacyForEthics(study)];
  expect(told(plainStudy()).join()).not.toMatch(/look on the screen|eyes looked/);
  const watched = plainStudy();
  watched.settings.gaze = newGazeSettings();
  expect(told(watched)[0]).toContain("in a file of the bridge on the laboratory computer");
  expect(told(watched)[1]).toContain("An eye tracker records where you look on the screen");
});
