import type { Row, TrialOrder } from "../design/types";
import type { Stream } from "./random";
import { shuffled } from "./shuffle";

/**
 * The rows of one pass in the order they are played; a row with several copies stands in it as often.
 * `given`, `take`, `within` and limits are not drawn yet: preflight refuses them before a release.
 */
export function rowsOfPass(rows: readonly Row[], order: TrialOrder, stream: Stream): Row[] {
  const listed = rows.flatMap((row) => Array.from({ length: row.copies }, () => row));
  switch (order.method) {
    case "as-listed":
    case "given":
      return listed;
    case "shuffled":
      return shuffled(listed, stream);
    case "with-replacement":
      return listed.map(() => listed[stream.whole(0, listed.length - 1)] as Row);
  }
}
