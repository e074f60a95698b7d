import { assignmentTo, schemeOf } from "../scheme";
import type { Method } from "./method";

/** By the participant's number: groups in turn as their shares say (with two equal ones odd and even), orders in turn within each. */
export const byNumber: Method = (document, { participant }) => {
  const slots = schemeOf(document).flatMap((scheme) =>
    Array.from({ length: scheme.share }, (_, nth) => ({ scheme, nth })),
  );
  const round = Math.floor((participant - 1) / slots.length);
  const slot = slots[(participant - 1) % slots.length];
  if (!slot) return { group: document.groups[0]?.id ?? "", orders: {} };
  return assignmentTo(slot.scheme, (round * slot.scheme.share + slot.nth) % slot.scheme.cells);
};
