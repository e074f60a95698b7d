import { Monitor } from "lucide-react";
import { Link, useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import type { ListedComputer } from "~/server/lab-computers";

/** The laboratory's computers that may start sessions of the study. */
export function ComputerList({ computers }: { computers: ListedComputer[] }) {
  const ending = useFetcher<{ reason?: string }>();
  return (
    <section aria-labelledby="computers">
      <h2 id="computers" className="font-serif text-[20px]">
        Computers of laboratories
      </h2>
      <p className="text-sm text-muted">
        They start sessions without anybody’s password, and can do nothing else. A computer is enrolled at that
        computer,{" "}
        <Link to="/laboratory" className="font-semibold text-plumage">
          as this one can be
        </Link>
        .
      </p>
      {computers.length > 0 && (
        <ul className="mt-2 border border-hairline bg-sheet text-sm">
          {computers.map(({ id, name, seenAt, tested }) => (
            <li key={id} className="flex items-center gap-2 border-b border-hairline px-3 py-1.5 last:border-b-0">
              <Monitor size={15} aria-hidden="true" className="shrink-0 text-muted" />
              <span className="min-w-0">
                <b>{name}</b>{" "}
                <span className="block text-xs text-muted">
                  used <When iso={seenAt} form="moment" />,{" "}
                  {tested === null ? (
                    "not tested yet"
                  ) : (
                    <>
                      tested <When iso={tested.at} form="moment" />: {tested.verdict}
                    </>
                  )}
                </span>
              </span>
              <Button
                look="quiet"
                className="ml-auto"
                onClick={() =>
                  void ending.submit({ do: "dismiss", computer: id }, { method: "post", encType: "application/json" })
                }
              >
                Dismiss
              </Button>
            </li>
          ))}
        </ul>
      )}
      {ending.data?.reason && (
        <p role="alert" className="mt-1 text-sm text-alarm">
          {ending.data.reason}
        </p>
      )}
    </section>
  );
}
