import { FileInput } from "lucide-react";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { toast } from "sonner";
import { Button } from "~/app/components/button";
import type { action } from "~/app/routes/study-answers";

/** Takes in a file of answers that a participant saved when the server could not be reached. */
export function TakeIn({ code }: { code: string }) {
  const taking = useFetcher<typeof action>();
  const field = useRef<HTMLInputElement>(null);
  const { data } = taking;
  useEffect(() => {
    if (!data) return;
    if (!data.ok) toast.error(data.reason);
    else
      toast.success(
        `Stored up to record ${data.acknowledged}${data.finished ? "; the session is finished" : ""}.${
          data.unplanned.length > 0
            ? ` ${data.unplanned.length} that cannot follow in their session are kept aside.`
            : data.keptAside.length > 0
              ? ` ${data.keptAside.length} that differ from what is stored are kept aside.`
              : ""
        }`,
      );
  }, [data]);
  return (
    <>
      <ReadyToSend to={`/studies/${code}/answers`} />
      <input
        ref={field}
        type="file"
        accept=".json"
        className="sr-only"
        tabIndex={-1}
        aria-label="File of answers"
        onChange={({ target }) => {
          const file = target.files?.[0];
          if (!file) return;
          const form = new FormData();
          form.set("file", file);
          void taking.submit(form, {
            method: "post",
            action: `/studies/${code}/answers`,
            encType: "multipart/form-data",
          });
          target.value = "";
        }}
      />
      <Button
        look="quiet"
        icon={FileInput}
        title="A participant's answers that could not be sent and were saved as a file"
        onClick={() => field.current?.click()}
      >
        Take in a file of answers
      </Button>
    </>
  );
}
