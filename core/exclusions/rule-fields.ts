import { yesNo } from "../shape/plain";
import { id } from "../values/ref";

/** The fields of every rule. */
export const anyRule = { id, isOn: yesNo };
