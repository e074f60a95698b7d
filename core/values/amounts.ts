import { number, text } from "../shape/plain";
import { bindable } from "./ref";

/*
 * Shapes of properties that many things have. Those with a unit in their name are constants or bound; all durations are in
 * milliseconds.
 */
const hour = 3_600_000;

export const anyNumber = bindable(number());
export const positive = bindable(number({ above: 0 }));
export const notNegative = bindable(number({ least: 0 }));
export const percent = bindable(number({ least: 0, most: 100 }));
export const duration = bindable(number({ least: 0, most: hour, tooLarge: "must be at most an hour" }));
/** A duration that is the same in every trial. */
export const fixedDuration = number({ least: 0, most: hour, tooLarge: "must be at most an hour" });

export const colorPattern = /^(#[0-9a-f]{3}|#[0-9a-f]{6}|#[0-9a-f]{8}|transparent)$/i;
export const fixedColor = text({
  missing: "is missing",
  pattern: colorPattern,
  otherwise: "must be a colour such as #17211e",
});
export const color = bindable(fixedColor);
export const anyText = bindable(text({ most: 10_000 }));
