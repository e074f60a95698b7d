import { Plus, Trash2 } from "lucide-react";
import { AddLine } from "~/app/components/add-line";
import { Button, IconButton } from "~/app/components/button";
import { namedWithin, Choice, Property, Section, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addSittings, removeSitting, setSitting } from "~/core/design/edits/sittings";
import type { Sitting } from "~/core/design/sittings";

const reminder =
  "Your next sitting can begin on {{from}}, and should be done by {{until}}. This link leads you there: {{link}}";
const usually = { from: 6, until: 8, late: "may" } as const;

/** The sittings of a participant: what each is called, on which days it is due, and what those it is due for are written. */
export function SittingsSettings() {
  const { document, edit } = useStudy();
  const { sittings } = document;
  const fresh = (name: string, more: Partial<Sitting> = {}): Sitting => ({
    id: newId("sitting"),
    name,
    reminder: "",
    ...more,
  });
  const add = () =>
    edit(
      sittings.length === 0
        ? addSittings(fresh("First sitting"), fresh("A week later", { due: usually, reminder }))
        : addSittings(fresh(`Sitting ${sittings.length + 1}`, { due: usually, reminder })),
    );
  return (
    <Section title="Sittings">
      {sittings.map((sitting, index) => (
        <OneSitting key={sitting.id} sitting={sitting} number={index + 1} />
      ))}
      {sittings.length === 0 ? (
        <>
          <Button icon={Plus} className="justify-self-start" onClick={add}>
            Several sittings of a person
          </Button>
          <p className="text-sm text-muted">
            Without them, who comes again by the same code plays the same parts once more, as often as they come.
          </p>
        </>
      ) : (
        <>
          <AddLine says="Another sitting" onClick={add} />
          <p className="text-sm text-muted">
            Days are counted from the end of the sitting before. Which sittings have a part is said where the part is
            chosen. People are known by links of their own, or by a code.
          </p>
        </>
      )}
    </Section>
  );
}

const dayBetween = (least: number, most: number) => (text: string) =>
  !/^\d{1,4}$/.test(text.trim())
    ? "Type a whole number of days."
    : Number(text) < least
      ? `Must be ${least} or more.`
      : Number(text) > most
        ? `Must be at most ${most}.`
        : null;

function OneSitting({ sitting: { id, name, due, reminder: text }, number }: { sitting: Sitting; number: number }) {
  const { edit } = useStudy();
  const set = (change: Partial<Omit<Sitting, "id">>, key: string) => edit(setSitting(id, change), `${key} ${id}`);
  return (
    <div role="group" aria-label={`Sitting ${number}`} className="grid gap-1 border-b border-hairline pb-2">
      <Property label={`Sitting ${number}`}>
        <TextField
          label={`Name of sitting ${number}`}
          value={name}
          problem={namedWithin(60)}
          onChange={(typed) => set({ name: typed.trim() }, "name")}
        />
        <IconButton icon={Trash2} label={`Remove sitting ${number}`} onClick={() => edit(removeSitting(id))} />
      </Property>
      {number > 1 && (
        <>
          <Property label="Due">
            <Choice
              label={`When sitting ${number} is due`}
              value={due ? "days" : "any"}
              options={[
                ["any", "as soon as the one before is over"],
                ["days", "so many days after it"],
              ]}
              onChange={(kind) => set({ due: kind === "days" ? usually : undefined }, "due")}
            />
          </Property>
          {due && (
            <>
              <Property label="From day">
                <TextField
                  label={`First day of sitting ${number}`}
                  value={String(due.from)}
                  problem={dayBetween(0, due.until)}
                  onChange={(text) => set({ due: { ...due, from: Number(text) } }, "due")}
                />
              </Property>
              <Property label="To day">
                <TextField
                  label={`Last day of sitting ${number}`}
                  value={String(due.until)}
                  problem={dayBetween(due.from, 3650)}
                  onChange={(text) => set({ due: { ...due, until: Number(text) } }, "due")}
                />
              </Property>
              <Property label="Later">
                <Choice
                  label={`Sitting ${number} after its last day`}
                  value={due.late}
                  options={[
                    ["may", "may still be begun"],
                    ["may-not", "may not be begun any more"],
                  ]}
                  onChange={(late) => set({ due: { ...due, late } }, "due")}
                />
              </Property>
            </>
          )}
          <label className="grid gap-0.5 text-sm text-muted">
            What is written to those it is due for
            <textarea
              aria-label={`Reminder of sitting ${number}`}
              rows={3}
              maxLength={2000}
              value={text}
              placeholder="With {{who}}, {{link}}, {{from}} and {{until}} in it"
              className="field !h-auto resize-y py-1.5"
              onChange={({ target }) => set({ reminder: target.value }, "reminder")}
            />
          </label>
        </>
      )}
    </div>
  );
}
