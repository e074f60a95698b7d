import { Monitor, Smartphone } from "lucide-react";
import { useMemo, useState } from "react";
import { ParticipantFrame } from "~/app/components/participant-frame";
import { IconButton } from "~/app/components/button";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { freshAllocation } from "~/core/design/allocation";
import type { StudyDocument } from "~/core/design/document";
import type { Page } from "~/core/design/page";
import { seedOf } from "~/core/order/seed";
import { entryInto } from "~/core/run/entry";
import { emptyBlockTally, type Tally } from "~/core/values/tally";
import type { PreviewMessage } from "~/player/preview";

/** What a page that tells how it went shows here: a block of twenty trials with two errors, the last in 412 ms. */
const sampleTally: Tally = {
  trialsDone: 20,
  session: { scored: 20, right: 18 },
  block: { ...emptyBlockTally, done: 20, scored: 20, right: 18, rtSum: 18 * 412, rtCount: 18 },
  last: { answer: "f", right: true, rt: 412, outcome: "right" },
  answers: {},
};

/** The study with nothing but its pages, this one alone in its running order: all that the page can show. */
const withPageAlone = (study: StudyDocument, page: Page): StudyDocument => ({
  ...study,
  parts: Object.fromEntries(Object.entries(study.parts).filter(([, part]) => part.kind === "page")),
  runningOrder: [{ kind: "part", part: page.id }],
  allocation: freshAllocation,
});

/** The page as participants see it, drawn and played by the player in a frame: answers can be tried. */
export function LiveView({ page, group, caption }: { page: Page; group: string; caption: string }) {
  const { code, document: study, view } = useStudy();
  const [isPhone, setPhone] = useState(false);
  const shows = useMemo((): PreviewMessage => {
    const url = mediaUrlIn(code, study);
    return {
      entry: entryInto(study),
      page: {
        kind: "study-page",
        document: withPageAlone(study, page),
        part: page.id,
        group,
        participant: view.participant,
        seed: seedOf(study, 1),
        tally: sampleTally,
        media: Object.fromEntries(study.media.flatMap(({ id }) => (url(id) === null ? [] : [[id, url(id) ?? ""]]))),
        goesOn: { title: "The participant goes on from here.", again: "Once more" },
      },
    };
  }, [code, study, page, group, view.participant]);
  return (
    <>
      <div className={`min-h-0 flex-1 ${isPhone ? "flex justify-center" : ""}`}>
        <ParticipantFrame
          shows={shows}
          isTried
          label={`How participants see ${page.name}`}
          zoom={isPhone ? 0.8 : 0.85}
          className={isPhone ? "h-full w-[312px] rounded-[18px] !border-2 !border-muted" : "h-full"}
        />
      </div>
      <p className="caption flex items-center gap-2">
        <span>
          <b>Live view.</b> <em>{caption}</em>
        </span>
        <span className="ml-auto flex">
          <IconButton
            icon={Monitor}
            label="As on a computer"
            aria-pressed={!isPhone}
            className={isPhone ? "" : "!text-plumage"}
            onClick={() => setPhone(false)}
          />
          <IconButton
            icon={Smartphone}
            label="As on a phone"
            aria-pressed={isPhone}
            className={isPhone ? "!text-plumage" : ""}
            onClick={() => setPhone(true)}
          />
        </span>
      </p>
    </>
  );
}
