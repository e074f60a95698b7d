import { Choice } from "~/app/components/fields";
import { SentenceNumber } from "~/app/components/sentence";
import { whyUnsuited, type DeviceKind, type InputKind, type Suited } from "~/core/collect/suited";
import type { UnsuitedCounts } from "~/server/unsuited";

const devices: [string, string][] = [
  ["", "any device"],
  ["computer", "a computer"],
  ["computer tablet", "a computer or a tablet"],
  ["tablet phone", "a tablet or a phone"],
  ["tablet", "a tablet"],
  ["phone", "a phone"],
];
const inputs: [InputKind | "", string][] = [
  ["", "whatever there is"],
  ["keyboard", "a keyboard"],
  ["pointer", "a mouse or touchpad"],
  ["touch", "a touch screen"],
];
const usualWindow = { width: 1024, height: 700 };

/** On what people can take part by a link. */
export function LinkSuited({ on, save }: { on: Suited; save: (on: Suited | undefined) => void }) {
  const set = (change: Partial<Suited>) => {
    const next = Object.fromEntries(
      Object.entries({ ...on, ...change }).filter(([, value]) => value !== undefined),
    ) as Suited;
    save(Object.keys(next).length === 0 ? undefined : next);
  };
  const { window } = on;
  return (
    <div role="group" aria-label="On what one can take part" className="grid max-w-3xl grid-cols-4 gap-3 pb-1 pt-2">
      <Labelled label="Device">
        <Choice
          label="Device"
          value={on.devices?.join(" ") ?? ""}
          options={devices}
          onChange={(kinds) => set({ devices: kinds === "" ? undefined : (kinds.split(" ") as DeviceKind[]) })}
        />
      </Labelled>
      <Labelled label="To answer with">
        <Choice
          label="To answer with"
          value={on.input ?? ""}
          options={inputs}
          onChange={(input) => set({ input: input === "" ? undefined : input })}
        />
      </Labelled>
      <Labelled label="Window">
        <Choice
          label="Window"
          value={window ? "least" : "any"}
          options={[
            ["any", "of any size"],
            ["least", "of at least"],
          ]}
          onChange={(kind) => set({ window: kind === "any" ? undefined : usualWindow })}
        />
        {window && (
          <span className="font-serif text-base text-ink">
            <SentenceNumber
              label="Least width"
              value={window.width}
              whole
              least={100}
              most={10_000}
              onChange={(width) => set({ window: { ...window, width } })}
            />
            {" × "}
            <SentenceNumber
              label="Least height"
              value={window.height}
              whole
              least={100}
              most={10_000}
              unit=" pixels"
              onChange={(height) => set({ window: { ...window, height } })}
            />
          </span>
        )}
      </Labelled>
      <Labelled label="Browser">
        <Choice
          label="Browser"
          value={on.able ?? "any"}
          options={[
            ["any", "any"],
            ["yes", "one that is seen to be able"],
          ]}
          onChange={(kind) => set({ able: kind === "yes" ? kind : undefined })}
        />
      </Labelled>
      <p className="col-span-4 text-sm text-muted">
        Checked on the entry page. Whoever cannot take part is told so and counted; nothing is kept of them. A browser
        is able if its clock tells milliseconds and it draws at least 30 frames a second.
      </p>
    </div>
  );
}

const Labelled = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className="grid content-start gap-0.5 text-sm text-muted">
    {label}
    {children}
  </div>
);

/** How many could not take part on what they came with. */
export function Unsuited({ counts }: { counts: UnsuitedCounts[string] }) {
  const told = whyUnsuited.flatMap((why) => (counts[why] ? [`${counts[why]} for their ${why}`] : []));
  return (
    told.length > 0 && (
      <span title="They were told so on the entry page; nothing is kept of them">; turned away: {told.join(", ")}</span>
    )
  );
}
