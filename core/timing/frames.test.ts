import { expect, it } from "vitest";
import { framesInWords, framesOf } from "./frames";

it("turns durations into frames and says what rounding does to them", () => {
  expect(framesInWords(150, 60)).toBe("9 frames at 60 Hz");
  expect(framesInWords(100, 144)).toBe("14 frames at 144 Hz (−2.8 ms)");
  expect(framesInWords(10, 60)).toBe("1 frame at 60 Hz (+6.7 ms)");
  expect(framesOf(0, 60).frames).toBe(1);
});
