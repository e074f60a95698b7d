import { Clock, Trash2 } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Choice, ChoiceLine, ColorField, NumberField, Property, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { MediaPicker } from "~/app/media/media-picker";
import { propertiesInWords, type Of } from "~/core/describe/rules";
import type { StudyDocument } from "~/core/design/document";
import { itemsIn, partNodes } from "~/core/design/lookup";
import { changeableOf } from "~/core/items/changed";
import { mediaKind } from "~/core/media/types";
import type { Action, ActionOf, Target } from "~/core/rules/action";
import type { Operand } from "~/core/values/calculation";
import { plainText, wordsIn } from "~/core/values/formatted-text";
import type { Scalar } from "~/core/values/ref";
import { ConditionFields } from "./condition-fields";
import { PageChoice } from "./page-choice";
import { AskFields } from "./ask-fields";
import { ScriptFields } from "./script-fields";
import { OperandField, scalarFromText, textFromScalar } from "./operand-field";

type OneProps = { action: Action; onChange: (action: Action) => void; of: Of };

/** The value an action works with. */
const ValueLine = ({
  says,
  value,
  onChange,
  of,
}: {
  says: string;
  value: Operand;
  onChange: (value: Operand) => void;
  of: Of;
}) => (
  <Property label={says}>
    <OperandField label="the value" value={value} onChange={onChange} block={of.block} />
  </Property>
);

function TargetField({
  value,
  onChange,
  lists = false,
}: {
  value: Target;
  onChange: (value: Target) => void;
  lists?: boolean;
}) {
  const { document } = useStudy();
  const options = document.variables
    .filter(({ type }) => lists || type !== "list")
    .map(({ id, name }) => [id, name] as const);
  return (
    <ChoiceLine
      says="Value"
      value={"points" in value ? "" : value.variable}
      options={[["", "points"], ...options]}
      onChange={(id) => onChange(id === "" ? { points: true } : { variable: id })}
    />
  );
}

/** What an action is about. */
export function ActionSettings({ action, onChange, of }: OneProps) {
  const { document } = useStudy();
  const { block } = of;
  const items = itemsIn(block ?? { scenes: [] });
  const named = (things: readonly { id: string; name: string }[]) => things.map(({ id, name }) => [id, name] as const);
  const volume = (value: number, set: (volume: number) => void) => (
    <Property label="Volume">
      <NumberField label="Volume" value={value} least={0} suffix="%" onChange={set} />
    </Property>
  );
  switch (action.do) {
    case "set":
    case "add":
      return (
        <>
          <TargetField
            value={action.what}
            lists={action.do === "set"}
            onChange={(what) => onChange({ ...action, what })}
          />
          <ValueLine
            says={action.do === "set" ? "To" : "Add"}
            value={action.to}
            onChange={(to) => onChange({ ...action, to })}
            of={of}
          />
        </>
      );
    case "append":
      return (
        <>
          <ChoiceLine
            says="List"
            value={action.variable}
            options={named(document.variables.filter(({ type }) => type === "list"))}
            onChange={(variable) => onChange({ ...action, variable })}
          />
          <ValueLine says="Add" value={action.to} onChange={(to) => onChange({ ...action, to })} of={of} />
        </>
      );
    case "draw":
      return (
        <>
          <ChoiceLine
            says="Out of"
            value={action.from}
            options={named(document.variables.filter(({ type }) => type === "list"))}
            onChange={(from) => onChange({ ...action, from })}
          />
          <ChoiceLine
            says="Into"
            value={action.what}
            options={named(document.variables)}
            onChange={(what) => onChange({ ...action, what })}
          />
        </>
      );
    case "item": {
      const item = items.find(({ id }) => id === action.item);
      return (
        <>
          <ChoiceLine
            says="Item"
            value={action.item}
            options={named(items)}
            onChange={(item) => onChange({ ...action, item })}
          />
          <ChoiceLine
            says="What"
            value={action.property}
            options={(item ? changeableOf(item) : [action.property]).map(
              (each) => [each, propertiesInWords[each]] as const,
            )}
            onChange={(property) =>
              onChange({
                ...action,
                property,
                to: firstOf(property, document),
              })
            }
          />
          <span className="text-sm text-muted">To</span>
          <OperandField
            label="the value"
            value={action.to}
            onChange={(to) => onChange({ ...action, to })}
            block={block}
            constant={(value, change) => <ItemConstant property={action.property} value={value} onChange={change} />}
          />
        </>
      );
    }
    case "sound":
      return (
        <>
          <Property label="Sound">
            <MediaPicker kind="sound" value={action.file} onChange={(file) => onChange({ ...action, file })} />
          </Property>
          {volume(action.volume, (value) => onChange({ ...action, volume: value }))}
        </>
      );
    case "media":
      return (
        <>
          <ChoiceLine
            says="Item"
            value={action.item}
            options={named(items.filter(({ kind }) => kind === "sound" || kind === "video"))}
            onChange={(item) => onChange({ ...action, item })}
          />
          <ChoiceLine
            says="Do"
            value={action.act}
            options={
              [
                ["play", "play"],
                ["pause", "pause"],
                ["stop", "stop"],
                ["volume", "set the volume"],
              ] as const
            }
            onChange={(act) => onChange({ ...action, act, volume: act === "volume" ? 50 : undefined })}
          />
          {action.act === "volume" && (
            <Property label="Volume">
              <OperandField
                label="the volume in per cent"
                value={action.volume ?? 100}
                onChange={(value) => onChange({ ...action, volume: value })}
                block={block}
              />
            </Property>
          )}
        </>
      );
    case "go-to-scene":
      return (
        <ChoiceLine
          says="Scene"
          value={action.scene}
          options={named(block?.scenes ?? [])}
          onChange={(scene) => onChange({ ...action, scene })}
        />
      );
    case "repeat-trial":
      return (
        <>
          <ChoiceLine
            says="When"
            value={action.afterTrials === undefined ? "end" : "after"}
            options={
              [
                ["end", "at the end of the block"],
                ["after", "after so many others"],
              ] as const
            }
            onChange={(when) => onChange({ ...action, afterTrials: when === "end" ? undefined : 3 })}
          />
          {action.afterTrials !== undefined && (
            <Property label="Others">
              <NumberField
                label="After how many others"
                value={action.afterTrials}
                whole
                least={1}
                onChange={(afterTrials) => onChange({ ...action, afterTrials })}
              />
            </Property>
          )}
          <Property label="At most">
            <NumberField
              label="How often a trial is shown at most"
              value={action.most}
              whole
              least={2}
              suffix="×"
              onChange={(most) => onChange({ ...action, most })}
            />
          </Property>
        </>
      );
    case "begin-block-again":
      return (
        <Property label="At most">
          <NumberField
            label="How often the block is played at most"
            value={action.most}
            whole
            least={2}
            suffix="×"
            onChange={(most) => onChange({ ...action, most })}
          />
        </Property>
      );
    case "go-to-part": {
      const parts = partNodes(document.runningOrder).flatMap(({ part, aside }) =>
        aside ? [] : (document.parts[part] ?? []),
      );
      return (
        <ChoiceLine
          says="Part"
          value={action.part}
          options={named(parts)}
          onChange={(part) => onChange({ ...action, part })}
        />
      );
    }
    case "page":
      return <PageChoice value={action.page} onChange={(page) => onChange({ ...action, page })} />;
    case "end-session":
      return (
        <>
          <ChoiceLine
            says="As"
            value={action.as}
            options={
              [
                ["finished", "finished"],
                ["screened-out", "screened out"],
              ] as const
            }
            onChange={(as) => onChange({ ...action, as })}
          />
          <Property label="Says">
            <TextField
              label="What participants read"
              value={wordsIn(action.text)}
              onChange={(text) => onChange({ ...action, text: text === "" ? [] : plainText(text) })}
            />
          </Property>
        </>
      );
    case "event":
      return (
        <>
          <Property label="Name">
            <TextField
              label="Name of the event"
              value={action.name}
              problem={(name) => (name.trim() === "" ? "An event needs a name." : null)}
              onChange={(name) => onChange({ ...action, name })}
            />
          </Property>
          <ValueLine
            says="Value"
            value={action.value ?? null}
            onChange={(value) => onChange({ ...action, value: value === null || value === "" ? undefined : value })}
            of={of}
          />
        </>
      );
    case "marker":
      return (
        <Property label="Marker">
          <TextField
            label="The marker"
            value={action.marker}
            problem={(marker) => (marker.trim() === "" ? "A marker needs a name or number." : null)}
            onChange={(marker) => onChange({ ...action, marker })}
          />
        </Property>
      );
    case "script":
      return <ScriptFields action={action} onChange={onChange} of={of} />;
    case "ask":
      return <AskFields action={action} onChange={onChange} of={of} />;
    default:
      return null;
  }
}

/** When an action is done, and how often. */
export function ActionTiming({ action, onChange, of }: OneProps) {
  const { afterMs = 0, repeat } = action;
  const id = newId("repeat");
  return (
    <>
      <Property label="After">
        <NumberField
          label="Milliseconds after the rule"
          value={afterMs}
          least={0}
          suffix="ms"
          onChange={(ms) => onChange({ ...action, afterMs: ms === 0 ? undefined : ms })}
        />
      </Property>
      {repeat ? (
        <>
          <Property label="Every">
            <NumberField
              label="Repeated every"
              value={repeat.everyMs}
              least={10}
              suffix="ms"
              onChange={(everyMs) => onChange({ ...action, repeat: { ...repeat, everyMs } })}
            />
            <IconButton icon={Trash2} label="Do it once" onClick={() => onChange({ ...action, repeat: undefined })} />
          </Property>
          <Property label="Times" htmlFor={id}>
            <NumberField
              id={id}
              value={repeat.times ?? 0}
              least={0}
              whole
              onChange={(times) =>
                onChange({ ...action, repeat: { ...repeat, times: times === 0 ? undefined : times } })
              }
            />
          </Property>
          <span className="text-xs text-muted">until</span>
          <ConditionFields
            value={repeat.until}
            onChange={(until) => onChange({ ...action, repeat: { ...repeat, until } })}
            block={of.block}
          />
        </>
      ) : (
        <button
          type="button"
          className="flex items-center gap-1 justify-self-start text-xs text-muted hover:text-ink"
          onClick={() => onChange({ ...action, repeat: { everyMs: 500, times: 3 } })}
        >
          <Clock size={12} aria-hidden="true" /> repeat it
        </button>
      )}
    </>
  );
}

/** What a property of an item is set to at first. */
function firstOf(property: ActionOf<"item">["property"], { media }: StudyDocument): Scalar {
  if (property === "shown") return true;
  if (property === "text") return "";
  if (property === "color") return "#17211e";
  return property === "picture" ? (media.find(({ mime }) => mediaKind(mime) === "picture")?.id ?? "") : 0;
}

/** A constant for a property of an item: chosen where there is something to choose. */
function ItemConstant({
  property,
  value,
  onChange,
}: {
  property: ActionOf<"item">["property"];
  value: Scalar | null;
  onChange: (value: Scalar) => void;
}) {
  const said = textFromScalar(value);
  if (property === "picture") return <MediaPicker kind="picture" value={said} onChange={onChange} />;
  if (property === "color") return <ColorField label="Colour" value={said} onChange={onChange} />;
  if (property === "shown")
    return (
      <Choice
        label="Whether it is shown"
        value={value === false || value === "no" ? "no" : "yes"}
        options={[
          ["yes", "shown"],
          ["no", "hidden"],
        ]}
        onChange={(shown) => onChange(shown === "yes")}
      />
    );
  return <TextField label="the value" value={said} onChange={(text) => onChange(scalarFromText(text))} />;
}
