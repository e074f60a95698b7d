import { ArrowDown, ArrowUp, FileText, FileType, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link, useFetcher, useRouteLoaderData } from "react-router";
import { zipSync, strToU8 } from "fflate";
import { toast } from "sonner";
import { Button, IconButton } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { download } from "~/app/components/download";
import { Tick } from "~/app/components/fields";
import { decoded, svgAsPng } from "~/app/components/svg-as-png";
import { useStudy } from "~/app/editing/use-study";
import { paperBlocks, paperMarkdown, type PaperBlock } from "~/core/paper/paper";
import type { PaperChange } from "~/core/paper/piece";
import type { KeptPiece } from "~/server/paper";
import type { loader } from "~/app/routes/results";
import { asDocx, type Picture } from "../paper/as-docx";
import type { ResultView } from "../result-views";

const asPicture = async (svg: string): Promise<Picture> => {
  const { width, height } = await decoded(svg);
  return { png: new Uint8Array(await (await svgAsPng(svg)).arrayBuffer()), width, height };
};

export const View: ResultView<"paper"> = ({ answer }) => {
  const { code, document } = useStudy();
  const fetcher = useFetcher<{ reason?: string }>();
  const ledger = useRouteLoaderData<typeof loader>("routes/results")?.ledger;
  const [isBusy, setIsBusy] = useState(false);
  const { design, timing } = answer;
  // What was ticked shows at once.
  const asked = fetcher.state === "idle" ? undefined : (fetcher.json as PaperChange | undefined);
  const pieces = answer.pieces.map((each) =>
    asked?.do === "table" && asked.id === each.id ? { ...each, isWithTable: asked.isWith } : each,
  );
  const blocks = paperBlocks({
    title: document.title,
    sections: [
      { heading: "Design and procedure", paragraphs: design },
      { heading: "Participants and exclusions", paragraphs: [ledger?.method ?? ""] },
      { heading: "Timing", paragraphs: [timing] },
    ],
    pieces,
  });
  const send = (change: PaperChange) =>
    void fetcher.submit(JSON.stringify(change), {
      ...{ method: "post", action: `/studies/${code}/paper`, encType: "application/json" },
    });
  const svgOf = (id: string) => pieces.find((each) => each.id === id)?.piece.svg ?? null;
  const making = async (make: () => Promise<void>) => {
    setIsBusy(true);
    await make().catch(() => toast("The browser could not make the file. Try again, or take the figures one by one."));
    setIsBusy(false);
  };
  const takeDocx = () =>
    making(async () => {
      const file = await asDocx(blocks, async (id) => {
        const svg = svgOf(id);
        return svg === null ? null : asPicture(svg);
      });
      download(file, `${code}-paper.docx`);
    });
  const takeMarkdown = () =>
    making(async () => {
      const files: Record<string, Uint8Array> = {
        "paper.md": strToU8(paperMarkdown(blocks, (figure) => `figure-${figure}.png`)),
      };
      for (const [at, { piece }] of pieces.entries()) files[`figure-${at + 1}.png`] = (await asPicture(piece.svg)).png;
      download(new Blob([zipSync(files)], { type: "application/zip" }), `${code}-paper.zip`);
    });
  return (
    <div className="mx-auto grid max-w-[820px] gap-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button icon={FileType} look="primary" disabled={isBusy} onClick={() => void takeDocx()}>
          Take it as .docx
        </Button>
        <Button icon={FileText} disabled={isBusy} onClick={() => void takeMarkdown()}>
          As Markdown, with pictures (zip)
        </Button>
        <p className="text-sm text-muted">Any figure of the results comes here by its menu, “Put it into the paper”.</p>
      </div>
      {fetcher.data?.reason !== undefined && (
        <p role="alert" className="text-sm text-alarm">
          {fetcher.data.reason}
        </p>
      )}
      <article aria-label="The paper" className="rounded-md border border-hairline bg-sheet px-8 py-6 font-serif">
        {blocks.map((block, at) => (
          <Block key={at} block={block} pieces={pieces} send={send} />
        ))}
        {pieces.length === 0 && <p className="mt-4 text-muted">No figure has been put into it yet.</p>}
      </article>
    </div>
  );
};

function Block({
  block,
  pieces,
  send,
}: {
  block: PaperBlock;
  pieces: readonly KeptPiece[];
  send: (change: PaperChange) => void;
}) {
  const { code } = useStudy();
  if (block.is === "title") return <h2 className="text-[24px] leading-8">{block.text}</h2>;
  if (block.is === "heading") return <h3 className="mt-5 text-[17px] font-semibold">{block.text}</h3>;
  if (block.is === "paragraph") return <p className="mt-2 leading-6">{block.text}</p>;
  if (block.is === "table") return <PaperTable table={block} />;
  const at = pieces.findIndex(({ id }) => id === block.id);
  const kept = pieces[at];
  if (!kept) return null;
  const { id, piece, isWithTable, since } = kept;
  return (
    <figure className="mt-5" aria-label={`Figure ${block.number}`}>
      <div className="flex items-center gap-1 font-sans">
        <b className="mr-auto font-serif">Figure {block.number}</b>
        <IconButton
          icon={ArrowUp}
          label={`Figure ${block.number} earlier`}
          disabled={at === 0}
          onClick={() => send({ do: "move", id, by: "up" })}
        />
        <IconButton
          icon={ArrowDown}
          label={`Figure ${block.number} later`}
          disabled={at === pieces.length - 1}
          onClick={() => send({ do: "move", id, by: "down" })}
        />
        <IconButton
          icon={Trash2}
          label={`Take figure ${block.number} out`}
          onClick={() => send({ do: "remove", id })}
        />
      </div>
      <img
        src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(piece.svg)}`}
        alt={piece.caption}
        className="mt-1 max-w-full"
      />
      <figcaption className="mt-1 text-sm">
        <em>Note.</em> {block.note}
      </figcaption>
      <p className="mt-1 flex flex-wrap items-center gap-4 font-sans text-xs text-muted">
        {piece.rows.length > 0 && (
          <Tick checked={isWithTable} onChange={(isWith) => send({ do: "table", id, isWith })}>
            with its numbers as a table
          </Tick>
        )}
        <span>
          as it was <When iso={since} form="moment" /> ·{" "}
          <Link to={`/studies/${code}/results${piece.query}`} className="underline underline-offset-2">
            as it is now
          </Link>
        </span>
      </p>
    </figure>
  );
}

/** A table as journals print it: a rule above, one below the heads, and one below all. */
const PaperTable = ({
  table: { number, title, header, rows, numeric },
}: {
  table: Extract<PaperBlock, { is: "table" }>;
}) => (
  <section aria-label={`Table ${number}`} tabIndex={0} className="mt-4 overflow-x-auto">
    <b>Table {number}</b>
    <p>
      <em>{title}</em>
    </p>
    <table className="mt-1 w-full border-y border-ink text-sm">
      <thead>
        <tr className="border-b border-ink">
          {header.map((cell, at) => (
            <th key={at} scope="col" className={`px-2 py-1 font-normal ${numeric[at] ? "text-right" : "text-left"}`}>
              {cell}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={index}>
            {row.map((cell, at) => (
              <td key={at} className={`px-2 py-0.5 ${numeric[at] ? "text-right" : ""}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  </section>
);
