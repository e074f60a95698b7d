import { useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { useDone } from "~/app/components/use-done";
import { Choice, TextField } from "~/app/components/fields";
import { addressProblem, codesIn, mostOfCode, type EndName, type Ends } from "~/core/collect/ends";
import type { CodesLeft } from "~/server/ends";

const asJson = { method: "post", encType: "application/json" } as const;
type Of = { link: string } | { set: string };
/** Any of the ends, with what only some of them can have. */
type AnyEnd = NonNullable<Ends["finished"]>;
type CodeKind = NonNullable<AnyEnd["code"]>["kind"];

const ends: [EndName, string][] = [
  ["finished", "Finished"],
  ["screened-out", "Screened out"],
  ["declined", "Declined"],
  ["full", "Came when full"],
];
const codes: [CodeKind, string][] = [
  ["none", "no code"],
  ["own", "one each, made here"],
  ["same", "the same for all"],
  ["listed", "one each, of a list"],
];

type Props = { of: Of; ends: Ends | undefined; codes: CodesLeft[string]; save: (ends: Ends) => void };

/** What people are shown at their end by a link: a text, a code, and a way back to where they came from. */
export function LinkEnds({ of, ends: all = {}, codes: left, save }: Props) {
  const set = (name: EndName, change: Partial<AnyEnd>) => {
    const next = Object.fromEntries(
      Object.entries({ ...(all[name] as AnyEnd | undefined), ...change }).filter(([, value]) => value !== undefined),
    );
    const others = Object.fromEntries(Object.entries(all).filter(([each]) => each !== name));
    save(Object.keys(next).length === 0 ? others : { ...others, [name]: next });
  };
  return (
    <div role="group" aria-label="What is shown at the end" className="pb-1 pt-2">
      <div
        aria-hidden="true"
        className="grid grid-cols-[104px_minmax(0,5fr)_minmax(0,4fr)_minmax(0,6fr)] gap-x-3 text-xs font-semibold text-muted"
      >
        <span />
        <span>Text</span>
        <span>Code</span>
        <span>Return address, to which a button leads</span>
      </div>
      {ends.map(([name, words]) => (
        <EndRow
          key={name}
          name={name}
          words={words}
          of={of}
          end={all[name]}
          left={left[name]}
          set={(change) => set(name, change)}
        />
      ))}
      <p className="mt-1.5 text-sm text-muted">
        A return address can hold <Placeholder>participant.code</Placeholder>, <Placeholder>session.code</Placeholder>{" "}
        (the code shown, or else the session’s own) and <Placeholder>link.NAME</Placeholder>: the value of NAME in the
        address by which the person came.
      </p>
    </div>
  );
}

const Placeholder = ({ children }: { children: string }) => (
  <span className="whitespace-nowrap font-mono text-xs">{`{{${children}}}`}</span>
);

type RowProps = {
  name: EndName;
  words: string;
  of: Of;
  end: AnyEnd | undefined;
  left: { all: number; given: number } | undefined;
  set: (change: Partial<AnyEnd>) => void;
};

function EndRow({ name, words, of, end, left, set }: RowProps) {
  const usual: CodeKind = name === "finished" ? "own" : "none";
  const kind = end?.code?.kind ?? usual;
  const isFull = name === "full";
  return (
    <div
      role="group"
      aria-label={words}
      className="grid grid-cols-[104px_minmax(0,5fr)_minmax(0,4fr)_minmax(0,6fr)] items-start gap-x-3 border-t border-hairline py-1.5"
    >
      <span className="pt-1 text-sm">{words}</span>
      {isFull ? (
        <span className="pt-1 text-sm text-muted">As said to those who cannot begin</span>
      ) : (
        <textarea
          aria-label="Text"
          rows={2}
          maxLength={2000}
          defaultValue={end?.says ?? ""}
          placeholder="As the study says"
          className="field !h-auto py-1"
          onBlur={({ target }) =>
            target.value !== (end?.says ?? "") && set({ says: target.value.trim() === "" ? undefined : target.value })
          }
        />
      )}
      <div className="grid gap-1">
        <Choice
          label="Code"
          value={kind}
          options={isFull ? codes.filter(([each]) => each === "none" || each === "same") : codes}
          onChange={(next) =>
            set({
              code: next === usual ? undefined : next === "same" ? { kind: next, code: "TIDE" } : { kind: next },
            })
          }
        />
        {end?.code?.kind === "same" && (
          <TextField
            label="The code for all"
            value={end.code.code}
            problem={(text) =>
              text.trim() === ""
                ? "Type the code."
                : text.length > mostOfCode
                  ? `At most ${mostOfCode} characters.`
                  : null
            }
            onChange={(code) => set({ code: { kind: "same", code } })}
          />
        )}
        {kind === "listed" && <Listed of={of} ending={name} left={left ?? { all: 0, given: 0 }} />}
      </div>
      <TextField
        label="Return address"
        value={end?.address ?? ""}
        problem={(text) =>
          text.length > 2000 ? "At most 2,000 characters." : text.trim() === "" ? null : addressProblem(text)
        }
        onChange={(text) => set({ address: text.trim() === "" ? undefined : text.trim() })}
      />
    </div>
  );
}

/** How many codes of a list are left, with a way to add some. */
function Listed({
  of,
  ending,
  left: { all, given },
}: {
  of: Of;
  ending: EndName;
  left: { all: number; given: number };
}) {
  const sending = useFetcher<{ reason?: string }>();
  const [isAdding, setAdding] = useState(false);
  const [text, setText] = useState("");
  const [isTried, setTried] = useState(false);
  const read = codesIn(text);
  const problem = "reason" in read ? read.reason : null;
  const beside = { of: "link" in of ? of.link : of.set, ending };
  const add = () => {
    setTried(true);
    if ("reason" in read) return;
    void sending.submit({ do: "add-codes", ...beside, codes: read.codes } as never, asJson);
  };
  useDone(sending, () => {
    setAdding(false);
    setText("");
    setTried(false);
  });
  return (
    <div className="flex flex-wrap items-center gap-x-2 text-sm">
      <span className={all - given < 10 ? "text-chestnut" : "text-muted"}>
        {all === 0 ? "No codes yet." : `${given} of ${all} given out.`}
      </span>
      <Button look="quiet" className="!px-1" onClick={() => setAdding(true)}>
        Add codes
      </Button>
      {all > given && (
        <Button
          look="quiet"
          className="!px-1"
          onClick={() => void sending.submit({ do: "remove-codes", ...beside }, asJson)}
        >
          Remove those left
        </Button>
      )}
      <Dialog
        open={isAdding}
        onOpenChange={setAdding}
        title="Codes of a list"
        description="Each is shown to one person, in this order. Once all are given out, people are shown a code that is made here."
      >
        <label className="grid gap-0.5 text-sm text-muted">
          One code a line
          <textarea
            autoFocus
            rows={8}
            className="field !h-auto py-1 font-mono text-xs"
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </label>
        <p className="text-sm text-muted">
          {"codes" in read && (read.codes.length === 1 ? "One code." : `${read.codes.length} codes.`)}
        </p>
        {isTried && (problem ?? sending.data?.reason) && (
          <p role="alert" className="text-alarm">
            {problem ?? sending.data?.reason}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAdding(false)}>Not now</Button>
          <Button look="primary" disabled={sending.state !== "idle"} onClick={add}>
            Add the codes
          </Button>
        </div>
      </Dialog>
    </div>
  );
}
