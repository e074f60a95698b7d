import type { Stream } from "./stream";

/** A shuffled copy, every order equally likely: Fisher–Yates as given by Durstenfeld (1964). */
export function shuffled<T>(list: readonly T[], stream: Stream): T[] {
  const result = list.slice();
  for (let last = result.length - 1; last > 0; last--) {
    const pick = stream.whole(0, last);
    const [a, b] = [result[last] as T, result[pick] as T];
    result[last] = b;
    result[pick] = a;
  }
  return result;
}
