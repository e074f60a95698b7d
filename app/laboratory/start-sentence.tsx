import { Play } from "lucide-react";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import type { LabList } from "~/server/laboratory";

type Props = {
  code: string;
  list: LabList;
  wave: string;
  chosen: number | null;
  onChoose: (participant: number | null) => void;
  on: string;
};

/** The sentence that says who begins, and the button that lets them. */
export function StartSentence({ code, list, wave, chosen, onChoose, on }: Props) {
  const starting = useFetcher<{ secret?: string; reason?: string }>();
  const [group, setGroup] = useState("");
  const [known, setKnown] = useState<Record<string, string>>({});
  const [typed, setTyped] = useState<string | null>(null);
  const secret = starting.data?.secret;
  useEffect(() => {
    // Named by the study, so that the last page leads back to this list.
    if (secret !== undefined) location.assign(`/play?lab=${code}#${secret}`);
  }, [secret, code]);
  const participant = chosen ?? list.next;
  const shown = typed ?? String(participant);
  const isNumber = /^[1-9]\d{0,6}$/.test(shown.trim());
  const sitting = sittingOf(list, Number(shown));
  const isNew = Number(shown) >= list.next;
  const start = () =>
    void starting.submit(
      {
        wave,
        participant: chosen === null && typed === null ? null : Number(shown),
        group: group === "" || !isNew ? null : group,
        parameters: Object.fromEntries(
          list.known.map(({ parameter, values }) => [parameter, known[parameter] ?? values[0] ?? ""]),
        ),
      },
      { method: "post", encType: "application/json", action: `/studies/${code}/lab` },
    );
  const type = (text: string) => {
    setTyped(text);
    if (/^[1-9]\d{0,6}$/.test(text.trim())) onChoose(Number(text));
  };
  return (
    <>
      <ReadyToSend to={`/studies/${code}/lab`} />
      <Sentence>
        Participant{" "}
        <input
          aria-label="Number of the participant"
          inputMode="numeric"
          value={shown}
          aria-invalid={!isNumber}
          size={Math.max(2, shown.length)}
          onChange={({ target }) => type(target.value)}
          onBlur={() => isNumber && setTyped(null)}
          className="sentence-written"
        />
        {sitting > 1 && `, sitting ${sitting}`}
        {list.groups && isNew && (
          <>
            , in{" "}
            <SentenceChoice
              label="Group"
              value={group}
              options={[["", "the group that is next"], ...list.groups.map(({ id, name }) => [id, name] as const)]}
              onChange={setGroup}
            />
          </>
        )}
        {isNew &&
          list.known.map(({ parameter, values }) => (
            <span key={parameter}>
              , {parameter}{" "}
              <SentenceChoice
                label={parameter}
                value={known[parameter] ?? values[0] ?? ""}
                options={values.map((value) => [value, value] as const)}
                onChange={(value) => setKnown({ ...known, [parameter]: value })}
              />
            </span>
          ))}
        , at {on}.
      </Sentence>
      {!isNumber && (
        <p role="alert" className="text-sm text-alarm">
          Type the participant’s number, such as 7.
        </p>
      )}
      <div className="flex items-center gap-3">
        <Button
          icon={Play}
          look="primary"
          className="!h-9 !px-4 !text-base"
          disabled={!isNumber || starting.state !== "idle"}
          onClick={start}
        >
          Start participant {isNumber ? Number(shown) : "…"}
        </Button>
        {(chosen !== null || typed !== null) && (
          <Button
            look="quiet"
            onClick={() => {
              setTyped(null);
              onChoose(null);
            }}
          >
            The next number, {list.next}
          </Button>
        )}
      </div>
      {starting.data?.reason && (
        <p role="alert" className="text-alarm">
          {starting.data.reason}
        </p>
      )}
    </>
  );
}

/** Which sitting of somebody would begin, as far as the list tells. */
const sittingOf = ({ due, lines }: LabList, participant: number): number =>
  due.find((line) => line.participant === participant)?.sitting ??
  Math.max(0, ...lines.filter((line) => line.participant === participant).map(({ sitting }) => sitting)) + 1;
