import { ChevronDown, Lock } from "lucide-react";
import { useRef, useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { readFileAs, saveAsFile } from "~/app/components/read-file";
import { useStudy } from "~/app/editing/use-study";
import { exclusionFile, type ExclusionChange } from "~/core/exclusions/change";
import { freeTitle } from "~/core/values/names";
import type { Ledger } from "~/server/results/ledger";

type Asking = "add" | "rename" | "register" | "remove";
const titles: Record<Asking, string> = {
  add: "Make a set of your own",
  rename: "Rename the set",
  register: "Record as preregistered",
  remove: "Remove the set",
};
const says: Record<Asking, string> = {
  add: "It begins with the rules of the set in use, and is in use from now on. The other stays.",
  rename: "What was exported keeps what it says.",
  register:
    "The server writes down the rules with a hash, the time, how many sessions are in and whether anybody has looked at results. The set cannot be changed or removed after that; others can be made of it.",
  remove: "No data are touched. Another set is in use then, or the usual rules.",
};
/** What is known by now: whoever reads this looks at results. */
const known = ({ counts: { sessions } }: Ledger) =>
  sessions.in === 0
    ? "No session is in yet."
    : `${sessions.in.toLocaleString("en")} ${sessions.in === 1 ? "session is" : "sessions are"} in and results have been looked at: it will say so.`;
const does: Record<Asking, string> = { add: "Make it", rename: "Rename", register: "Record", remove: "Remove" };

/** The set of exclusions in use, and what can be done with sets. */
export function SetMenu({
  ledger,
  send,
  isSaving,
}: {
  ledger: Ledger;
  send: (change: ExclusionChange) => void;
  /** Rules are still being stored; what is done with a set is done with all of them. */
  isSaving: boolean;
}) {
  const { set, sets } = ledger;
  const { code } = useStudy();
  const file = useRef<HTMLInputElement>(null);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [name, setName] = useState("");
  const [problem, setProblem] = useState("");
  const ask = (what: Asking) => {
    setName(what === "rename" ? set.name : "");
    setProblem("");
    setAsking(what);
  };
  const done = (what: Asking) => {
    const called = name.trim();
    if (what === "add" || what === "rename") {
      if (called === "") return setProblem("Give it a name.");
      if (sets.some((each) => each.name === called && each.id !== set.id))
        return setProblem("There is a set of this name already.");
    }
    if (what === "add") send({ do: "add", name: called, from: set.id });
    else if (what === "register") send({ do: "register", set: set.id, version: set.version });
    else if (set.id !== null)
      send(what === "rename" ? { do: "rename", set: set.id, name: called } : { do: "remove", set: set.id });
    setAsking(null);
  };
  const save = () =>
    saveAsFile(
      { form: "lapwing-exclusions-1", name: set.name, rules: ledger.lines.map(({ rule }) => rule) },
      `${code}-exclusions.lapwing-exclusions.json`,
    );
  const take = async (chosen: File) => {
    const read = await readFileAs(chosen, exclusionFile, "set of exclusions");
    if (!read) return;
    const name = freeTitle(
      read.name,
      sets.map((each) => each.name),
    );
    send({ do: "take", name, rules: read.rules });
  };
  return (
    <>
      <ReadyToSend to={`/studies/${code}/exclusions`} />
      <input
        ref={file}
        type="file"
        hidden
        accept=".json"
        aria-label="A file with exclusions"
        onChange={({ target }) => {
          const [chosen] = target.files ?? [];
          if (chosen) void take(chosen);
          target.value = "";
        }}
      />
      <Menu
        align="end"
        trigger={
          <button
            type="button"
            aria-label={`Exclusions in use: ${set.name}`}
            disabled={isSaving}
            className="flex min-w-0 items-center gap-1 rounded-md border border-hairline px-2 py-0.5 text-sm"
          >
            {set.registered && <Lock size={12} aria-label="preregistered" className="shrink-0" />}
            <span className="truncate">{set.name}</span>
            <ChevronDown size={13} aria-hidden="true" className="shrink-0" />
          </button>
        }
      >
        {sets.map((each) => (
          <MenuItem key={each.id} onSelect={() => each.id !== set.id && send({ do: "use", set: each.id })}>
            <span className={each.id === set.id ? "font-semibold" : ""}>
              {each.name}
              {each.isRegistered && <span className="text-muted"> · preregistered</span>}
            </span>
          </MenuItem>
        ))}
        <MenuItem onSelect={() => ask("add")}>Make a set of your own …</MenuItem>
        <MenuItem onSelect={save}>Save as a file, for another study</MenuItem>
        <MenuItem onSelect={() => file.current?.click()}>From a file …</MenuItem>
        {set.id !== null && !set.registered && <MenuItem onSelect={() => ask("rename")}>Rename …</MenuItem>}
        {!set.registered && <MenuItem onSelect={() => ask("register")}>Record as preregistered …</MenuItem>}
        {set.id !== null && !set.registered && (
          <MenuItem alarm onSelect={() => ask("remove")}>
            Remove …
          </MenuItem>
        )}
      </Menu>
      {asking && (
        <Dialog
          open
          onOpenChange={() => setAsking(null)}
          title={titles[asking]}
          description={asking === "register" ? `${says.register} ${known(ledger)}` : says[asking]}
        >
          <form
            className="grid gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              done(asking);
            }}
          >
            {(asking === "add" || asking === "rename") && (
              <Field
                label="Name"
                value={name}
                maxLength={80}
                problem={problem || undefined}
                onChange={({ target }) => setName(target.value)}
              />
            )}
            <div className="flex justify-end gap-2">
              <Button type="button" onClick={() => setAsking(null)}>
                Leave it as it is
              </Button>
              <Button type="submit" look={asking === "remove" ? "alarm" : "primary"}>
                {does[asking]}
              </Button>
            </div>
          </form>
        </Dialog>
      )}
    </>
  );
}
