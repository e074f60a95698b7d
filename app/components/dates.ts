import { createElement } from "react";
import { useInBrowser } from "./use-in-browser";

const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const two = (number: number) => String(number).padStart(2, "0");

/** A moment as local wall-clock time, `offset` minutes behind UTC (as `getTimezoneOffset` gives it). */
const onWall = (time: number, offset: number) => new Date(time - offset * 60_000);

/** `09:14`, by a clock `offset` minutes behind UTC. */
export function timeOfDay(iso: string, offset: number): string {
  const wall = onWall(Date.parse(iso), offset);
  return `${two(wall.getUTCHours())}:${two(wall.getUTCMinutes())}`;
}

/** `today, 09:14`, `yesterday`, `19 Nov`, `3 Feb 2025`: seen from `now`, by a clock `offset` minutes behind UTC. */
export function whenInWords(iso: string, now: number, offset: number): string {
  const [then, today] = [onWall(Date.parse(iso), offset), onWall(now, offset)];
  const day = (wall: Date) => Math.floor(wall.getTime() / 86_400_000);
  const ago = day(today) - day(then);
  if (ago === 0) return `today, ${timeOfDay(iso, offset)}`;
  if (ago === 1) return "yesterday";
  const short = `${then.getUTCDate()} ${months[then.getUTCMonth()]}`;
  return then.getUTCFullYear() === today.getUTCFullYear() ? short : `${short} ${then.getUTCFullYear()}`;
}

/** A moment in words by this computer's clock; by UTC until the page runs in the browser, as the server wrote it. */
export function When({ iso, form = "words" }: { iso: string; form?: "words" | "time" | "moment" }) {
  const offset = useInBrowser() ? new Date().getTimezoneOffset() : 0;
  const day = whenInWords(iso, Date.now(), offset);
  const moment = day.includes(":") ? day : `${day}, ${timeOfDay(iso, offset)}`;
  const text = form === "moment" ? moment : form === "time" ? timeOfDay(iso, offset) : day;
  return createElement("time", { dateTime: iso, suppressHydrationWarning: true }, text);
}
