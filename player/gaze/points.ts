import type { EyeSamples, Place, PointLook } from "~/core/gaze/calibrate";
import type { SampleColumns } from "~/core/gaze/packed";
import { qualityOf } from "~/core/gaze/validate";
import type { GazeSettings } from "~/core/design/settings";
import { make } from "../pages/page";
import { pixelsOf } from "./geometry";

/** After a point came, the eyes have so long to get to it; then so long is looked at; and no longer than this is waited for stillness. */
const [arriveMs, lookMs, mostMs] = [700, 700, 3500];
/** Eyes are still while their samples lie within so many degrees (standard deviation), and at most half of them are lost. */
const [stillDegrees, mostLost] = [0.6, 0.5];
/** Samples are kept for so long. */
const keptMs = 6000;

/** The last samples that came, as both eyes looked. */
export class LastSamples {
  #pieces: { at: number; samples: SampleColumns }[] = [];

  take(samples: SampleColumns): void {
    const now = performance.now();
    this.#pieces.push({ at: now, samples });
    this.#pieces = this.#pieces.filter(({ at }) => now - at < keptMs);
  }
  /** Those of the last so many milliseconds, by when they were taken. */
  of(ms: number): Pick<PointLook, "left" | "right"> & { distance: number | null } {
    const last = this.#pieces.at(-1)?.samples.times.at(-1) ?? 0;
    const pieces = this.#pieces.flatMap(({ samples }) => ((samples.times.at(-1) ?? 0) < last - ms ? [] : [samples]));
    const rows = pieces.flatMap(({ times, leftX, leftY, rightX, rightY, distance }) =>
      [...times].flatMap((time, at) =>
        time < last - ms
          ? []
          : [[leftX[at], leftY[at], rightX[at], rightY[at], distance[at]].map((each) => each ?? NaN)],
      ),
    );
    const column = (at: number) => rows.map((row) => row[at] ?? NaN);
    const distances = column(4).filter((each) => !Number.isNaN(each));
    return {
      left: { x: column(0), y: column(1) },
      right: { x: column(2), y: column(3) },
      distance: distances.length === 0 ? null : distances.reduce((sum, each) => sum + each, 0) / distances.length,
    };
  }
}

/** Whether an eye was seen, and lay still. */
function isStill(samples: EyeSamples, point: Place, unitsPerDegree: number): boolean {
  const quality = qualityOf(samples, point, unitsPerDegree);
  return quality !== null && quality.lost <= mostLost && quality.sd < stillDegrees;
}

const space = "http://www.w3.org/2000/svg";

/** A target of our own look: a ring of plumage around a dark dot; a tern for children. */
function targetOf(kind: GazeSettings["target"]): SVGSVGElement {
  const drawing = document.createElementNS(space, "svg");
  drawing.setAttribute("viewBox", "-50 -50 100 100");
  drawing.setAttribute("class", `gaze-target ${kind}`);
  drawing.innerHTML =
    kind === "picture"
      ? `<path d="M-44 -8 Q-22 -34 0 -6 Q22 -34 44 -8 Q24 -14 6 6 L0 26 L-6 6 Q-24 -14 -44 -8Z" fill="#0e5a4e"/><circle r="5" cy="0" fill="#f4f1e8"/>`
      : `<circle r="40" fill="#0e5a4e"/><circle r="26" fill="#f4f1e8"/><circle r="7" fill="#17211e"/>`;
  return drawing;
}

/** Shows points one after the other, and gives what the eyes did at each. `look` tells trackers of each. */
export async function lookAtPoints(
  into: HTMLElement,
  points: readonly Place[],
  { target, accepted }: Pick<GazeSettings, "target" | "accepted">,
  samples: LastSamples,
  unitsPerDegree: number,
  look: (place: Place) => void,
): Promise<PointLook[]> {
  const found: PointLook[] = [];
  for (const point of points) {
    // The participant has left.
    if (!into.isConnected) return found;
    const shown = targetOf(target);
    const { left, top } = pixelsOf(point);
    shown.style.left = `${left}px`;
    shown.style.top = `${top}px`;
    into.replaceChildren(shown);
    if (accepted === "by-key") {
      const hint = make("p", "gaze-hint", "Look at the point, then press the space bar.");
      into.append(hint);
    }
    look(point);
    if (accepted === "by-key") await spaceBar(into);
    else {
      const began = performance.now();
      await new Promise((resolve) => setTimeout(resolve, arriveMs + lookMs));
      const areStill = () => {
        const { left: leftEye, right: rightEye } = samples.of(lookMs);
        return isStill(leftEye, point, unitsPerDegree) || isStill(rightEye, point, unitsPerDegree);
      };
      while (!areStill() && performance.now() - began < mostMs) await new Promise(requestAnimationFrame);
    }
    const { left: leftEye, right: rightEye } = samples.of(lookMs);
    found.push({ ...point, left: leftEye, right: rightEye });
  }
  into.replaceChildren();
  return found;
}

/** Settled when the space bar is pressed; without a press where what asks for it is taken away. */
const spaceBar = (asking: HTMLElement) =>
  new Promise<void>((resolve) => {
    const press = (event: KeyboardEvent) => {
      if (asking.isConnected && (event.code !== "Space" || event.repeat)) return;
      if (asking.isConnected) event.preventDefault();
      removeEventListener("keydown", press, true);
      resolve();
    };
    addEventListener("keydown", press, true);
  });
