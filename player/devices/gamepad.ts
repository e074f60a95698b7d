import type { GamepadDevice } from "~/core/devices/gamepad/gamepad";
import type { DeviceListener } from "../device-listener";
import { pressedButtons } from "../pressed-buttons";

/** Controllers tell nothing by themselves: they are looked at once a frame, and a press is timed by when it was seen. */
export const listener: DeviceListener<GamepadDevice> = (_, __, send) => {
  let isOver = false;
  let before = pressedButtons();
  let last = performance.now();
  const look = () => {
    if (isOver) return;
    const now = performance.now();
    const pressed = pressedButtons();
    const polledMs = now - last;
    for (const [button, told] of pressed) {
      if (before.has(button)) continue;
      // Where the browser says when the controller told it, that is nearer, as long as it is since the last look.
      const stamp = told > last && told <= now ? told : now;
      send({ device: "gamepad", value: String(button), polledMs }, stamp);
    }
    before = pressed;
    last = now;
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
  return () => {
    isOver = true;
  };
};
