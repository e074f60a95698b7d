import { Sentence, SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import type { Match } from "~/core/values/draws";
import type { Pool } from "~/core/values/pool";
import { isBinding, type Scalar } from "~/core/values/ref";
import type { Column } from "~/core/values/table";

/** So many values of a column of a pool are offered by themselves. */
const mostOffered = 24;

type Props = {
  block: Block;
  column: Column;
  pool: Pool;
  match: Match;
  isFirst: boolean;
  onChange: (next: Match) => void;
};

/** One condition of a draw: a row’s value in a column of the pool is the same as another, or near it. */
export function MatchSentence({ block, column, pool, match, isFirst, onChange }: Props) {
  const { document } = useStudy();
  const { within, to } = match;
  const of = pool.table.columns.find(({ id }) => id === match.column);
  const isNumber = of?.type === "number";
  const values = [...new Set(pool.table.rows.map(({ cells }) => cells[match.column] ?? null))].filter(
    (value): value is Scalar => value !== null,
  );
  const offered = values.length <= mostOffered ? values : [];
  const key = isBinding(to)
    ? "column" in to.from
      ? `column ${to.from.column}`
      : "groupValue" in to.from
        ? `group ${to.from.groupValue}`
        : "written"
    : offered.includes(to)
      ? `value ${offered.indexOf(to)}`
      : "written";
  const choose = (chosen: string) => {
    const [kind, id = ""] = chosen.split(" ");
    if (kind === "column") onChange({ ...match, to: { from: { column: id } } });
    else if (kind === "group") onChange({ ...match, to: { from: { groupValue: id } } });
    else if (kind === "value") onChange({ ...match, to: offered[Number(id)] ?? "" });
    else onChange({ ...match, to: isNumber ? 0 : "" });
  };
  const same = (): Match => ({ column: match.column, to });
  return (
    <Sentence>
      {isFirst ? "Only rows whose " : "and whose "}
      <SentenceChoice
        label="Column of the pool"
        value={match.column}
        options={pool.table.columns.map(({ id, name }) => [id, name] as const)}
        onChange={(id) => onChange({ column: id, to: isBinding(to) ? to : (pool.table.rows[0]?.cells[id] ?? "") })}
      />{" "}
      {isNumber ? (
        <SentenceChoice
          label="Comparison"
          value={within === undefined ? "same" : "near"}
          options={[
            ["same", "is"],
            ["near", "is near"],
          ]}
          onChange={(how) => onChange(how === "near" ? { ...same(), within: 1 } : same())}
        />
      ) : (
        "is"
      )}{" "}
      <SentenceChoice
        label="Compared with"
        value={key}
        options={[
          ...block.table.columns
            .filter((each) => each.id !== column.id && !each.follows)
            .map(({ id, name }) => [`column ${id}`, `the trial’s ${name}`] as const),
          ...document.groupValues.map(({ id, name }) => [`group ${id}`, `the group’s ${name}`] as const),
          ...offered.map((value, index) => [`value ${index}`, `“${String(value)}”`] as const),
          ["written", "a value written here"] as const,
        ]}
        onChange={choose}
      />
      {key === "written" && !isBinding(to) && (
        <>
          {" "}
          {isNumber ? (
            <SentenceNumber
              label="Value"
              value={typeof to === "number" ? to : 0}
              onChange={(value) => onChange({ ...match, to: value })}
            />
          ) : (
            <SentenceText
              label="Value"
              value={String(to)}
              problem={(text) => (text.length > 200 ? "At most 200 characters." : null)}
              onChange={(text) => onChange({ ...match, to: text })}
            />
          )}
        </>
      )}
      {within !== undefined && (
        <>
          , at most{" "}
          <SentenceNumber
            label="Greatest distance"
            value={within}
            least={0}
            onChange={(distance) => onChange({ ...match, within: distance })}
          />{" "}
          away
        </>
      )}
      .
    </Sentence>
  );
}
