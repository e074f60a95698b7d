import type { WebItem } from "~/core/items/web/web";
import { holding, setPosition, sized, textOr, type ItemDrawer } from "../item-drawer";

/** While composing a page is only named; it is loaded for a trial, in a frame that can reach nothing of the study. */
export const drawer: ItemDrawer<WebItem> = {
  create: holding("web", "p"),
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    sized(element, item.size, context);
    const note = element.querySelector("p");
    if (note) note.textContent = addressOf(item, context) || "Web page: no address yet";
  },
  live: async (element, item, { context, mediaUrl }, tell) => {
    const frame = element.ownerDocument.createElement("iframe");
    frame.setAttribute("sandbox", "allow-scripts allow-forms");
    // Pages elsewhere are loaded without cookies; only so can a file of the study come from the browser's cache.
    if (item.page.from === "address") frame.setAttribute("credentialless", "");
    frame.title = item.name;
    const address =
      item.page.from === "file" ? mediaUrl(textOr(item.page.file, context, "")) : addressOf(item, context);
    if (address) frame.src = address;
    const loaded = new Promise<void>((resolve) => {
      frame.onload = () => resolve();
      setTimeout(resolve, 8000);
    });
    element.replaceChildren(frame);
    if (address) await loaded;
    const onMessage = (event: MessageEvent<unknown>) => {
      if (event.source !== frame.contentWindow) return;
      const value = valueIn(event.data);
      if (value === null) return;
      tell.observed("value", event.timeStamp, { value });
      tell.input({ device: "web", value, on: item.id }, event.timeStamp);
    };
    return {
      begin: (stamp) => {
        addEventListener("message", onMessage);
        tell.observed("began", stamp);
      },
      end: () => removeEventListener("message", onMessage),
    };
  },
};

const addressOf = (item: WebItem, context: Parameters<typeof textOr>[1]): string =>
  item.page.from === "address"
    ? textOr(item.page.address, context, "")
    : (context.study.media.find(({ id }) => item.page.from === "file" && id === item.page.file)?.name ?? "");

/** What a page sent: `{ lapwing: value }` with a text, number or yes/no. Anything else is ignored. */
function valueIn(data: unknown): string | null {
  const value = typeof data === "object" && data !== null ? (data as { lapwing?: unknown }).lapwing : undefined;
  if (typeof value !== "string" && typeof value !== "number" && typeof value !== "boolean") return null;
  return String(value).slice(0, 10_000);
}
