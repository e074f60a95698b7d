import { useEffect, useRef } from "react";

/** Escape leads from what is selected up to what it belongs to, wherever nothing else takes it. */
export function useEscapeUp(isSome: boolean, up: () => void) {
  const latest = useRef(up);
  useEffect(() => {
    latest.current = up;
  });
  useEffect(() => {
    if (!isSome) return;
    const keys = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.defaultPrevented) return;
      const { target } = event;
      if (!(target instanceof HTMLElement)) return;
      const isTaken = target.closest(
        "[role=dialog], [role=menu], [role=application], [contenteditable], .dsg-container",
      );
      if (!isTaken) latest.current();
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  }, [isSome]);
}
