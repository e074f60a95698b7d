/** A mistake in how a command was called or in what it was given: shown as one plain line, exit code 1. */
export class Plain extends Error {}

/** Participant numbers from `7`, `1-24` or `1-3,8`. A single number alone means from 1 up to it when `countFromOne` is set. */
export function participantNumbers(text: string, countFromOne = false): number[] {
  const most = 100_000;
  if (countFromOne && /^\d+$/.test(text)) return participantNumbers(`1-${text}`);
  const numbers = text.split(",").flatMap((piece) => {
    const range = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(piece);
    const [from, to] = [Number(range?.[1]), Number(range?.[2] ?? range?.[1])];
    if (!range || from < 1 || to < from || to > most)
      throw new Plain(`--participants is “${text}”; write a number such as 24 or a range such as 1-24.`);
    return Array.from({ length: to - from + 1 }, (_, index) => from + index);
  });
  return numbers;
}

/** A port that can be listened at, out of what was typed. */
export function portIn(typed: string): number {
  const port = Number(typed);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) throw new Plain("A port is a number up to 65535.");
  return port;
}
