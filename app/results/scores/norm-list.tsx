import { Ellipsis, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { readFileAs, saveAsFile } from "~/app/components/read-file";
import { bandInWords, normFile, sizeOf } from "~/core/persons/norm";
import { inList } from "~/core/describe/in-words";
import type { ScoresAnswer } from "~/server/results/scores";
import { AddNorm } from "./add-norm";
import { usePersons } from "./use-persons";

type Line = ScoresAnswer["norms"][number];

/** What a norm sample is, in a line. */
function normInWords({ norm }: Line): string {
  const size = sizeOf(norm);
  const bands = norm.bands.map(bandInWords).filter((words) => words !== "");
  return [
    ...(size === null ? [] : [`n = ${size.toLocaleString("en")}`]),
    bands.length === 0
      ? "one band for everybody"
      : `${bands.length} ${bands.length === 1 ? "band" : "bands"} (${bands.slice(0, 3).join("; ")}${bands.length > 3 ? " …" : ""})`,
    ...(norm.source === "" ? [] : [norm.source]),
    ...(norm.year === null ? [] : [String(norm.year)]),
    norm.better === "higher" ? "a higher score ranks higher" : "a lower score ranks higher",
    ...(norm.reliability === null
      ? []
      : [
          `reliability ${norm.reliability}, intervals of 95 % around ${norm.interval === "true" ? "the estimated true score" : "the score obtained"}`,
        ]),
  ].join(" · ");
}

/** The samples against which a score can be read. */
export function NormList({ score, answer }: { score: string; answer: ScoresAnswer }) {
  const { send, reason } = usePersons();
  const [adding, setAdding] = useState<"csv" | "own" | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { norms, described } = answer;
  const take = async (chosen: File) => {
    const read = await readFileAs(chosen, normFile, "norm sample");
    // What it is called there may be called otherwise here.
    if (read) send({ do: "add-norm", norm: { ...read.norm, score } });
  };
  return (
    <section aria-label="Norm samples" className="rounded-md border border-hairline bg-sheet px-4 py-3">
      <div className="flex items-center justify-between gap-3">
        <h3 className="font-serif text-[17px]">Norm samples</h3>
        <Menu align="end" trigger={<Button icon={Plus}>Add</Button>}>
          <MenuItem onSelect={() => setAdding("csv")}>From a table (CSV)…</MenuItem>
          <MenuItem onSelect={() => file.current?.click()}>From another study (.lapwing-norm.json)…</MenuItem>
          {described && described.n >= 2 && (
            <MenuItem onSelect={() => setAdding("own")}>Of the {described.n} sessions kept now…</MenuItem>
          )}
        </Menu>
      </div>
      <input
        ref={file}
        type="file"
        hidden
        accept=".json"
        aria-label="A norm sample’s file"
        onChange={({ target }) => {
          const [chosen] = target.files ?? [];
          if (chosen) void take(chosen);
          target.value = "";
        }}
      />
      {norms.length === 0 && (
        <p className="mt-1 text-sm text-muted">
          None yet. With one, each score is told with its percentile rank, z, T and stanine.
        </p>
      )}
      <ul className="mt-1 grid gap-2">
        {norms.map((line) => (
          <li key={line.id} className="flex items-start gap-2 border-t border-hairline pt-2 first:border-t-0">
            <div className="min-w-0 flex-1">
              <b className="break-words">{line.norm.name}</b>
              {line.isUsed && <span className="ml-2 rounded bg-plumage-tint px-1.5 text-xs">in use</span>}
              <span className="block text-xs text-muted">{normInWords(line)}</span>
              {line.missing.length > 0 && (
                <span role="alert" className="block text-xs text-alarm">
                  It asks for {inList(line.missing)}, which sessions of this study do not tell: nobody can be read in
                  those bands.
                </span>
              )}
              {line.isUsed && (
                <span className="block text-xs text-muted">
                  {line.reads} of {answer.total} sessions can be read against it.
                </span>
              )}
            </div>
            <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`More of ${line.norm.name}`} />}>
              {line.isUsed ? (
                <MenuItem onSelect={() => send({ do: "leave-norm", id: line.id })}>Read against none</MenuItem>
              ) : (
                <MenuItem onSelect={() => send({ do: "use-norm", id: line.id })}>Read against it</MenuItem>
              )}
              {line.norm.bands.every(({ values }) => values.kind !== "own") && (
                <MenuItem
                  onSelect={() =>
                    saveAsFile({ form: "lapwing-norm-1", norm: line.norm }, `${line.norm.score}.lapwing-norm.json`)
                  }
                >
                  Save as a file
                </MenuItem>
              )}
              <MenuItem alarm onSelect={() => send({ do: "remove-norm", id: line.id })}>
                Remove
              </MenuItem>
            </Menu>
          </li>
        ))}
      </ul>
      {reason !== undefined && (
        <p role="alert" className="mt-2 text-sm text-alarm">
          {reason}
        </p>
      )}
      {adding && <AddNorm score={score} kind={adding} answer={answer} close={() => setAdding(null)} />}
    </section>
  );
}
