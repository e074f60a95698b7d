import { SentenceNumber } from "~/app/components/sentence";
import type { Adaptive } from "~/core/adaptive/specs";

/** A sentence about a method gets the method, changes fields of it, and says in which units its steps are. */
export type SentencePart<T> = { by: T; change: (fields: Partial<T>) => void; unit: string };

/** After how many trials it ends, where it does. */
export const EndTrials = ({
  by: { endTrials },
  change,
}: {
  by: Pick<Adaptive, "endTrials">;
  change: (fields: { endTrials: number }) => void;
}) =>
  endTrials === undefined ? null : (
    <>
      {" "}
      <SentenceNumber
        label="Trials"
        value={endTrials}
        least={1}
        most={10_000}
        whole
        onChange={(next) => change({ endTrials: next })}
      />
    </>
  );
