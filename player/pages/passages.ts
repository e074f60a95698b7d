import type { Passage, PassageKind, PassageOf } from "~/core/passages/passage";
import type { Context } from "~/core/values/context";
import type { Id } from "~/core/values/ref";
import { words } from "../facts";
import { drawFormattedText } from "../stage/formatted-text";
import { make } from "./page";

type Around = { context: Context; mediaUrl: (id: Id) => string | null };
type Drawer<K extends PassageKind> = (passage: PassageOf<K>, around: Around) => HTMLElement;

const drawers: { [K in PassageKind]: Drawer<K> } = {
  text: ({ text }, { context }) => {
    const element = make("div", "body");
    drawFormattedText(element, text, context);
    return element;
  },
  picture: ({ file, width, says }, { mediaUrl }) => {
    const image = make("img", "picture");
    image.alt = says;
    image.style.width = `${width}%`;
    const url = mediaUrl(file);
    if (url !== null) image.src = url;
    return image;
  },
  sound: (passage, { mediaUrl }) => played(make("audio", "sound"), passage, mediaUrl),
  video: (passage, { mediaUrl }) => {
    const video = make("video", "video");
    video.playsInline = true;
    video.style.width = `${passage.width}%`;
    return played(video, passage, mediaUrl);
  },
  rule: () => make("hr", "rule"),
  table: ({ rows, hasHead }) => {
    const scroller = make("div", "table");
    const table = make("table", "");
    rows.forEach((row, index) => {
      const line = make("tr", "");
      line.append(...row.map((cell) => make(hasHead && index === 0 ? "th" : "td", "", cell)));
      table.append(line);
    });
    scroller.append(table);
    return scroller;
  },
  site: ({ address, width, height }) => {
    const frame = make("iframe", "site");
    frame.setAttribute("sandbox", "allow-scripts allow-forms");
    frame.setAttribute("credentialless", "");
    frame.title = address;
    frame.style.width = `${width}%`;
    frame.style.height = `${height}px`;
    frame.src = address;
    return frame;
  },
};

/** Draws a piece of a page that asks nothing. */
export const drawPassage = (passage: Passage, around: Around): HTMLElement =>
  (drawers[passage.kind] as (passage: Passage, around: Around) => HTMLElement)(passage, around);

/** A sound or video, from and to its moments: with controls, or behind a button that is pressed once. */
function played(
  element: HTMLMediaElement,
  { file, begins = 0, ends, plays }: PassageOf<"sound" | "video">,
  mediaUrl: Around["mediaUrl"],
): HTMLElement {
  const around = make("div", "played");
  const url = mediaUrl(file);
  element.preload = "auto";
  if (url !== null) element.src = url;
  const toBegin = () => {
    if (element.currentTime < begins) element.currentTime = begins;
  };
  element.addEventListener("loadedmetadata", toBegin);
  element.addEventListener("play", () => {
    if (ends !== undefined && element.currentTime >= ends) element.currentTime = begins;
    toBegin();
  });
  element.addEventListener("timeupdate", () => {
    if (ends !== undefined && element.currentTime >= ends && !element.paused) element.pause();
  });
  around.append(element);
  if (plays === "controls") {
    element.controls = true;
    return around;
  }
  const button = make("button", "second", words("playAgain"));
  button.type = "button";
  button.addEventListener("click", () => {
    button.remove();
    void element.play();
  });
  around.append(button);
  return around;
}
