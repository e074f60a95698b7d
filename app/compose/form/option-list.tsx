import { withoutUndefined } from "~/core/shape/without-undefined";
import { ArrowDownToLine, Check, Image, Minus, MoreHorizontal, Plus, Trash2 } from "lucide-react";
import { MediaPicker } from "~/app/media/media-picker";
import { Button, IconButton } from "~/app/components/button";
import { ChoiceLine, NumberField, Property, Section, Switch, TextField } from "~/app/components/fields";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import type { Option } from "~/core/questions/options";

type Offering = { options: Option[]; order: "listed" | "shuffled" | "rotated"; other?: string | undefined };
type Props = {
  question: Offering;
  set: (change: Partial<Offering>, merge?: string) => void;
  /** What options can be here beside their words. */
  can: { right?: boolean; alone?: boolean; pictures?: boolean; other?: boolean };
};

const orders = [
  ["listed", "as listed"],
  ["shuffled", "shuffled"],
  ["rotated", "rotated"],
] as const;

/** The options of a question: their words, what stands in the data, what is right, and in which order they are shown. */
export function OptionList({ question, set, can }: Props) {
  const { options } = question;
  const change = (id: string, to: Partial<Option>, merge?: string) =>
    set({ options: options.map((each) => (each.id === id ? withoutUndefined({ ...each, ...to }) : each)) }, merge);
  const move = (index: number, by: 1 | -1) => {
    const next = [...options];
    const [moved] = next.splice(index, 1);
    if (moved) next.splice(index + by, 0, moved);
    set({ options: next });
  };
  const paste = (text: string) => {
    const lines = text
      .split(/\r?\n/)
      .map((line) => line.trim())
      .filter(Boolean);
    if (lines.length < 2) return false;
    set({
      options: [
        ...options.filter(({ label }) => label !== ""),
        ...lines.slice(0, 300).map((label) => ({ id: newId("option"), label })),
      ],
    });
    return true;
  };
  return (
    <Section title="Options" aside={`${options.length}`}>
      {options.map((option, index) => (
        <div
          key={option.id}
          className="flex items-center gap-1"
          onPaste={(event) => paste(event.clipboardData.getData("text/plain")) && event.preventDefault()}
        >
          <TextField
            label={`Option ${index + 1}`}
            value={option.label}
            onChange={(label) => change(option.id, { label }, `label ${option.id}`)}
            problem={(label) => (label.trim() ? null : "Type what participants read.")}
          />
          {option.right && <Check size={14} className="shrink-0 text-plumage" aria-label="right" />}
          {option.last && <ArrowDownToLine size={14} className="shrink-0 text-muted" aria-label="stays last" />}
          {option.alone && <Minus size={14} className="shrink-0 text-muted" aria-label="excludes the others" />}
          {option.picture !== undefined && (
            <Image size={14} className="shrink-0 text-muted" aria-label="with a picture" />
          )}
          <Menu
            align="end"
            trigger={
              <IconButton icon={MoreHorizontal} label={`More of option ${index + 1}`} className="!w-5 shrink-0" />
            }
          >
            {can.right && (
              <MenuItem onSelect={() => change(option.id, { right: option.right ? undefined : true })}>
                {option.right ? "Not a right answer" : "A right answer"}
              </MenuItem>
            )}
            <MenuItem
              onSelect={() => change(option.id, { value: option.value === undefined ? option.label : undefined })}
            >
              {option.value === undefined ? "Another value in the data" : "Its words in the data"}
            </MenuItem>
            <MenuItem onSelect={() => change(option.id, { points: option.points === undefined ? 0 : undefined })}>
              {option.points === undefined ? "Points of its own" : "No points of its own"}
            </MenuItem>
            {can.pictures && (
              <MenuItem onSelect={() => change(option.id, { picture: option.picture === undefined ? "" : undefined })}>
                {option.picture === undefined ? "With a picture" : "Without a picture"}
              </MenuItem>
            )}
            <MenuItem onSelect={() => change(option.id, { last: option.last ? undefined : true })}>
              {option.last ? "Shuffled with the others" : "Stays last"}
            </MenuItem>
            {can.alone && (
              <MenuItem onSelect={() => change(option.id, { alone: option.alone ? undefined : true })}>
                {option.alone ? "Goes with others" : "Excludes the others"}
              </MenuItem>
            )}
            {index > 0 && <MenuItem onSelect={() => move(index, -1)}>Move up</MenuItem>}
            {index < options.length - 1 && <MenuItem onSelect={() => move(index, 1)}>Move down</MenuItem>}
            <MenuItem onSelect={() => set({ options: options.filter(({ id }) => id !== option.id) })}>
              <Trash2 size={14} aria-hidden="true" /> Remove
            </MenuItem>
          </Menu>
        </div>
      ))}
      {options.map(
        (option, index) =>
          (option.value !== undefined || option.points !== undefined || option.picture !== undefined) && (
            <div key={option.id} className="grid gap-0.5 border-l-2 border-hairline pl-2">
              <span className="truncate text-xs text-muted">
                {index + 1}. {option.label}
              </span>
              {option.value !== undefined && (
                <Property label="In the data">
                  <TextField
                    label={`Value of option ${index + 1}`}
                    value={option.value}
                    onChange={(value) => change(option.id, { value }, `value ${option.id}`)}
                    problem={(value) => (value ? null : "Type what stands in the data.")}
                  />
                </Property>
              )}
              {option.points !== undefined && (
                <Property label="Points">
                  <NumberField
                    label={`Points of option ${index + 1}`}
                    value={option.points}
                    onChange={(points) => change(option.id, { points }, `points ${option.id}`)}
                  />
                </Property>
              )}
              {option.picture !== undefined && (
                <Property label="Picture">
                  <MediaPicker
                    kind="picture"
                    value={option.picture}
                    onChange={(picture) => change(option.id, { picture })}
                  />
                </Property>
              )}
            </div>
          ),
      )}
      <Button
        icon={Plus}
        look="quiet"
        className="justify-self-start"
        onClick={() => set({ options: [...options, { id: newId("option"), label: `option ${options.length + 1}` }] })}
      >
        Option
      </Button>
      <ChoiceLine says="Shown" value={question.order} options={orders} onChange={(order) => set({ order })} />
      {can.other && (
        <>
          <Switch
            label="Other"
            means="with a field to say what"
            checked={question.other !== undefined}
            onChange={(on) => set({ other: on ? "other, namely" : undefined })}
          />
          {question.other !== undefined && (
            <Property label="">
              <TextField
                label="Words of the other option"
                value={question.other}
                onChange={(other) => set({ other }, "other")}
                problem={(other) => (other.trim() ? null : "Type what participants read.")}
              />
            </Property>
          )}
        </>
      )}
    </Section>
  );
}
