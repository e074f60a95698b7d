import { FlaskConical } from "lucide-react";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Choice, Property } from "~/app/components/fields";
import type { action } from "~/app/routes/study-lab";
import { parameterStrata } from "~/core/design/allocation";
import type { StudyDocument } from "~/core/design/document";
import type { Release } from "~/server/releases";
import type { Wave } from "~/server/waves";

/** Starting a session at this computer, as the experimenter says: number, group, and what is known beforehand. */
export function LabStart({
  code,
  wave,
  release,
  document: { groups, allocation },
}: {
  code: string;
  wave: Wave;
  release: Release;
  document: StudyDocument;
}) {
  const [isOpen, setOpen] = useState(false);
  const [participant, setParticipant] = useState("");
  const [group, setGroup] = useState("");
  const [known, setKnown] = useState<Record<string, string>>({});
  const isNumber = /^([1-9]\d{0,6})?$/.test(participant.trim());
  const starting = useFetcher<typeof action>();
  const started = starting.data;
  useEffect(() => {
    if (started && "secret" in started) location.assign(`/play?lab=${code}#${started.secret}`);
  }, [started, code]);
  const start = () =>
    void starting.submit(
      {
        wave: wave.id,
        participant: participant.trim() === "" ? null : Number(participant),
        group: group === "" ? null : group,
        parameters: Object.fromEntries(
          parameterStrata(allocation).map(({ parameter, values }) => [parameter, known[parameter] ?? values[0] ?? ""]),
        ),
      },
      { method: "post", action: `/studies/${code}/lab`, encType: "application/json" },
    );
  return (
    <div>
      <Button icon={FlaskConical} onClick={() => setOpen(true)}>
        Start a session here
      </Button>
      <Dialog
        open={isOpen}
        onOpenChange={setOpen}
        title="Start a session on this computer"
        description={`In ${wave.plan.name}, on release ${release.number}. Its data count; to try the study out, use Rehearse.`}
      >
        <div className="grid gap-2">
          <Property label="Participant" htmlFor="lab-participant">
            <input
              id="lab-participant"
              inputMode="numeric"
              className="field font-mono !text-xs"
              value={participant}
              aria-invalid={isNumber ? undefined : true}
              onChange={({ target }) => setParticipant(target.value)}
            />
          </Property>
          {!isNumber && (
            <p role="alert" className="text-sm text-alarm">
              Type the participant’s number, such as 7, or leave it empty.
            </p>
          )}
          <p className="text-sm text-muted">
            Leave it empty for the next free number. A number that has taken part before starts its next sitting, with
            the same group and order.
          </p>
          {groups.length > 1 && (
            <Property label="Group">
              <Choice
                label="Group"
                value={group}
                options={[["", "the next in turn"], ...groups.map(({ id, name }) => [id, name] as const)]}
                onChange={setGroup}
              />
            </Property>
          )}
          {parameterStrata(allocation).map(({ parameter, values }) => (
            <Property key={parameter} label={parameter}>
              <Choice
                label={parameter}
                value={known[parameter] ?? values[0] ?? ""}
                options={values.map((value) => [value, value] as const)}
                onChange={(value) => setKnown({ ...known, [parameter]: value })}
              />
            </Property>
          ))}
          {started && "reason" in started && (
            <p role="alert" className="text-alarm">
              {started.reason}
            </p>
          )}
        </div>
        <div className="flex justify-end gap-2">
          <Button onClick={() => setOpen(false)}>Cancel</Button>
          <Button look="primary" disabled={!isNumber || starting.state !== "idle"} onClick={start}>
            Start
          </Button>
        </div>
      </Dialog>
    </div>
  );
}
