import { expect, it } from "vitest";
import { wadersFromSource } from "~/demo/make-files";
import { partsInOrder } from "../design/lookup";
import { partLabel } from "../design/part-labels";
import { designPicture } from "./design-picture";

it("a picture of the design has each part in its order, spans whose order varies, and nothing that would run", () => {
  const { document } = wadersFromSource("demo");
  const svg = designPicture({ ...document, title: 'Waders & <script>alert("x")</script>' });
  const places = partsInOrder(document).map(({ id }) => svg.indexOf(`>${partLabel(document, id)}<`));
  expect(places.every((place) => place > 0)).toBe(true);
  expect(places).toEqual(places.toSorted((a, b) => a - b));
  expect(svg).toContain("Sunrise and Sunset");
  expect(svg).toContain("40 trials");
  expect(svg).not.toContain("<script>");
  // Everything lies within it.
  const height = Number(/ height="([\d.]+)"/.exec(svg)?.[1]);
  for (const [, y = "", tall = ""] of svg.matchAll(/ y="([\d.]+)" width="[\d.]+" height="([\d.]+)"/g))
    expect(Number(y) + Number(tall)).toBeLessThanOrEqual(height);
});
