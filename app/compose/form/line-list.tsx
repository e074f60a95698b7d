import { FlipHorizontal2, Plus, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Section, TextField } from "~/app/components/fields";
import { nameProblem } from "~/core/values/names";

type Line = { id: string; name: string; reversed?: boolean | undefined };

/** Statements or pairs: their names, their words, and which count in the other direction. */
export function LineList<L extends Line>({
  title,
  one,
  lines,
  onChange,
  fresh,
  words,
  pasted,
}: {
  title: string;
  one: string;
  lines: L[];
  onChange: (lines: L[], merge?: string) => void;
  fresh: (number: number) => L;
  words: (line: L, change: (to: Partial<L>) => void, number: number) => ReactNode;
  /** Lines made of pasted text; none where it is to be pasted as usual. */
  pasted: (text: string, from: number) => L[];
}) {
  const change = (id: string, to: Partial<L>, merge?: string) =>
    onChange(
      lines.map((each) => (each.id === id ? { ...each, ...to } : each)),
      merge,
    );
  const nameFault = (id: string, name: string) =>
    nameProblem(
      name,
      lines.filter((each) => each.id !== id).map((each) => each.name),
    );
  return (
    <Section title={title} aside={`${lines.length}`}>
      {lines.map((line, index) => (
        <div
          key={line.id}
          className="grid gap-0.5 border-l-2 border-hairline pl-2"
          onPaste={(event) => {
            const more = pasted(event.clipboardData.getData("text/plain"), lines.length);
            if (more.length < 2) return;
            event.preventDefault();
            onChange([...lines, ...more]);
          }}
        >
          <div className="flex items-center gap-1">
            <TextField
              label={`Name of ${one} ${index + 1}`}
              value={line.name}
              onChange={(name) => change(line.id, { name } as Partial<L>, `name ${line.id}`)}
              problem={(name) => nameFault(line.id, name)}
            />
            <IconButton
              icon={FlipHorizontal2}
              label={line.reversed ? `Count ${one} ${index + 1} as it stands` : `Count ${one} ${index + 1} reversed`}
              className={line.reversed ? "!text-plumage" : ""}
              onClick={() => change(line.id, { reversed: !line.reversed } as Partial<L>)}
            />
            <IconButton
              icon={Trash2}
              label={`Remove ${one} ${index + 1}`}
              onClick={() => onChange(lines.filter(({ id }) => id !== line.id))}
            />
          </div>
          {words(line, (to) => change(line.id, to, `words ${line.id}`), index + 1)}
          {line.reversed && <span className="text-xs text-muted">counts reversed</span>}
        </div>
      ))}
      <Button
        icon={Plus}
        look="quiet"
        className="justify-self-start"
        onClick={() => onChange([...lines, fresh(lines.length + 1)])}
      >
        {one.replace(/^./, (letter) => letter.toUpperCase())}
      </Button>
    </Section>
  );
}
