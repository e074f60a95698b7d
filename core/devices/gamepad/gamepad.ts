import { list, object } from "../../shape/compound";
import { only, whole } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { dataColumn, tenth } from "../../values/data-column";
import type { DeviceKindOf } from "../kind";

const shape = object({
  device: only("gamepad"),
  /** By their numbers, from 1, in the order in which the controller tells them. */
  buttons: list(whole(1, 64), 0, 64),
});
export type GamepadDevice = Of<typeof shape>;

const buttonName = (button: number): string => `button ${button}`;

/** Buttons of a game controller, or of a box that acts as one; the value is a button's number. */
export const gamepad: DeviceKindOf<GamepadDevice> = {
  shape,
  make: () => ({ device: "gamepad", buttons: [1, 2] }),
  accepts: ({ buttons }, { value }) => (buttons.some((button) => String(button) === value) ? value : null),
  possible: ({ buttons }) => buttons.map((button) => ({ device: "gamepad", value: String(button), polledMs: 16.7 })),
  items: () => [],
  isEmpty: ({ buttons }) => buttons.length === 0,
  inWords: ({ buttons }) => buttons.map(buttonName),
  columns: [
    dataColumn(
      "answer_polled_ms",
      "number",
      "was given by a button of a controller, which is looked at once a frame: it was pressed at most so much earlier",
      ({ input }) => (input.polledMs === undefined ? null : tenth(input.polledMs)),
      { unit: "milliseconds" },
    ),
  ],
  isPointed: false,
  called: {
    nothing: "no button yet",
    problem: "No button of the controller is allowed, so no one can answer. Add the buttons in the margin.",
    all: "the allowed buttons",
  },
};
