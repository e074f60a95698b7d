import { useState } from "react";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import type { LabLine } from "~/server/laboratory";

/** The assistant's log of a session, kept with it. */
export function SessionLog({ code, line, session }: { code: string; line: LabLine; session: string }) {
  const noting = useFetcher<{ reason?: string; noted?: true }>();
  const [text, setText] = useState("");
  useDone(noting, () => setText(""));
  const note = () => {
    if (text.trim() !== "")
      void noting.submit(
        { session, note: text.trim() },
        { method: "post", encType: "application/json", action: `/studies/${code}/lab` },
      );
  };
  return (
    <section aria-label="Log of the session" className="rounded-md border border-hairline bg-sheet p-3.5">
      <ReadyToSend to={`/studies/${code}/lab`} />
      <h2 className="font-serif text-[16px] font-semibold">
        Log of participant {line.participant}
        {line.sitting > 1 && `, sitting ${line.sitting}`}
      </h2>
      <p className="text-sm text-muted">What happened in the room. It is kept with the session.</p>
      {line.notes.map(({ at, by, text: said }) => (
        <p key={at} className="mt-1.5 text-sm [overflow-wrap:anywhere]">
          “{said}”{" "}
          <span className="text-muted">
            {by}, <When iso={at} form="moment" />
          </span>
        </p>
      ))}
      <form
        className="mt-2 flex items-start gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          note();
        }}
      >
        <input
          aria-label="What happened"
          placeholder="Window blind closed at 10:20."
          value={text}
          maxLength={4000}
          onChange={({ target }) => setText(target.value)}
          className="field"
        />
        <Button type="submit" disabled={text.trim() === "" || noting.state !== "idle"}>
          Note it
        </Button>
      </form>
      {noting.data?.reason && (
        <p role="alert" className="mt-1 text-sm text-alarm">
          {noting.data.reason}
        </p>
      )}
    </section>
  );
}
