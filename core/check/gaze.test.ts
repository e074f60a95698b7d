import { expect, it } from "vitest";
import { plainStudy } from "~/tests/support/studies";
import { newGazeSettings } from "../design/settings";
import { gazeProblems } from "./gaze";

it("says what gaze needs: a viewing distance, trials, full screen, and more than one point", () => {
  const document = plainStudy();
  expect(gazeProblems(document)).toEqual([]);
  document.settings.gaze = { ...newGazeSettings(), points: "one" };
  document.settings.viewing = undefined;
  document.settings.fullScreen = false;
  const told = () =>
    gazeProblems(document).map(({ level, message }) => [level, message.split(" ").slice(0, 3).join(" ")]);
  expect(told()).toEqual([
    ["error", "Gaze is told"],
    ["warning", "Outside full screen"],
    ["note", "One point takes"],
  ]);
  document.settings.viewing = { distanceCm: 60, shorterSideCm: 30 };
  document.settings.fullScreen = true;
  document.settings.gaze = newGazeSettings();
  expect(told()).toEqual([]);
  document.parts = {};
  expect(told()).toEqual([["warning", "Gaze is recorded"]]);
});
