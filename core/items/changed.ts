import { plainText } from "../values/formatted-text";
import type { Scalar } from "../values/ref";
import type { Item } from "./registry";

/** What rules can set of an item; each that a kind does not have is not offered for it. */
export const changeable = ["shown", "x", "y", "w", "h", "turned", "opacity", "color", "text", "picture"] as const;
export type Changeable = (typeof changeable)[number];
type Changes = Readonly<Partial<Record<string, Scalar | null>>>;

const asNumber = (value: Scalar | null | undefined): number | null => {
  const number = value === null || value === undefined || value === "" ? NaN : Number(value);
  return Number.isFinite(number) ? number : null;
};

/** What of an item can be changed. */
export const changeableOf = (item: Item): Changeable[] =>
  changeable.filter((property) => {
    if (property === "shown") return true;
    if (property === "x" || property === "y") return "at" in item;
    if (property === "turned" || property === "opacity" || property === "picture") return property in item;
    if (property === "w") return "size" in item || "width" in item;
    if (property === "h") return "size" in item;
    if (property === "color") return "color" in item || "fill" in item;
    return item.kind === "text";
  });

/** An item as rules have made it: constants in place of what they changed. The item itself stays as it is. */
export function changedItem<T extends Item>(item: T, changes: Changes | undefined): T {
  if (!changes) return item;
  const made: Record<string, unknown> = { ...item };
  for (const [property, value] of Object.entries(changes)) {
    const number = asNumber(value);
    if (property === "shown") {
      const isShown = value === true || value === "yes" || value === "true" || value === 1;
      made.when = { left: isShown, is: "=", right: true };
    } else if ((property === "x" || property === "y") && "at" in item && number !== null)
      made.at = { ...(made.at as object), [property]: number };
    else if ((property === "turned" || property === "opacity") && number !== null) made[property] = number;
    else if ((property === "w" || property === "h") && number !== null && number > 0) {
      if ("size" in item) made.size = { ...(made.size as object), [property]: number };
      else if (property === "w") made.width = number;
    } else if (property === "color" && value !== null) made["color" in item ? "color" : "fill"] = String(value);
    else if (property === "text") made.text = plainText(value === null ? "" : String(value));
    else if (property === "picture" && value !== null) made.picture = String(value);
  }
  return made as T;
}
