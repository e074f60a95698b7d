import { Download } from "lucide-react";
import Papa from "papaparse";
import { useContext, useRef, type ReactNode } from "react";
import { useFetcher, useLocation } from "react-router";
import { toast } from "sonner";
import { svgAsPng } from "~/app/components/svg-as-png";
import { download } from "~/app/components/download";
import { Menu, MenuItem } from "~/app/components/menu";
import { useAnswered } from "~/app/components/use-done";
import { useStudy } from "~/app/editing/use-study";
import type { PaperChange, PaperPiece } from "~/core/paper/piece";
import { Basis } from "./basis";
import { svgOf } from "./svg-of";

/** Longer tables are none for a paper. */
const mostRows = 500;

/** What a figure shows, as numbers. */
export type FigureTable = { header: readonly string[]; rows: readonly (readonly (string | number | null)[])[] };

/** A figure with its caption, which can be taken away as a drawing, as a picture and as the numbers it shows. */
export function Figure({
  name,
  caption,
  table,
  children,
}: {
  /** What its files are called after the study's code. */
  name: string;
  caption: ReactNode;
  table: FigureTable;
  children: ReactNode;
}) {
  const { code } = useStudy();
  const figure = useRef<HTMLElement>(null);
  const { search } = useLocation();
  const basis = useContext(Basis);
  const keeping = useFetcher<{ id?: string; reason?: string }>();
  useAnswered(keeping, ({ reason }) => toast(reason ?? "The figure is in the paper, the last tab here."));
  const intoPaper = async () => {
    const svg = figure.current && (await svgOf(figure.current));
    if (!svg) return;
    const piece: PaperPiece = {
      ...{ name, svg, query: search, basis },
      // In the paper it has another number.
      caption: (figure.current?.querySelector("figcaption")?.textContent ?? "")
        .replace(/^Figure \d+\.\s*/, "")
        .slice(0, 4000),
      ...{ header: [...table.header], rows: table.rows.length > mostRows ? [] : table.rows.map((row) => [...row]) },
    };
    const change: PaperChange = { do: "add", piece };
    void keeping.submit(JSON.stringify(change), {
      ...{ method: "post", action: `/studies/${code}/paper`, encType: "application/json" },
    });
  };
  const asSvg = async () => {
    const svg = figure.current && (await svgOf(figure.current));
    if (svg) download(new Blob([svg], { type: "image/svg+xml" }), `${code}-${name}.svg`);
  };
  const asPng = async () => {
    const svg = figure.current && (await svgOf(figure.current));
    if (svg) download(await svgAsPng(svg), `${code}-${name}.png`);
  };
  const asCsv = () => {
    const text = Papa.unparse({ fields: [...table.header], data: table.rows.map((row) => [...row]) });
    download(new Blob([`${text}\r\n`], { type: "text/csv" }), `${code}-${name}.csv`);
  };
  return (
    <figure ref={figure} className="relative rounded-md border border-hairline bg-sheet p-3">
      <div className="absolute right-2 top-2 z-10">
        <Menu
          align="end"
          trigger={
            <button
              type="button"
              aria-label="Take the figure away"
              title="Take the figure away"
              className="grid h-7 w-7 place-items-center rounded-md bg-sheet text-muted hover:bg-plumage-tint hover:text-ink"
            >
              <Download size={15} aria-hidden="true" />
            </button>
          }
        >
          <MenuItem onSelect={() => void asSvg()}>Drawing (SVG)</MenuItem>
          <MenuItem
            onSelect={() =>
              void asPng().catch(() => toast.error("The browser could not make the picture. Take the drawing instead."))
            }
          >
            Picture, 300 dots an inch (PNG)
          </MenuItem>
          <MenuItem onSelect={asCsv}>Its numbers (CSV)</MenuItem>
          <MenuItem onSelect={() => void intoPaper()}>Put it into the paper</MenuItem>
        </Menu>
      </div>
      {children}
      <figcaption className="caption mt-2 px-2">{caption}</figcaption>
    </figure>
  );
}
