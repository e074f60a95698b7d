import { useMemo, useState, type ReactNode } from "react";
import { Button } from "~/app/components/button";
import { ParticipantFrame } from "~/app/components/participant-frame";
import { Dialog } from "~/app/components/dialog";
import { Choice, NumberField, TextField, Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { setAbout, setParticipation, setSettings } from "~/core/design/edits/study";
import type { Participation } from "~/core/design/participation";
import { entryInto } from "~/core/run/entry";
import type { PreviewMessage } from "~/player/preview";
import { isShipped, shippedLanguages } from "~/core/wording/wording";
import { WordingTable } from "./wording-table";

/** The pages around the parts, as shown while they are set. */
const previews = {
  entry: "Entry",
  checks: "Checks",
  loading: "Loading",
  pause: "Pause",
  leaving: "Leaving",
  sending: "Sending",
  ending: "Ending",
} as const;
type Preview = keyof typeof previews;

const freshWindow = { width: 1024, height: 640 };

/** The settings of the pages from link to goodbye, beside a view of each. */
export function ParticipantPages() {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>From link to goodbye …</Button>
      <Dialog
        wide
        open={isOpen}
        onOpenChange={setOpen}
        title="From link to goodbye"
        description="What participants meet before, between and after the parts of the study."
      >
        <Settings />
      </Dialog>
    </>
  );
}

function Settings() {
  const { document, edit } = useStudy();
  const [shown, show] = useState<Preview>("entry");
  const { settings } = document;
  const { participation } = settings;
  const { checks } = participation;
  const entry = useMemo(() => entryInto(document), [document]);
  const isPlayedAgain = participation.interrupted === "redo";
  const preview = useMemo(
    (): PreviewMessage => ({ entry, page: shown === "pause" ? { kind: shown, isPlayedAgain } : { kind: shown } }),
    [entry, shown, isPlayedAgain],
  );
  const set = (change: Partial<Participation>, page: Preview, merge?: string) => {
    edit(setParticipation(change), merge);
    show(page);
  };
  return (
    <>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-5">
        <div className="grid content-start gap-2.5">
          <Line label="Language">
            <Language />
          </Line>
          <label className="grid gap-1 text-sm">
            <span className="text-muted">Said on the entry page, one paragraph a line</span>
            <textarea
              rows={4}
              maxLength={10_000}
              className="field !h-auto resize-y py-1.5"
              value={participation.welcome}
              placeholder="What it is about, how long it takes, what is needed."
              onFocus={() => show("entry")}
              onChange={({ target }) => set({ welcome: target.value }, "entry", "welcome")}
            />
          </label>
          <label className="grid gap-1 text-sm">
            <span className="text-muted">Who answers participants’ questions</span>
            <input
              className="field"
              maxLength={1000}
              value={participation.contact}
              placeholder="Name, e-mail address or telephone"
              onFocus={() => show("entry")}
              onChange={({ target }) => set({ contact: target.value }, "entry", "contact")}
            />
          </label>
          <Line label="Own code">
            <Choice
              label="Own code"
              value={participation.ownCode}
              options={[
                ["none", "is not asked for"],
                ["may", "can be typed"],
                ["must", "has to be typed"],
              ]}
              onChange={(ownCode) => set({ ownCode }, "entry")}
            />
          </Line>
          <Tick checked={participation.elsewhere} onChange={(elsewhere) => set({ elsewhere }, "entry")}>
            can continue on another computer, with a code they are given
          </Tick>
          <Tick checked={participation.others === true} onChange={(others) => set({ others }, "ending")}>
            others can start on the same computer, as in a laboratory
          </Tick>
          <h3 className="mt-1 text-xs font-semibold text-muted">Looked at before loading</h3>
          <div className="flex flex-wrap items-center gap-2">
            <Tick
              checked={checks.smallest !== undefined}
              onChange={(on) => set({ checks: { ...checks, smallest: on ? freshWindow : undefined } }, "checks")}
            >
              window of at least
            </Tick>
            {checks.smallest && (
              <span className="flex w-44 items-center gap-1">
                {(["width", "height"] as const).map((side) => (
                  <NumberField
                    key={side}
                    label={`Smallest ${side} in pixels`}
                    whole
                    least={100}
                    suffix={side === "height" ? "px" : "×"}
                    value={(checks.smallest ?? freshWindow)[side]}
                    onChange={(value) =>
                      set(
                        { checks: { ...checks, smallest: { ...(checks.smallest ?? freshWindow), [side]: value } } },
                        "checks",
                      )
                    }
                  />
                ))}
              </span>
            )}
          </div>
          <Tick checked={checks.keyboard} onChange={(keyboard) => set({ checks: { ...checks, keyboard } }, "checks")}>
            a keyboard is there
          </Tick>
          <Tick checked={checks.sound} onChange={(sound) => set({ checks: { ...checks, sound } }, "checks")}>
            sound can be heard: tones are counted
          </Tick>
          <Tick
            checked={settings.fullScreen}
            onChange={(fullScreen) => {
              edit(setSettings({ fullScreen }));
              show("checks");
            }}
          >
            full screen, asked for and taken up again
          </Tick>
          <h3 className="mt-1 text-xs font-semibold text-muted">On the way</h3>
          <Line label="Looking away">
            <Choice
              label="A trial in which the focus or full screen is lost"
              value={participation.interrupted}
              options={[
                ["finish", "the trial is finished, then it waits"],
                ["redo", "the trial is broken off and comes again"],
              ]}
              onChange={(interrupted) => set({ interrupted }, "pause")}
            />
          </Line>
          <Line label="Leaving">
            <Choice
              label="Records of someone who leaves for good"
              value={participation.withdrawn}
              options={[
                ["keep", "for good keeps the answers so far"],
                ["remove", "for good removes all answers"],
              ]}
              onChange={(withdrawn) => set({ withdrawn }, "leaving")}
            />
          </Line>
        </div>
        <div className="grid content-start gap-2">
          <div role="group" aria-label="Page shown" className="flex flex-wrap gap-0.5">
            {Object.entries(previews).map(([page, name]) => (
              <button
                key={page}
                type="button"
                aria-pressed={page === shown}
                onClick={() => show(page as Preview)}
                className={`rounded-md px-1.5 py-0.5 text-sm ${page === shown ? "bg-plumage-tint font-semibold text-plumage" : "text-muted hover:bg-plumage-tint"}`}
              >
                {name}
              </button>
            ))}
          </div>
          <ParticipantFrame
            shows={preview}
            label={`The page “${previews[shown]}” as participants see it`}
            zoom={0.7}
            className="h-[330px]"
          />
          <p className="caption">
            <b>Live view.</b> <em>As participants read it; changed wording shows at once.</em>
          </p>
        </div>
      </div>
      <WordingTable />
    </>
  );
}

/** One of the languages that are shipped, or any other by its tag: then the wording is English until it is written here. */
function Language() {
  const { document, edit } = useStudy();
  const { language } = document;
  const set = (tag: string) => edit(setAbout({ language: tag }), "language");
  const known = Object.entries(shippedLanguages);
  const isListed = known.some(([tag]) => tag === language);
  return (
    <>
      <span className="min-w-[150px] flex-1">
        <Choice
          label="Language of participants’ pages"
          value={isListed ? language : "other"}
          options={[...known, ["other", isListed ? "another …" : `another: ${language}`]]}
          onChange={(tag) => set(tag === "other" ? `${language}-x-own` : tag)}
        />
      </span>
      {!isListed && (
        <TextField
          label="Language tag"
          value={language}
          onChange={set}
          problem={(text) =>
            /^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/.test(text) ? null : "Type a language tag such as fi or de-CH."
          }
        />
      )}
      {!isShipped(language) && <span className="text-xs text-chestnut">English wording</span>}
    </>
  );
}

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="grid grid-cols-[86px_minmax(0,1fr)] items-center gap-2 text-sm">
    <span className="text-muted">{label}</span>
    <span className="flex min-w-0 items-center gap-2">{children}</span>
  </div>
);
