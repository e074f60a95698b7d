import { AddLine } from "~/app/components/add-line";
import { MarginList } from "~/app/components/margin-list";
import { Section } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { newPool } from "~/app/pools/new-pool";
import { addPool } from "~/core/design/edits/table";

/** The pools of the study, in the margin of Plan. */
export function PoolList() {
  const { document, edit, look } = useStudy();
  const add = () => {
    const pool = newPool(document.pools.map(({ name }) => name));
    edit(addPool(pool));
    look({ asked: "pools", pool: pool.id });
  };
  return (
    <Section title="Pools">
      <MarginList
        entries={document.pools.map(({ id, name, table: { rows } }) => ({
          ...{ id, name, hint: `${rows.length} ${rows.length === 1 ? "row" : "rows"}` },
          open: () => look({ asked: "pools", pool: id }),
        }))}
      />
      <AddLine says="pool" onClick={add} />
    </Section>
  );
}
