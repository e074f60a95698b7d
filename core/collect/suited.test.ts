import { expect, it } from "vitest";
import { deviceKindOf, suited, suitedInWords, type Screen, type Suited } from "./suited";

it.each<[Screen, string]>([
  [{ isCoarse: false, width: 1280, height: 800 }, "computer"],
  // A small window on a computer stays one.
  [{ isCoarse: false, width: 500, height: 400 }, "computer"],
  [{ isCoarse: true, width: 390, height: 844 }, "phone"],
  [{ isCoarse: true, width: 932, height: 430 }, "phone"],
  [{ isCoarse: true, width: 599, height: 960 }, "phone"],
  [{ isCoarse: true, width: 600, height: 960 }, "tablet"],
  [{ isCoarse: true, width: 1180, height: 820 }, "tablet"],
])("%j is a %s", (screen, kind) => {
  expect(deviceKindOf(screen)).toBe(kind);
});

it.each<[object, boolean]>([
  [{}, true],
  [{ devices: ["computer", "tablet"], input: "keyboard", window: { width: 800, height: 600 }, able: "yes" }, true],
  [{ devices: [] }, false],
  [{ devices: ["fridge"] }, false],
  [{ window: { width: 99, height: 600 } }, false],
])("has a form: %j", (value, fits) => {
  expect(suited.fits(value)).toBe(fits);
});

it.each<[Suited, string]>([
  [{}, "any device"],
  [{ devices: ["computer", "tablet"] }, "a computer or a tablet"],
  [
    { devices: ["computer"], input: "keyboard", window: { width: 800, height: 600 }, able: "yes" },
    "a computer with a keyboard, in a window of 800 × 600 or more, in a browser that is seen to be able",
  ],
])("%j is said", (on, words) => {
  expect(suitedInWords(on)).toBe(words);
});
