import { AddLine } from "~/app/components/add-line";
import { ArrowLeft, ArrowRight, X } from "lucide-react";
import { useState } from "react";
import { columnTypes } from "~/app/compose/column-settings";
import { TableSheet } from "~/app/compose/table/table-sheet";
import { Button, IconButton } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Choice, TextField } from "~/app/components/fields";
import { RemoveUsed } from "~/app/components/used-first";
import { useStudy } from "~/app/editing/use-study";
import { newPool } from "./new-pool";
import { usesOfPool, usesOfPoolColumn } from "~/core/design/uses-of-pools";
import {
  addPool,
  moveColumn,
  removeColumn,
  removePool,
  renamePool,
  setColumn,
  setColumnType,
} from "~/core/design/edits/table";
import { nameProblem } from "~/core/values/names";
import type { Pool } from "~/core/values/pool";
import type { Column } from "~/core/values/table";

const sheetHeight = 400;

/** The pools of the study: further tables, typed and imported like trial tables. */
export function PoolsDialog() {
  const { document, edit, look, view } = useStudy();
  const pool = document.pools.find(({ id }) => id === view.pool) ?? document.pools[0];
  const add = () => {
    const fresh = newPool(document.pools.map(({ name }) => name));
    edit(addPool(fresh));
    look({ pool: fresh.id });
  };
  return (
    <Dialog
      wide
      open={view.asked === "pools"}
      onOpenChange={(open) => look({ asked: open ? "pools" : null })}
      title="Pools"
      // A cell is left before the dialog is.
      keepsEscape={() => globalThis.document.querySelector("[data-pool] .dsg-active-cell") !== null}
      description="Further tables of the study. To draw from one, choose “a pool” under From in the margin of a column of a trial table."
    >
      <div className="flex flex-wrap items-center gap-1.5" role="group" aria-label="Pools of the study">
        {document.pools.map(({ id, name, table }) => (
          <button
            key={id}
            type="button"
            aria-pressed={id === pool?.id}
            className={`rounded-md px-2.5 py-1 text-sm ${id === pool?.id ? "bg-plumage-tint font-bold text-plumage" : "text-muted hover:text-ink"}`}
            onClick={() => look({ pool: id })}
          >
            {name} <span className="font-mono text-xs font-normal">{table.rows.length}</span>
          </button>
        ))}
        <AddLine says="pool" onClick={add} />
      </div>
      {pool ? (
        <OnePool key={pool.id} pool={pool} />
      ) : (
        <p className="py-6 text-muted">
          No pools yet. A pool holds what trials can show, for example words with their kind and length; each trial
          draws a row.
        </p>
      )}
    </Dialog>
  );
}

function OnePool({ pool }: { pool: Pool }) {
  const { document, edit } = useStudy();
  const [shown, setShown] = useState<string | null>(null);
  const column = pool.table.columns.find(({ id }) => id === shown);
  const count = pool.table.rows.length;
  return (
    <div className="grid gap-2" data-pool={pool.name}>
      <div className="relative flex items-center gap-2">
        <span className="w-64">
          <TextField
            label="Name of the pool"
            value={pool.name}
            onChange={(name) => edit(renamePool(pool.id, name), `pool ${pool.id}`)}
            problem={(name) =>
              name.trim() === ""
                ? "A pool needs a name."
                : name.length > 60
                  ? "At most 60 characters."
                  : document.pools.some((each) => each.id !== pool.id && each.name.toLowerCase() === name.toLowerCase())
                    ? "Another pool has this name."
                    : null
            }
          />
        </span>
        <span className="ml-auto" />
        <RemoveUsed
          label="Remove the pool"
          uses={usesOfPool(document, pool.id)}
          onRemove={() => edit(removePool(pool.id))}
        />
      </div>
      {column && <PoolColumn key={column.id} pool={pool} column={column} onClose={() => setShown(null)} />}
      <div className="border-x border-b border-hairline" style={{ height: sheetHeight }}>
        <TableSheet
          holder={pool}
          group={document.groups[0]?.id ?? ""}
          shownRow={null}
          height={sheetHeight}
          summary={
            <p className="text-sm">
              {count} {count === 1 ? "row" : "rows"}
            </p>
          }
          onColumn={setShown}
        />
      </div>
    </div>
  );
}

/** A column of a pool: its name, what it holds, its place. */
function PoolColumn({ pool, column, onClose }: { pool: Pool; column: Column; onClose: () => void }) {
  const { document, edit } = useStudy();
  const { columns } = pool.table;
  const index = columns.indexOf(column);
  const others = columns.filter(({ id }) => id !== column.id).map(({ name }) => name);
  return (
    <div className="relative flex items-center gap-2 rounded-md bg-paper px-2 py-1" data-pool-column={column.name}>
      <span className="w-44">
        <TextField
          label="Name of the column"
          value={column.name}
          onChange={(name) => edit(setColumn(pool.id, column.id, { name }), `column ${column.id}`)}
          problem={(name) => nameProblem(name, others)}
        />
      </span>
      <span className="text-sm text-muted">holds</span>
      <span className="w-32">
        <Choice
          label="What the column holds"
          value={column.type}
          options={columnTypes}
          onChange={(type) => edit(setColumnType(pool.id, column.id, type))}
        />
      </span>
      <span className="ml-auto" />
      <IconButton
        icon={ArrowLeft}
        label="Move the column to the left"
        disabled={index === 0}
        onClick={() => edit(moveColumn(pool.id, column.id, index - 1))}
      />
      <IconButton
        icon={ArrowRight}
        label="Move the column to the right"
        disabled={index === columns.length - 1}
        onClick={() => edit(moveColumn(pool.id, column.id, index + 1))}
      />
      <RemoveUsed
        label="Remove the column"
        uses={usesOfPoolColumn(document, pool.id, column.id)}
        onRemove={() => {
          edit(removeColumn(pool.id, column.id));
          onClose();
        }}
      />
      <Button look="quiet" icon={X} onClick={onClose}>
        Close
      </Button>
    </div>
  );
}
