import { Clipboard, KeyRound } from "lucide-react";
import { useState } from "react";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import type { ScriptKey } from "~/server/script-keys";

const asJson = { method: "post", encType: "application/json" } as const;
const lasts = [
  [30, "30 days"],
  [90, "90 days"],
  [366, "a year"],
] as const;

type Props = { keys: ScriptKey[]; account: string; mayMake: boolean; endsAll: boolean };

/** The keys with which programs read the study's data. */
export function KeyList({ keys, account, mayMake, endsAll }: Props) {
  const { code } = useStudy();
  const making = useFetcher<{ reason?: string; made?: string }>();
  const ending = useFetcher<{ reason?: string }>();
  const [name, setName] = useState("");
  const [days, setDays] = useState<number>(lasts[1][0]);
  useDone(making, () => setName(""));
  const made = making.data?.made;
  const refused = making.data?.reason ?? ending.data?.reason;
  return (
    <section aria-labelledby="keys">
      <h2 id="keys" className="font-serif text-[20px]">
        Keys for scripts
      </h2>
      <p className="text-sm text-muted">
        With a key a program reads the data of this study and nothing else, for as long as whoever made it may see them.
      </p>
      {keys.length > 0 && (
        <ul className="mt-2 border border-hairline bg-sheet text-sm">
          {keys.map((key) => (
            <li key={key.id} className="flex items-center gap-2 border-b border-hairline px-3 py-1.5 last:border-b-0">
              <KeyRound size={15} aria-hidden="true" className="shrink-0 text-muted" />
              <span className="min-w-0">
                <b>{key.name}</b> <span className="text-muted">of {key.owner}</span>
                <span className="block text-xs text-muted">
                  {key.opens
                    ? "until "
                    : Date.parse(key.expiresAt) < Date.now()
                      ? "too old since "
                      : "opens nothing now, until "}
                  <When iso={key.expiresAt} />, {key.usedAt === null ? "never used" : "last used "}
                  {key.usedAt !== null && <When iso={key.usedAt} form="moment" />}
                </span>
              </span>
              {(endsAll || key.accountId === account) && (
                <Button
                  look="quiet"
                  className="ml-auto"
                  onClick={() => void ending.submit({ do: "end-key", key: key.id }, asJson)}
                >
                  End it
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {mayMake && (
        <form
          className="mt-2 flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim() !== "") void making.submit({ do: "make-key", name: name.trim(), days }, asJson);
          }}
        >
          <input
            aria-label="What the key is for"
            placeholder="what it is for"
            maxLength={80}
            value={name}
            onChange={({ target }) => setName(target.value)}
            className="field !w-[180px]"
          />
          <select
            aria-label="How long it lasts"
            className="field !w-[100px]"
            value={days}
            onChange={({ target }) => setDays(Number(target.value))}
          >
            {lasts.map(([count, words]) => (
              <option key={count} value={count}>
                {words}
              </option>
            ))}
          </select>
          <Button type="submit" disabled={name.trim() === "" || making.state !== "idle"}>
            Make a key
          </Button>
        </form>
      )}
      {refused && (
        <p role="alert" className="mt-2 text-sm text-alarm">
          {refused}
        </p>
      )}
      {made !== undefined && (
        <div role="status" className="mt-2 rounded-md border border-plumage bg-plumage-tint p-3 text-sm">
          <p>This is the key. It is shown this once; keep it where your script finds it.</p>
          <p className="my-1 flex items-center gap-2">
            <code className="select-all break-all font-mono text-xs" data-key>
              {made}
            </code>
            <Button
              icon={Clipboard}
              look="quiet"
              onClick={() =>
                copyText(made, "The key is copied.", "The browser blocked copying. Select the key and copy it.")
              }
            >
              Copy
            </Button>
          </p>
          <p className="text-muted">For example:</p>
          <code className="block break-all font-mono text-xs">
            curl -H "Authorization: Bearer KEY" {typeof location === "undefined" ? "" : location.origin}/studies/{code}
            /trials.csv
          </code>
        </div>
      )}
    </section>
  );
}
