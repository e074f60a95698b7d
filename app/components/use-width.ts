import { useEffect, useRef, useState, type RefObject } from "react";

/** The width of an element, in pixels, as it stands; `first` until it is known. */
export function useWidth(first: number): [RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return [box, width];
}
