/** The buttons of all controllers that are down just now, by their numbers from 1, each with the stamp its controller told it by. */
export function pressedButtons(): Map<number, number> {
  // Without a secure page browsers have none.
  const { getGamepads } = navigator as { getGamepads?: () => (Gamepad | null)[] };
  const pads = getGamepads?.call(navigator) ?? [];
  const pressed = new Map<number, number>();
  for (const pad of pads)
    pad?.buttons.forEach((button, index) => {
      if (button.pressed) pressed.set(index + 1, pad.timestamp);
    });
  return pressed;
}
