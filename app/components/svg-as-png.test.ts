import { fileTypeFromBuffer } from "file-type";
import { expect, it } from "vitest";
import { withDpi } from "./svg-as-png";

/** A picture of one dot. */
const png = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);

it("a picture says how many dots it has a metre, and stays a picture", async () => {
  const found = Buffer.from(withDpi(new Uint8Array(png)));
  expect(found.length).toBe(png.length + 21);
  expect(found.subarray(37, 41).toString()).toBe("pHYs");
  expect([found.readUInt32BE(41), found.readUInt32BE(45), found[49]]).toEqual([11811, 11811, 1]);
  // The sum that the standard asks for, as other programs reckon it for these bytes.
  expect(found.readUInt32BE(50)).toBe(0x78a53f76);
  expect((await fileTypeFromBuffer(found))?.mime).toBe("image/png");
  expect(found.subarray(54)).toEqual(png.subarray(33));
});
