import { useMemo } from "react";
import { plannedAssignment } from "~/core/allocate/allocate";
import { setPage, setPart } from "~/core/design/edits/parts";
import type { Page } from "~/core/design/page";
import { contextFor } from "~/core/values/context";
import type { Tally } from "~/core/values/tally";
import { entryInto } from "~/core/run/entry";
import type { PreviewMessage } from "~/player/preview";
import { ParticipantFrame } from "~/app/components/participant-frame";
import { useStudy } from "~/app/editing/use-study";
import { partNameProblem } from "~/core/design/part-labels";
import { Property, TextField } from "~/app/components/fields";
import { TextEditor } from "./text-editor";

/** A page as a document, with what the participant sees beside it. */
export function PageComposer({ page }: { page: Page }) {
  const { document, edit, view } = useStudy();
  const group = plannedAssignment(document, view.participant).group;
  const groupName = document.groups.find(({ id }) => id === group)?.name ?? "";
  return (
    <div className="grid h-full grid-cols-2 gap-4 p-4 pt-2 small:h-auto small:grid-cols-1">
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
              problem={(name) => partNameProblem(document, page.id, name)}
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

/** What a page that tells how it went shows here: a block of twenty trials with two errors, the last in 412 ms. */
const sampleTally: Tally = {
  trialsDone: 20,
  session: { scored: 20, right: 18 },
  block: { done: 20, scored: 20, right: 18, rtSum: 18 * 412, rtCount: 18 },
  last: { answer: "f", right: true, rt: 412, outcome: "right" },
};

function PagePreview({ page, group }: { page: Page; group: string }) {
  const { document: study, view } = useStudy();
  const shows = useMemo((): PreviewMessage => {
    const { groups, groupValues, variables, media } = study;
    const whose = { study: { groups, groupValues, variables, media }, group, participant: view.participant };
    const context = contextFor(whose, {}, sampleTally);
    return {
      entry: entryInto(study),
      page: { kind: "study-page", body: page.body, label: page.continueLabel, context },
    };
  }, [study, page, group, view.participant]);
  return (
    <ParticipantFrame shows={shows} label={`How participants see ${page.name}`} zoom={1} className="min-h-0 flex-1" />
  );
}
