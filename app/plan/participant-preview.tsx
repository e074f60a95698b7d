import { useEffect, useRef } from "react";
import type { StudyDocument } from "~/core/design/document";
import { entryInto } from "~/core/run/entry";
import { filledIn, type WordingName } from "~/core/wording/names";
import { make, quietButton } from "~/player/pages/page";
import playerStyle from "~/player/player.css?inline";

/** The pages participants meet around the parts, as they can be looked at while they are set. */
export const previews = {
  entry: "Entry",
  checks: "Checks",
  loading: "Loading",
  pause: "Pause",
  leaving: "Leaving",
  sending: "Sending",
  ending: "Ending",
} as const;
export type Preview = keyof typeof previews;

/** One of these pages in the study's language and colours, drawn with the player's own styles. */
export function ParticipantPreview({ study, page }: { study: StudyDocument; page: Preview }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!host.current) return;
    const root = host.current.shadowRoot ?? host.current.attachShadow({ mode: "open" });
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(
      `${playerStyle.replaceAll(":root", ":host")} .participant { height: 100%; overflow: auto; font-size: 15px; } #page { padding: 24px; }`,
    );
    root.adoptedStyleSheets = [sheet];
    const around = document.createElement("div");
    const { language, direction, stageColor, textColor } = entryInto(study);
    around.className = "participant";
    // To be looked at only: nothing in it can be pressed or typed into.
    around.inert = true;
    around.lang = language;
    around.dir = direction;
    around.style.setProperty("--stage-color", stageColor);
    around.style.setProperty("--text-color", textColor);
    const into = document.createElement("div");
    into.id = "page";
    into.append(pageOf(study, page));
    around.append(into);
    root.replaceChildren(around);
  }, [study, page]);
  return (
    <div
      ref={host}
      role="group"
      aria-label={`The page “${previews[page]}” as participants see it`}
      className="h-[330px] overflow-hidden border border-hairline"
    />
  );
}

function pageOf(study: StudyDocument, which: Preview): HTMLElement {
  const { title, wording, welcome, contact, ownCode, checks, fullScreen, withdrawn, others } = entryInto(study);
  const words = (name: WordingName, values: Record<string, string | number> = {}) => filledIn(wording[name], values);
  const page = make("div", "page");
  const says = (...sentences: string[]) => page.append(...sentences.map((sentence) => make("p", "", sentence)));
  const heading = (text: string) => page.append(make("h1", "", text));
  const buttons = (...labels: string[]) => {
    const row = make("div", "buttons");
    labels.forEach((label, place) => {
      const button = make("button", place === 0 ? "" : "second", label);
      button.tabIndex = -1;
      row.append(button);
    });
    page.append(row);
  };
  const bar = (share: number) => {
    const progress = make("progress", "");
    progress.max = 1;
    progress.value = share;
    page.append(progress);
  };
  const drawn: Record<Preview, () => void> = {
    entry: () => {
      heading(title);
      says(...welcome.split("\n").filter((line) => line.trim()));
      if (ownCode !== "none") {
        const label = make("label", "", words(ownCode === "must" ? "yourCode" : "yourCodeOptional"));
        const field = make("input", "");
        field.tabIndex = -1;
        label.append(field);
        page.append(label);
      }
      if (contact.trim()) {
        const line = make("p", "contact");
        line.append(make("b", "", words("questions")), ` ${contact}`);
        page.append(line);
      }
      buttons(words("start"));
    },
    checks: () => {
      const { smallest } = checks;
      if (smallest) says(words("checkWindow", { ...smallest, widthNow: 800, heightNow: 500 }));
      if (checks.keyboard) says(words("checkKeyboard"));
      if (checks.sound) says(words("checkSound"));
      if (fullScreen) says(words("noFullScreen"));
    },
    loading: () => {
      says(`${words("loading")} 62 %`);
      bar(0.62);
    },
    pause: () => {
      heading(words("paused"));
      says(words("lookedAway"), ...(study.settings.participation.interrupted === "redo" ? [words("trialAgain")] : []));
      buttons(words("goOn"), words("leave"));
    },
    leaving: () => {
      says(words("leaveSure"), words(withdrawn === "remove" ? "leaveRemoved" : "leaveKept"));
      buttons(words("stay"), words("leave"));
    },
    sending: () => {
      says(words("sending", { sent: 38, all: 412 }));
      bar(38 / 412);
      says(words("serverAway"));
      buttons(words("saveFile"));
    },
    ending: () => {
      heading(words("done"));
      says(words("code"));
      page.append(make("output", "code", "K7QM-3HTD"));
      if (others) page.append(quietButton(words("anotherPerson")));
    },
  };
  drawn[which]();
  if (which === "checks" && page.childElementCount === 0) page.append(make("p", "", "–"));
  return page;
}
