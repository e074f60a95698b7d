import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Field } from "~/app/components/field";
import { Plain } from "~/app/components/plain-page";

type Answer = { problems: Record<string, string> };

/** Asks for the assistants' key before the list of a laboratory's computer is shown. */
export function KeyAsked({ computer }: { computer: string }) {
  const opening = useFetcher<Answer>();
  return (
    <Plain title={computer}>
      <p>The list is closed. An assistant opens it with the key of this computer.</p>
      <opening.Form method="post" action="/laboratory?do=open" className="grid gap-3">
        <Field
          label="Key"
          name="key"
          type="password"
          autoComplete="off"
          autoFocus
          problem={opening.state === "idle" ? opening.data?.problems.key : undefined}
        />
        <Button type="submit" look="primary" className="!h-9" disabled={opening.state !== "idle"}>
          Open the list
        </Button>
      </opening.Form>
    </Plain>
  );
}
