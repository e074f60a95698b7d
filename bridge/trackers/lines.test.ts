import { afterEach, expect, it } from "vitest";
import { joinSamples, type SampleColumns } from "../../core/gaze/packed";
import { listenAt } from "../listen";
import { simulatedTracker } from "../simulated-tracker";
import { lines } from "./lines";
import { trackerSuite } from "./suite";

trackerSuite("lines", lines, (rate) => simulatedTracker(0, { rate }));

const undone: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const undo of undone.splice(0).toReversed()) await undo();
});

it("leaves out what has no time, and lines that say nothing", async () => {
  const odd = await listenAt(0, (socket) =>
    socket.on("data", () =>
      socket.write(
        [
          { say: "tracker", name: "Odd", rate: 100 },
          { say: "weather", wind: 4 },
          {
            say: "samples",
            samples: [
              [null, 0, 0, 3, 0, 0, 3, 60],
              [12, 0.1, 0, 3, null, null, null, 60],
            ],
          },
        ]
          .map((each) => `${JSON.stringify(each)}\n`)
          .join(""),
      ),
    ),
  );
  undone.push(() => odd.stop());
  const heard: SampleColumns[] = [];
  const tracker = await lines.open(
    { host: "127.0.0.1", port: odd.port },
    { samples: (samples) => heard.push(samples), lost: () => undefined },
  );
  undone.push(() => tracker.close());
  while (heard.length === 0) await new Promise((resolve) => setTimeout(resolve, 5));
  const { times, leftX, rightX } = joinSamples(heard);
  expect([...times]).toEqual([12]);
  expect(leftX[0]).toBeCloseTo(0.1, 6);
  expect(rightX[0]).toBeNaN();
});
