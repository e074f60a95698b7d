import { Plus } from "lucide-react";
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
      <ul className="grid">
        {document.pools.map(({ id, name, table }) => (
          <li key={id}>
            <button
              type="button"
              className="flex w-full items-center gap-2 rounded-md px-1 py-0.5 text-left hover:bg-plumage-tint"
              onClick={() => look({ asked: "pools", pool: id })}
            >
              <span className="truncate text-sm">{name}</span>
              <span className="ml-auto font-mono text-xs text-muted">
                {table.rows.length} {table.rows.length === 1 ? "row" : "rows"}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="flex items-center gap-1 text-sm font-medium text-plumage" onClick={add}>
        <Plus size={14} aria-hidden="true" /> pool
      </button>
    </Section>
  );
}
