import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { DrawReach, OwnRow } from "../values/draws";
import { isBinding } from "../values/ref";
import type { Column } from "../values/table";
import { refName } from "./words";

const reaches: Record<DrawReach, string> = {
  trial: "no row came twice in a trial",
  block: "no row came twice in the block",
  session: "no row came twice in a session",
  sittings: "no row came twice for a participant, over all sittings",
};

/** The conditions of a draw: “whose kind is the trial’s kind and whose length is within 1 of that of word”; empty without any. */
function conditionsInWords(document: StudyDocument, block: Block, own: OwnRow): string {
  const pool = document.pools.find(({ id }) => id === own.pool);
  const said = own.where.map(({ column, within, to }) => {
    const name = pool?.table.columns.find(({ id }) => id === column)?.name ?? "column that is gone";
    const value = isBinding(to) ? (refName(to.from, document, block) ?? "a value that is gone") : String(to);
    const other = isBinding(to) ? `the trial’s ${value}` : `“${value}”`;
    return within === undefined ? `whose ${name} is ${other}` : `whose ${name} is within ${within} of ${other}`;
  });
  const { before } = own;
  const earlier = before ? `“${document.parts[before.block]?.name ?? "a block that is gone"}”` : "";
  const shown =
    before === undefined
      ? []
      : typeof before.shown === "boolean"
        ? [before.shown ? `that ${earlier} had shown` : `that ${earlier} had not shown`]
        : [
            `that ${earlier} had shown where ${block.table.columns.find(({ id }) => id === (before.shown as { column: string }).column)?.name ?? "a column"} was “${before.shown.is}”, and had not shown elsewhere`,
          ];
  return [...said, ...shown].join(" and ");
}

/** What a column drew from a pool, as it can stand in a method section. */
export function drawsInWords(document: StudyDocument, block: Block, { name }: Column, own: OwnRow): string {
  const pool = document.pools.find(({ id }) => id === own.pool);
  const rows = pool?.table.rows.filter(({ copies }) => copies > 0).length ?? 0;
  const where = conditionsInWords(document, block, own);
  const level = own.balanced && block.table.columns.find(({ id }) => id === own.balanced)?.name;
  const often =
    own.once === "trial" || own.before
      ? ""
      : level
        ? `; over participants each row came equally often with each ${level}, by lists that were turned against each other`
        : "; over participants each row came equally often";
  return `In “${block.name}”, ${name} was drawn for each trial from the ${rows} rows of “${pool?.name ?? "a pool that is gone"}”${where ? ` ${where}` : ""}; ${reaches[own.once]}${often}.`;
}
