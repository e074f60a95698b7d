import { Download, PackageOpen } from "lucide-react";
import { useState } from "react";
import { buttonClass } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { inList } from "~/core/describe/in-words";
import { exportFormats, type FormatName } from "~/core/export/formats/registry";
import { layoutNames, layouts } from "~/core/export/layouts/layouts";
import type { ExportAnswer } from "~/server/results/export";
import { dataAddress } from "../export-choice";

/** The file for a spreadsheet program comes first: that is what most computers open it with. */
const exportOrder: readonly FormatName[] = ["spreadsheet", "xlsx", "csv", "sav", "parquet", "tsv", "json", "jsonl"];

/** All data of the study, which can be taken away without any set-up. */
export function Everything({ answer: { counts }, wave }: { answer: ExportAnswer; wave: string | null }) {
  const { code, may } = useStudy();
  const [codes, setCodes] = useState(false);
  const told = (count: number, one: string, many = `${one}s`) =>
    `${count.toLocaleString("en")} ${count === 1 ? one : many}`;
  return (
    <section aria-label="Everything" className="rounded-md border border-hairline bg-sheet px-4 py-3">
      <p className="font-serif text-[16px] leading-[26px]">
        {inList([
          told(counts.trials, "trial"),
          ...(counts.answers > 0 ? [told(counts.answers, "answer")] : []),
          told(counts.sessions, "session"),
          told(counts.events, "event"),
        ])}
        , each in a table of its own, with a codebook, the paragraph for the method section and scripts that read them,
        in one zip.
      </p>
      <p className="mt-1 text-sm text-muted">
        Nothing is left out of it: <code>left_out</code> and <code>left_out_by</code> say what the exclusions leave out.
        A spreadsheet program runs cells that begin with “=”; in its own file they are plain text.
      </p>
      <div className="mt-3">
        <Tick checked={codes} onChange={setCodes}>
          with a table of participants’ codes, to be kept apart
        </Tick>
      </div>
      <ul className="mt-3 grid grid-cols-2 gap-2 small:grid-cols-1">
        {exportOrder.map((format) => (
          <li key={format}>
            <a
              href={dataAddress(code, { format, wave, codes })}
              className={`${buttonClass()} w-full !justify-start`}
              download
            >
              <Download size={16} aria-hidden="true" />
              All data, {exportFormats[format].says} (zip)
            </a>
          </li>
        ))}
        {layoutNames.map((layout) => (
          <li key={layout}>
            <a
              href={`/studies/${code}/data?layout=${layout}${wave === null ? "" : `&wave=${wave}`}`}
              className={`${buttonClass()} w-full !justify-start`}
              download
            >
              <Download size={16} aria-hidden="true" />
              All data, in the layout of {layouts[layout]} (zip)
            </a>
          </li>
        ))}
        <li>
          <a
            href={`/studies/${code}/trials.csv${wave === null ? "" : `?wave=${wave}`}`}
            className={`${buttonClass()} w-full !justify-start`}
            download
          >
            <Download size={16} aria-hidden="true" />
            Trials alone, for a statistics program (CSV)
          </a>
        </li>
      </ul>
      {may("keep-data") && <ForAnother wave={wave} />}
    </section>
  );
}

/** The study with its data as one file that another installation takes in. */
function ForAnother({ wave }: { wave: string | null }) {
  const { code } = useStudy();
  const [choice, setChoice] = useState({ finished: false, codes: false });
  const query = new URLSearchParams({
    ...(wave === null ? {} : { wave }),
    ...(choice.finished ? { finished: "yes" } : {}),
    ...(choice.codes ? { codes: "yes" } : {}),
  });
  return (
    <section aria-labelledby="for-another" className="mt-4 border-t border-hairline pt-3">
      <h3 id="for-another" className="font-serif text-[16px]">
        For another installation of Lapwing
      </h3>
      <p className="mt-1 text-sm text-muted">
        Releases, waves, sessions with every record, notes, exclusions and recipes in one file. It is taken in there on
        the page of studies, “From a file”; what has been taken in before is passed over. Links stay here.
      </p>
      <div className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
        <Tick checked={choice.finished} onChange={(finished) => setChoice({ ...choice, finished })}>
          finished sessions only
        </Tick>
        <Tick checked={choice.codes} onChange={(codes) => setChoice({ ...choice, codes })}>
          with participants’ codes
        </Tick>
      </div>
      <a
        href={`/studies/${code}/whole${query.size > 0 ? `?${query}` : ""}`}
        className={`${buttonClass()} mt-2`}
        download
      >
        <PackageOpen size={16} aria-hidden="true" />
        The study and its data (.lapwing-data.zip)
      </a>
    </section>
  );
}
