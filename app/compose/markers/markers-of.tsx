import { Plus } from "lucide-react";
import { dequal } from "dequal";
import { Section } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { markerValues } from "~/core/check/markers";
import type { Block } from "~/core/design/block";
import { addMarker } from "~/core/design/edits/markers";
import { operandInWords } from "~/core/describe/words";
import { freeValue, ofBlock } from "./places";
import type { Marked } from "~/core/markers/marker";

/** The markers of something that is selected, with their values; they are set in the list of all markers. */
export function MarkersOf({ block, at }: { block: Block; at: Marked }) {
  const { document, edit, look } = useStudy();
  const own = (block.markers ?? []).filter((marker) => dequal(marker.at, at));
  const choice = ofBlock(block)
    .flatMap(([, choices]) => choices)
    .find((each) => dequal(each.at, at));
  return (
    <Section title="Markers">
      {own.map(({ id, name, value }) => (
        <button
          key={id}
          type="button"
          className="flex justify-between gap-2 rounded-md py-0.5 text-left text-sm hover:text-plumage"
          onClick={() => look({ below: "markers" })}
        >
          <span className="min-w-0 truncate">{name}</span>
          <span className="shrink-0 font-mono text-xs">{operandInWords(value, document, block)}</span>
        </button>
      ))}
      {choice && (
        <button
          type="button"
          className="flex items-center gap-1 text-sm font-medium text-plumage"
          onClick={() => {
            const value = freeValue(markerValues(document));
            edit(addMarker(block.id, { id: newId("marker"), name: choice.name, at, value }));
            look({ below: "markers" });
          }}
        >
          <Plus size={13} aria-hidden="true" /> a marker when it {at.on === "answer" ? "is given" : "begins"}
        </button>
      )}
    </Section>
  );
}
