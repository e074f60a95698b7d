import { useState } from "react";
import { Button } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { blockDifferences } from "~/core/describe/differences";
import { unshareBlock } from "~/core/design/edits/parts";
import { blocksInOrder } from "~/core/design/lookup";
import type { Block } from "~/core/design/block";
import { Choice, Property, Section } from "~/app/components/fields";

/** The blocks this one shares its trials with, and on request what differs from any other one. */
export function OtherBlocks({ block }: { block: Block }) {
  const { document, edit } = useStudy();
  const [compared, setCompared] = useState("");
  const others = blocksInOrder(document).filter(({ id }) => id !== block.id);
  const family = others.filter(
    ({ id, sharesWith }) =>
      id === block.sharesWith ||
      sharesWith === block.id ||
      (block.sharesWith !== undefined && sharesWith === block.sharesWith),
  );
  if (others.length === 0) return null;
  const other = others.find(({ id }) => id === compared) ?? family[0];
  const differences = other ? blockDifferences(document, { ...other, name: block.name }, document, block) : [];
  return (
    <Section title="Other blocks">
      {family.length > 0 && (
        <p className="text-sm">
          The same trial and table as {family.map(({ name }) => name).join(" and ")}: editing one changes the other.{" "}
          {block.sharesWith !== undefined && (
            <Button look="quiet" className="!h-6 !px-1 !text-plumage" onClick={() => edit(unshareBlock(block.id))}>
              Make it independent
            </Button>
          )}
        </p>
      )}
      <Property label="Differs from">
        <Choice
          label="Shows what differs from"
          value={other?.id ?? ""}
          options={[
            ...(family.length > 0 ? [] : [["", "choose a block"] as const]),
            ...others.map(({ id, name }) => [id, name] as const),
          ]}
          onChange={setCompared}
        />
      </Property>
      {other && (
        <ul className="list-disc pl-4 text-sm">
          {differences.length === 0 && <li>Nothing but the name.</li>}
          {differences.slice(0, 12).map((sentence) => (
            <li key={sentence}>{sentence.replace(`${block.name}: `, "").replace(`${block.name}, `, "")}</li>
          ))}
          {differences.length > 12 && <li>and {differences.length - 12} more</li>}
        </ul>
      )}
    </Section>
  );
}
