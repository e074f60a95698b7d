import { ArrowDown, ArrowUp, Copy, Trash2 } from "lucide-react";
import { MediaPicker } from "~/app/media/media-picker";
import { IconButton } from "~/app/components/button";
import { ChoiceLine, NumberField, Property, Section, Switch, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addPiece, copiedPiece, movePiece, removePiece, setPiece } from "~/core/design/edits/page";
import type { Page, Piece, QuestionSet } from "~/core/design/page";
import { siteAddress, type PassageOf } from "~/core/passages/passage";
import { questionKind } from "~/core/questions/registry";
import { wordsIn } from "~/core/values/formatted-text";
import { Margin } from "../margin";
import { OptionalNumber } from "./optional-number";
import { pieceInWords } from "./piece-nodes";

type Other = Exclude<Piece, { text: unknown }>;
type Set<P> = (change: Partial<P>, merge?: string) => void;

/** The settings of what stands on a page and asks nothing, or of a set of questions. */
export function PieceMargin({ page, piece }: { page: Page; piece: Other }) {
  const { document, edit, look } = useStudy();
  const at = page.flow.findIndex(({ id }) => id === piece.id);
  const set = (change: object, merge?: string) =>
    edit(setPiece(page.id, piece.id, change), merge && `${merge} ${piece.id}`);
  return (
    <Margin
      up={{ name: page.name, holds: "time, going on, ending", go: () => look({ selected: { kind: "nothing" } }) }}
      title={pieceInWords(piece).replace(/^./, (letter) => letter.toUpperCase())}
      kind="on the page"
      actions={
        <>
          <IconButton
            icon={ArrowUp}
            label="Move up"
            disabled={at <= 0}
            onClick={() => edit(movePiece(page.id, piece.id, at - 1))}
          />
          <IconButton
            icon={ArrowDown}
            label="Move down"
            disabled={at >= page.flow.length - 1}
            onClick={() => edit(movePiece(page.id, piece.id, at + 1))}
          />
          <IconButton
            icon={Copy}
            label="Duplicate"
            onClick={() => {
              const copy = copiedPiece(piece, document, newId);
              edit(addPiece(page.id, copy, piece.id));
              look({ selected: { kind: "piece", piece: copy.id } });
            }}
          />
          <IconButton
            icon={Trash2}
            label="Remove"
            onClick={() => {
              edit(removePiece(page.id, piece.id));
              look({ selected: { kind: "nothing" } });
            }}
          />
        </>
      }
    >
      <PieceFields piece={piece} set={set} />
    </Margin>
  );
}

function PieceFields({ piece, set }: { piece: Other; set: (change: object, merge?: string) => void }) {
  switch (piece.kind) {
    case "set":
      return <SetFields set={piece} change={set} />;
    case "picture":
      return (
        <Section title="Picture">
          <Property label="File">
            <MediaPicker kind="picture" value={piece.file} onChange={(file) => set({ file })} />
          </Property>
          <Width value={piece.width} set={set} />
          <Property label="Says">
            <TextField
              label="What the picture shows, for those who cannot see it"
              value={piece.says}
              onChange={(says) => set({ says }, "says")}
            />
          </Property>
        </Section>
      );
    case "sound":
    case "video":
      return (
        <Section title={piece.kind === "sound" ? "Sound" : "Video"}>
          <Property label="File">
            <MediaPicker kind={piece.kind} value={piece.file} onChange={(file) => set({ file })} />
          </Property>
          <Played piece={piece} set={set} />
          {piece.kind === "video" && <Width value={piece.width} set={set} />}
        </Section>
      );
    case "table":
      return <TableFields piece={piece} set={set} />;
    case "rule":
      return <p className="mt-2 text-sm text-muted">A line across the page.</p>;
    case "site":
      return (
        <Section title="Page of another site">
          <Property label="Address">
            <TextField
              label="Address"
              value={piece.address}
              onChange={(address) => set({ address }, "address")}
              problem={(address) => (siteAddress.fits(address) ? null : "Write an address that begins with https://")}
            />
          </Property>
          <Width value={piece.width} set={set} />
          <Property label="Height">
            <NumberField
              label="Height"
              value={piece.height}
              least={40}
              suffix="px"
              onChange={(height) => set({ height }, "height")}
            />
          </Property>
          <p className="text-xs text-muted">
            It needs the network while the page is on, and learns the participant’s internet address.
          </p>
        </Section>
      );
  }
}

const Width = ({ value, set }: { value: number; set: Set<{ width: number }> }) => (
  <Property label="Width">
    <NumberField label="Width" value={value} least={5} suffix="%" onChange={(width) => set({ width }, "width")} />
  </Property>
);

const Played = ({ piece, set }: { piece: PassageOf<"sound" | "video">; set: Set<PassageOf<"sound">> }) => (
  <>
    <ChoiceLine
      says="Plays"
      value={piece.plays}
      options={[
        ["controls", "as often as they like"],
        ["once", "once, at a press"],
      ]}
      onChange={(plays) => set({ plays })}
    />
    <OptionalNumber
      says="From"
      label="Begins at"
      value={piece.begins}
      least={0}
      suffix="s"
      onChange={(begins) => set({ begins }, "begins")}
    />
    <OptionalNumber
      says="Until"
      label="Ends at"
      value={piece.ends}
      least={0}
      suffix="s"
      onChange={(ends) => set({ ends }, "ends")}
    />
  </>
);

function TableFields({ piece, set }: { piece: PassageOf<"table">; set: Set<PassageOf<"table">> }) {
  const text = piece.rows.map((row) => row.join(" | ")).join("\n");
  return (
    <Section title="Table" aside={`${piece.rows.length} × ${piece.rows[0]?.length ?? 0}`}>
      <textarea
        aria-label="Rows of the table, cells separated by bars"
        className="field h-40 font-mono !text-xs"
        defaultValue={text}
        onChange={({ target }) => {
          const rows = target.value
            .split("\n")
            .slice(0, 200)
            .map((line) =>
              line
                .split(/\t|\|/)
                .slice(0, 20)
                .map((cell) => cell.trim().slice(0, 2000)),
            );
          const width = Math.max(1, ...rows.map(({ length }) => length));
          set({ rows: rows.map((row) => [...row, ...Array.from({ length: width - row.length }, () => "")]) }, "rows");
        }}
      />
      <p className="text-xs text-muted">One row a line, cells separated by | or tabs, as pasted from a spreadsheet.</p>
      <Switch label="Head" means="the first row" checked={piece.hasHead} onChange={(hasHead) => set({ hasHead })} />
    </Section>
  );
}

function SetFields({ set, change }: { set: QuestionSet; change: Set<QuestionSet> }) {
  const { look } = useStudy();
  return (
    <>
      <Section title="Which are asked">
        <Property label="Name">
          <TextField
            label="Name"
            value={set.name}
            onChange={(name) => change({ name }, "name")}
            problem={(name) => (name.trim() ? null : "It needs a name.")}
          />
        </Property>
        <OptionalNumber
          says="Drawn"
          label="How many are drawn"
          value={set.take}
          whole
          least={1}
          suffix={`of ${set.questions.length}`}
          onChange={(take) => change({ take }, "take")}
        />
        <ChoiceLine
          says="Shown"
          value={set.order}
          options={[
            ["listed", "as listed"],
            ["shuffled", "shuffled"],
          ]}
          onChange={(order) => change({ order })}
        />
        <p className="text-xs text-muted">Where some are drawn, each is asked equally often over participants.</p>
      </Section>
      <Section title="Questions" aside={`${set.questions.length}`}>
        {set.questions.map((question) => (
          <button
            key={question.id}
            type="button"
            className="flex items-baseline gap-2 text-left text-sm hover:underline"
            onClick={() => look({ selected: { kind: "piece", piece: question.id } })}
          >
            <span className="font-mono text-xs text-sheen">{question.name}</span>
            <span className="truncate text-muted">
              {wordsIn(question.text).trim() || questionKind(question.kind).says}
            </span>
          </button>
        ))}
      </Section>
    </>
  );
}
