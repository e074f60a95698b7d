import { useEffect, useMemo, useRef } from "react";
import { plannedPlace } from "~/core/allocate/allocate";
import { setPage, setPart } from "~/core/design/edits/parts";
import type { Page } from "~/core/design/page";
import { contextFor } from "~/core/values/context";
import { drawFormattedText } from "~/player/stage/formatted-text";
import playerStyle from "~/player/player.css?inline";
import { useStudy } from "~/app/editing/use-study";
import { Property, TextField } from "./property";
import { TextEditor } from "./text-editor";

/** A page as a document, with what the participant sees beside it. */
export function PageComposer({ page }: { page: Page }) {
  const { document, edit, view } = useStudy();
  const group = plannedPlace(document, view.participant).group;
  const groupName = document.groups.find(({ id }) => id === group)?.name ?? "";
  return (
    <div className="grid h-full grid-cols-2 gap-4 p-4 pt-2">
      <div className="flex min-h-0 flex-col gap-2">
        <TextEditor
          value={page.body}
          onChange={(body) => edit(setPage(page.id, { body }), `body ${page.id}`)}
          block={null}
          label={`Text of ${page.name}`}
        />
        <div className="grid gap-1 rounded-md border border-hairline bg-sheet p-3">
          <Property label="Name of page" htmlFor="page-name">
            <TextField
              id="page-name"
              value={page.name}
              onChange={(name) => edit(setPart(page.id, { name }), "page name")}
              problem={(name) => (name.trim() ? null : "A page needs a name.")}
            />
          </Property>
          <Property label="Button says" htmlFor="page-button">
            <TextField
              id="page-button"
              value={page.continueLabel}
              onChange={(continueLabel) => edit(setPage(page.id, { continueLabel }), "page button")}
              problem={(label) => (label.trim() ? null : "The button needs a label.")}
            />
          </Property>
        </div>
      </div>
      <div className="flex min-h-0 flex-col gap-2">
        <PagePreview page={page} group={group} />
        <p className="caption">
          <b>Live view.</b>{" "}
          <em>
            As participant {view.participant} reads it, {groupName} group
          </em>
        </p>
      </div>
    </div>
  );
}

function PagePreview({ page, group }: { page: Page; group: string }) {
  const { document: study, view } = useStudy();
  const host = useRef<HTMLDivElement>(null);
  const context = useMemo(
    () => contextFor({ study, group, participant: view.participant }),
    [study, group, view.participant],
  );
  useEffect(() => {
    if (!host.current) return;
    const root = host.current.shadowRoot ?? host.current.attachShadow({ mode: "open" });
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(
      `${playerStyle.replaceAll(":root", ":host")} .participant { height: 100%; overflow: auto; } #page { min-height: 100%; }`,
    );
    root.adoptedStyleSheets = [sheet];
    const around = document.createElement("div");
    around.className = "participant";
    around.style.setProperty("--stage-color", study.settings.stageColor);
    around.style.setProperty("--text-color", study.settings.textColor);
    around.innerHTML =
      '<div id="page"><div class="page"><div class="body"></div><button type="button" tabindex="-1"></button></div></div>';
    drawFormattedText(around.querySelector(".body") as HTMLElement, page.body, context);
    (around.querySelector("button") as HTMLButtonElement).textContent = page.continueLabel;
    root.replaceChildren(around);
  }, [page, context, study.settings]);
  return (
    <div
      ref={host}
      role="img"
      aria-label={`How participants see ${page.name}`}
      className="min-h-0 flex-1 overflow-hidden border border-hairline"
    />
  );
}
