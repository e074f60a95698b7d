const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const two = (number: number) => String(number).padStart(2, "0");

export const timeOfDay = (iso: string): string => {
  const date = new Date(iso);
  return `${two(date.getHours())}:${two(date.getMinutes())}`;
};

/** `today, 09:14`, `yesterday`, `19 Nov`, `3 Feb 2025`, seen from `now`. */
export function whenInWords(iso: string, now: Date = new Date()): string {
  const date = new Date(iso);
  const day = (each: Date) => Date.UTC(each.getFullYear(), each.getMonth(), each.getDate()) / 86_400_000;
  const ago = day(now) - day(date);
  if (ago === 0) return `today, ${timeOfDay(iso)}`;
  if (ago === 1) return "yesterday";
  const short = `${date.getDate()} ${months[date.getMonth()]}`;
  return date.getFullYear() === now.getFullYear() ? short : `${short} ${date.getFullYear()}`;
}
