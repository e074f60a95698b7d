import { UserPlus, Users } from "lucide-react";
import { useState } from "react";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { copyText } from "~/app/components/copy-text";
import { LeaveStudy } from "./leave-study";
import { roles, roleSays, type Role } from "~/core/rights/rights";
import type { Share } from "~/server/sharing";

const asJson = { method: "post", encType: "application/json" } as const;
type Whom = { email: string } | { lab: string } | { account: string };
type Answer = { reason?: string; made?: string };

type Props = {
  account: string;
  shares: Share[];
  showsGroups: boolean;
  hasReaderLink: boolean;
  labs: { id: string; name: string }[];
  mayShare: boolean;
};

/** Who works on a study and as what, where an owner changes it. */
export function ShareList({ account, shares, showsGroups, hasReaderLink, labs, mayShare }: Props) {
  const sharing = useFetcher<Answer>();
  const grouping = useFetcher<Answer>();
  const set = (whom: Whom, wanted: readonly Role[]) =>
    void sharing.submit({ do: "share", ...whom, roles: [...wanted] }, asJson);
  const mine = shares.find(({ id }) => id === account);
  return (
    <section aria-labelledby="who">
      <h1 id="who" className="font-serif text-[26px] leading-8">
        Who works on this study
      </h1>
      <table className="mt-3 w-full border border-hairline bg-sheet text-left" data-shares>
        <tbody>
          {shares.map((share) => (
            <ShareRow
              key={share.id}
              share={share}
              isMe={share.id === account}
              onChange={
                mayShare
                  ? (wanted) => set(share.kind === "lab" ? { lab: share.id } : { account: share.id }, wanted)
                  : null
              }
            />
          ))}
        </tbody>
      </table>
      {sharing.data?.reason && (
        <p role="alert" className="mt-2 text-alarm">
          {sharing.data.reason}
        </p>
      )}
      {mayShare && (
        <>
          <Add labs={labs.filter(({ id }) => !shares.some((share) => share.id === id))} />
          <Tick
            className="mt-4"
            checked={(grouping.json as { shows?: boolean } | undefined)?.shows ?? showsGroups}
            onChange={(shows) => void grouping.submit({ do: "groups", shows }, asJson)}
          >
            Assistants are shown in which group a participant is
          </Tick>
          <ReadingLink isOpen={hasReaderLink} />
        </>
      )}
      {mine && <Leave />}
    </section>
  );
}

function ShareRow({
  share,
  isMe,
  onChange,
}: {
  share: Share;
  isMe: boolean;
  onChange: ((wanted: Role[]) => void) | null;
}) {
  const facts =
    share.kind === "lab"
      ? `laboratory, ${share.members} ${share.members === 1 ? "member" : "members"}`
      : `${share.email}${share.isClosed ? ", account closed" : ""}`;
  return (
    <tr className="border-b border-hairline last:border-b-0" data-share={share.name}>
      <td className="px-3 py-2">
        <span className="flex items-center gap-1.5 font-semibold">
          {share.kind === "lab" && <Users size={15} aria-hidden="true" className="text-muted" />}
          {share.name}
          {isMe && <span className="font-normal text-muted">(you)</span>}
        </span>
        <span className="text-sm text-muted">{facts}</span>
      </td>
      <td className="whitespace-nowrap px-3 text-right">
        <span className="inline-flex flex-wrap justify-end gap-1" role="group" aria-label={`What ${share.name} is`}>
          {roles
            .filter((role) => onChange !== null || share.roles.includes(role))
            .map((role) => (
              <RoleButton
                key={role}
                role={role}
                on={share.roles.includes(role)}
                onPress={
                  onChange &&
                  (() =>
                    onChange(
                      share.roles.includes(role) ? share.roles.filter((each) => each !== role) : [...share.roles, role],
                    ))
                }
              />
            ))}
        </span>
      </td>
    </tr>
  );
}

const RoleButton = ({ role, on, onPress }: { role: Role; on: boolean; onPress: (() => void) | null }) => (
  <button
    type="button"
    aria-pressed={on}
    title={roleSays[role]}
    disabled={onPress === null}
    onClick={() => onPress?.()}
    className={`h-6 rounded-md border px-1.5 text-sm ${on ? "border-plumage bg-plumage-tint font-semibold text-plumage" : "border-hairline text-muted hover:text-ink"}`}
  >
    {role}
  </button>
);

/** Shares the study with another person or a laboratory. */
function Add({ labs }: { labs: { id: string; name: string }[] }) {
  const adding = useFetcher<Answer>();
  const [email, setEmail] = useState("");
  const [lab, setLab] = useState("");
  const [wanted, setWanted] = useState<Role[]>(["reader"]);
  useDone(adding, () => {
    setEmail("");
    setLab("");
  });
  const whom: Whom | null = lab !== "" ? { lab } : email.trim() !== "" ? { email: email.trim() } : null;
  const add = () => {
    if (whom) void adding.submit({ do: "share", ...whom, roles: wanted }, asJson);
  };
  return (
    <form
      aria-label="Share it"
      className="mt-4 grid gap-2 rounded-md border border-hairline bg-sheet p-3"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <div className="flex flex-wrap items-center gap-2">
        <input
          type="email"
          aria-label="E-mail address of a person"
          placeholder="e-mail address of a person"
          value={email}
          maxLength={200}
          disabled={lab !== ""}
          onChange={({ target }) => setEmail(target.value)}
          className="field !w-[230px]"
        />
        {labs.length > 0 && (
          <>
            <span className="text-sm text-muted">or</span>
            <select
              aria-label="A laboratory"
              className="field !w-[170px]"
              value={lab}
              onChange={({ target }) => setLab(target.value)}
            >
              <option value="">a laboratory …</option>
              {labs.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </>
        )}
        <span className="flex flex-wrap gap-1" role="group" aria-label="As what">
          {roles.map((role) => (
            <RoleButton
              key={role}
              role={role}
              on={wanted.includes(role)}
              onPress={() =>
                setWanted((before) =>
                  before.includes(role) ? before.filter((each) => each !== role) : [...before, role],
                )
              }
            />
          ))}
        </span>
      </div>
      <div className="flex items-end justify-between gap-3">
        <p className="text-sm text-muted">
          {wanted.length === 0
            ? "Choose at least one role."
            : wanted.map((role) => `${role}: ${roleSays[role]}`).join(". ")}
          .
        </p>{" "}
        <Button
          type="submit"
          icon={UserPlus}
          look="primary"

          disabled={whom === null || wanted.length === 0 || adding.state !== "idle"}
        >
          Share
        </Button>
      </div>
      {adding.data?.reason && (
        <p role="alert" className="text-alarm">
          {adding.data.reason}
        </p>
      )}
    </form>
  );
}

/** The link by which the design is read without an account. */
function ReadingLink({ isOpen }: { isOpen: boolean }) {
  const setting = useFetcher<Answer>();
  const made = setting.data?.made;
  const open = (on: boolean) => void setting.submit({ do: "reading-link", open: on }, asJson);
  const address = made === undefined ? "" : `${location.origin}/reading/${made}`;
  return (
    <div className="mt-3 text-sm">
      <p>
        {isOpen
          ? "Whoever has the reading link sees the design without an account, and never any data."
          : "The design can be shown to others without an account, by a link. Data are never shown."}
      </p>
      <p className="mt-1.5 flex flex-wrap items-center gap-2">
        {isOpen && <Button onClick={() => open(false)}>End the link</Button>}
        <Button onClick={() => open(true)}>{isOpen ? "Another link instead" : "Make a reading link"}</Button>
      </p>
      {isOpen && made !== undefined && (
        <p role="status" className="mt-2 flex items-center gap-2 rounded-md border border-plumage bg-plumage-tint p-3">
          <code className="select-all break-all font-mono text-xs" data-reading-link>
            {address}
          </code>
          <Button
            look="quiet"
            onClick={() =>
              copyText(address, "The link is copied.", "The browser blocked copying. Select the link and copy it.")
            }
          >
            Copy
          </Button>
        </p>
      )}
    </div>
  );
}

function Leave() {
  const { code } = useStudy();
  const [isAsked, setAsked] = useState(false);
  return (
    <>
      <Button className="mt-4" onClick={() => setAsked(true)}>
        Leave this study
      </Button>
      {isAsked && <LeaveStudy code={code} onClose={() => setAsked(false)} />}
    </>
  );
}
