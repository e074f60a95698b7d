import { list, object, variant } from "../../shape/compound";
import { only, text } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { anyText } from "../../values/amounts";
import type { RowContext } from "../../values/context";
import { dataColumn } from "../../values/data-column";
import { isBinding, type Bindable, type Scalar } from "../../values/ref";
import { resolve } from "../../values/resolve";
import { freshSized, sized } from "../base";
import type { ItemKindOf, ItemProblem } from "../kind";

const shape = object({
  ...sized("web"),
  /** Addresses a page of the study may fetch from; none where this is left out. */
  connects: optional(
    list(
      text({
        missing: "is missing",
        pattern: /^https?:\/\/[a-z0-9.-]{1,253}(?::\d{1,5})?$/i,
        otherwise: "must be an address without a path, such as https://tides.example.org",
      }),
      0,
      10,
    ),
  ),
  page: variant("from", {
    address: object({ from: only("address"), address: anyText }),
    file: object({ from: only("file"), file: anyText }),
  }),
});
/** A page of its own in a sandboxed frame: an address, or a self-contained HTML file of the study. */
export interface WebItem extends Of<typeof shape> {}

export const web: ItemKindOf<WebItem> = {
  shape,
  make: (newId, name) => ({ ...freshSized("web", newId, name, 80, 60), page: { from: "address", address: "" } }),
  measures: () => [],
  media: ({ page }) => (page.from === "file" ? [{ kind: "page", value: page.file }] : []),
  problems: ({ page, connects = [] }, rows) => [
    ...(page.from === "address" ? [problemElsewhere(page.address, rows)] : []),
    ...(page.from === "file" && connects.length > 0
      ? [
          {
            level: "warning" as const,
            message: `Its page may fetch from ${connects.join(", ")}: what it sends there leaves this server. Say so to participants.`,
          },
        ]
      : []),
  ],
  columns: () => [
    dataColumn("sent", "text", "values its page sent, in order", ({ observed }) => {
      const values = observed.flatMap(({ what, value = "" }) => (what === "value" ? [value] : []));
      return values.length > 0 ? values.join("; ") : null;
    }),
  ],
  isWorked: true,
};

const isAddress = (text: Scalar | null) => typeof text === "string" && /^https?:\/\/[^\s/]+/.test(text);

/** A page at an address is not part of the study, and a trial has to reach it. */
function problemElsewhere(address: Bindable<string>, rows: readonly RowContext[]): ItemProblem {
  const bad = isBinding(address) ? rows.find(({ context }) => !isAddress(resolve(address, context))) : undefined;
  if (!bad && (isBinding(address) || isAddress(address)))
    return {
      level: "warning",
      message:
        "It shows a page from an address elsewhere: that needs the network in the middle of a session, and can change after the release. Add the page to the study as HTML or zip, and it is loaded and checked before the session begins.",
    };
  const whose = bad ? `In row ${bad.number} its` : "Its";
  return {
    level: "error",
    message:
      address === ""
        ? "It has no page yet. Type an address that begins with https://, or choose a page of the study."
        : `${whose} address is no address of a web page. Type one that begins with https:// or http://.`,
    row: bad?.row,
    column: isBinding(address) && "column" in address.from ? address.from.column : undefined,
  };
}
