import { Plus, X } from "lucide-react";
import { IconButton, buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { setOrder } from "~/core/design/edits/parts";
import type { Block } from "~/core/design/block";
import type { Limit } from "~/core/limits/registry";
import { limitInWords } from "~/core/order/words";
import { limitOffers, settingsOfLimit } from "./limit-settings";

/** The limits of a block's order as sentences whose blanks are filled in. */
export function LimitsEditor({ block }: { block: Block }) {
  const { edit } = useStudy();
  const { limits } = block.order;
  const { columns } = block.table;
  const [first, second] = [...columns.filter(({ factor }) => factor), ...columns.filter(({ factor }) => !factor)];
  const put = (index: number, limit: Limit, merge?: string) =>
    edit(setOrder(block.id, { limits: limits.map((each, at) => (at === index ? limit : each)) }), merge);
  return (
    <div className="mt-1 grid gap-1.5" data-limits>
      {limits.map((limit, index) => (
        <div
          key={index}
          role="group"
          aria-label={`Limit: ${limitInWords(limit, block)}`}
          className="relative rounded-md border border-hairline p-1.5 pr-8 text-sm"
        >
          <LimitFields
            limit={limit}
            block={block}
            onChange={(fresh) => put(index, fresh, `limit ${block.id} ${index}`)}
          />
          <IconButton
            icon={X}
            label="Remove the limit"
            className="!absolute right-0.5 top-0.5"
            onClick={() => edit(setOrder(block.id, { limits: limits.filter((_, position) => position !== index) }))}
          />
        </div>
      ))}
      {first && (
        <Menu
          trigger={
            <button type="button" className={`${buttonClass()} justify-self-start`}>
              <Plus size={16} aria-hidden="true" />
              Limit
            </button>
          }
        >
          {limitOffers.map(([words, make]) => (
            <MenuItem
              key={words}
              onSelect={() => edit(setOrder(block.id, { limits: [...limits, make(first.id, (second ?? first).id)] }))}
            >
              {words}
            </MenuItem>
          ))}
        </Menu>
      )}
    </div>
  );
}

function LimitFields(props: { limit: Limit; block: Block; onChange: (limit: Limit) => void }) {
  const { Fields } = settingsOfLimit(props.limit.kind);
  return <Fields {...props} />;
}
