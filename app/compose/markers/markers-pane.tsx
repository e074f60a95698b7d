import { Plus, Trash2 } from "lucide-react";
import { useMemo } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Choice, namedWithin, NumberField, TextField } from "~/app/components/fields";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { markerValues, type ValuedMarker } from "~/core/check/markers";
import { markedInWords } from "~/core/describe/markers";
import type { Block } from "~/core/design/block";
import { addMarker, removeMarker, setMarker } from "~/core/design/edits/markers";
import { setSettings } from "~/core/design/edits/study";
import { OperandField } from "../rules/operand-field";
import { freeValue, ofBlock, ofSession, type MarkerChoice } from "./places";

const mostShown = 6;
const corners = [
  ["", "no light square"],
  ["upper-left", "upper left"],
  ["upper-right", "upper right"],
  ["lower-left", "lower left"],
  ["lower-right", "lower right"],
] as const;

/** Whether a square lights up with markers, for a light sensor. */
function LightSquare() {
  const { document, edit } = useStudy();
  const { lightSquare } = document.settings;
  const set = (square: typeof lightSquare) => edit(setSettings({ lightSquare: square }), "light square");
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2 text-sm text-muted">
      <span>Light square, for a sensor on the screen:</span>
      <span className="w-[150px]">
        <Choice
          label="Corner of the light square"
          value={lightSquare?.corner ?? ""}
          options={corners}
          onChange={(corner) => set(corner === "" ? undefined : { side: 8, ...lightSquare, corner })}
        />
      </span>
      {lightSquare && (
        <>
          <span className="flex w-[70px]">
            <NumberField
              label="Side of the light square"
              value={lightSquare.side}
              least={0.01}
              onChange={(side) => set({ ...lightSquare, side })}
            />
          </span>
          <span>% of the stage’s shorter side; bright while a scene is on whose onset has a marker.</span>
        </>
      )}
    </div>
  );
}

/** Every marker of the study: what it marks, its name, and which values it has; those of the block that is open come first. */
export function MarkersPane({ block }: { block: Block }) {
  const { document } = useStudy();
  const all = useMemo(() => markerValues(document), [document]);
  const rank = (placed: ValuedMarker) => (placed.block?.id === block.id ? 0 : placed.block === null ? 1 : 2);
  const sorted = all.toSorted((a, b) => rank(a) - rank(b));
  const times = new Map<string, number>();
  for (const { values } of all) for (const value of values) if (value) times.set(value, (times.get(value) ?? 0) + 1);
  return (
    <div className="h-full overflow-auto border-t border-hairline px-4 py-3">
      {all.length === 0 ? (
        <p className="max-w-[62ch] text-muted">
          A marker tells devices, and the data, that something happened: <em>when the scene “boats” begins, send 10</em>
          . Its value is a number from 1 to 255, or a text; it can be taken from the table.
        </p>
      ) : (
        <table className="w-full text-left text-sm" data-markers>
          <thead>
            <tr className="h-8 border-b border-ink text-xs text-muted">
              {["when", "name", "value", "sends"].map((head) => (
                <th key={head} scope="col" className="pr-3 font-semibold">
                  {head}
                </th>
              ))}
              <th scope="col">
                <span className="sr-only">take out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {sorted.map((placed) => (
              <Line key={`${placed.block?.id ?? ""} ${placed.marker.id}`} placed={placed} here={block} times={times} />
            ))}
          </tbody>
        </table>
      )}
      <LightSquare />
    </div>
  );
}

function Line({
  placed: { marker, block, values },
  here,
  times,
}: {
  placed: ValuedMarker;
  here: Block;
  times: ReadonlyMap<string, number>;
}) {
  const { edit } = useStudy();
  const place = block?.id ?? null;
  const shown = values.slice(0, mostShown);
  return (
    <tr className="border-b border-hairline align-top last:border-b-0">
      <td className="py-1.5 pr-3">
        {markedInWords(marker, block)}
        {block?.id !== here.id && (
          <span className="block text-xs text-muted">{block ? `block “${block.name}”` : "the whole session"}</span>
        )}
      </td>
      <td className="w-[200px] py-1.5 pr-3">
        <span className="flex">
          <TextField
            label={`Name of the marker ${marker.name}`}
            value={marker.name}
            problem={namedWithin(60)}
            onChange={(name) => edit(setMarker(place, marker.id, { name }), `marker ${marker.id}`)}
          />
        </span>
      </td>
      <td className="w-[260px] py-1.5 pr-3">
        <span className="flex">
          <OperandField
            label={`the value of ${marker.name}`}
            value={marker.value}
            block={block}
            onChange={(value) => edit(setMarker(place, marker.id, { value }), `marker ${marker.id}`)}
          />
        </span>
      </td>
      <td className="py-1.5 pr-3 font-mono text-xs leading-7">
        {shown.map((value, index) => (
          <span
            key={value ?? ""}
            title={value !== null && (times.get(value) ?? 0) > 1 ? "another marker has this value, too" : undefined}
            className={value === null || (times.get(value) ?? 0) > 1 ? "text-alarm" : ""}
          >
            {index > 0 && ", "}
            {value ?? "nothing"}
          </span>
        ))}
        {values.length > mostShown && ` and ${values.length - mostShown} more`}
      </td>
      <td className="w-8 py-1.5">
        <IconButton
          icon={Trash2}
          label={`Take out the marker ${marker.name}`}
          onClick={() => edit(removeMarker(place, marker.id))}
        />
      </td>
    </tr>
  );
}

/** Adds a marker to the block that is open, or to the session. */
export function MarkerButton({ block }: { block: Block }) {
  const { document, edit } = useStudy();
  const add = (place: string | null, { at, name }: MarkerChoice) =>
    edit(addMarker(place, { id: newId("marker"), name, at, value: freeValue(markerValues(document)) }));
  const items = (choices: readonly MarkerChoice[], place: string | null) =>
    choices.map((choice) => (
      <MenuItem key={choice.says} onSelect={() => add(place, choice)}>
        {choice.says}
      </MenuItem>
    ));
  return (
    <Menu
      align="end"
      trigger={
        <Button icon={Plus} aria-label="Add a marker">
          Marker
        </Button>
      }
    >
      {ofBlock(block).map(([kind, choices]) =>
        choices.length === 0 ? null : (
          <div key={kind}>
            <MenuLabel>{kind}</MenuLabel>
            {items(choices, block.id)}
          </div>
        ),
      )}
      <MenuLabel>Session</MenuLabel>
      {items(ofSession, null)}
    </Menu>
  );
}
