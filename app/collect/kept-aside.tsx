import { useState } from "react";
import { useFetcher } from "react-router";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import type { loader } from "~/app/routes/study-kept-aside";
import type { ToldAside } from "~/server/kept-aside";

/** How many records of a session were kept aside; pressed, it says which, and how they differ from those stored. */
export function KeptAside({ code, session, count }: { code: string; session: string; count: number }) {
  const [isOpen, setOpen] = useState(false);
  const asking = useFetcher<typeof loader>();
  const open = () => {
    setOpen(true);
    void asking.load(`/studies/${code}/kept-aside/${session}`);
  };
  return (
    <>
      <button type="button" className="text-alarm underline" onClick={open}>
        {count} {count === 1 ? "record" : "records"} kept aside
      </button>
      <Dialog
        wide
        open={isOpen}
        onOpenChange={setOpen}
        title="Records kept aside"
        description="These records were not stored in place, and change nothing: Results and the export use those that were. They are given in full in kept-aside.csv of the export."
      >
        {asking.data?.map((each, index) => <OneAside key={index} aside={each} />) ?? (
          <p className="text-muted">Reading…</p>
        )}
      </Dialog>
    </>
  );
}

const whatIs: Record<ToldAside["kind"], string> = {
  page: "Page ",
  break: "Break in ",
  trial: "",
  "broken-off": "",
  end: "End of the session",
};
const cell = "border-b border-hairline py-1 pr-3 align-top font-mono text-xs [overflow-wrap:anywhere]";

const whyIs: Record<ToldAside["why"], string> = {
  taken: "Another record stands under its number.",
  early: "A record before it is missing; it takes its place when that comes.",
  unplanned: "It cannot follow in this session: playing the study does not lead to it.",
  elsewhere: "A data file from another installation has it otherwise.",
};

function OneAside({ aside: { number, why, kind, part, trial, storedAt, receivedAt, differs } }: { aside: ToldAside }) {
  const name = (
    <>
      <b>Record {number}.</b> {trial === null ? whatIs[kind] : `Trial ${trial}, `}
      {part}
    </>
  );
  if (storedAt === null)
    return (
      <p className="border-t border-hairline pt-2 text-sm">
        {name}. Came <When iso={receivedAt} form="moment" />. {whyIs[why]}
      </p>
    );
  return (
    <table className="w-full table-fixed text-left text-sm">
      <caption className="caption mb-1 text-left">
        {name}. {whyIs[why]}
      </caption>
      <thead>
        <tr className="border-b border-ink text-xs text-muted">
          <th scope="col" className="w-[36%] py-1">
            Field
          </th>
          <th scope="col">
            Stored <When iso={storedAt} form="moment" />
          </th>
          <th scope="col">
            Kept aside <When iso={receivedAt} form="moment" />
          </th>
        </tr>
      </thead>
      <tbody>
        {differs.map(({ field, first, second }) => (
          <tr key={field}>
            <td className={cell}>{field}</td>
            <td className={cell}>{first ?? <span className="text-muted">not there</span>}</td>
            <td className={cell}>{second ?? <span className="text-muted">not there</span>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
