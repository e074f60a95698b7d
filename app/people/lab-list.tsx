import { UserPlus } from "lucide-react";
import { useState } from "react";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import type { Lab } from "~/server/labs";
import type { Done } from "~/app/deeds.server";

const asJson = { method: "post", encType: "application/json" } as const;

/** The laboratories somebody belongs to; those who head one say who else does. */
export function LabList({ labs, me }: { labs: Lab[]; me: string }) {
  const making = useFetcher<Done>();
  const [name, setName] = useState("");
  useDone(making, () => setName(""));
  return (
    <section aria-labelledby="labs">
      <h2 id="labs" className="font-serif text-[26px] leading-8">
        Your laboratories
      </h2>
      <p className="text-muted">A study can be shared with a laboratory: then with whoever belongs to it.</p>
      {labs.map((lab) => (
        <LabCard key={lab.id} lab={lab} me={me} />
      ))}
      <form
        aria-label="A new laboratory"
        className="mt-4 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== "") void making.submit({ do: "add-lab", name: name.trim() }, asJson);
        }}
      >
        <input
          aria-label="What the laboratory is called"
          placeholder="what it is called"
          value={name}
          maxLength={80}
          onChange={({ target }) => setName(target.value)}
          className="field !w-[260px]"
        />
        <Button type="submit" disabled={name.trim() === "" || making.state !== "idle"}>
          New laboratory
        </Button>
      </form>
    </section>
  );
}

function LabCard({ lab, me }: { lab: Lab; me: string }) {
  const changing = useFetcher<Done>();
  const adding = useFetcher<Done>();
  const [email, setEmail] = useState("");
  const [called, setCalled] = useState(lab.name);
  useDone(adding, () => setEmail(""));
  const isHead = lab.members.some(({ account, heads }) => account === me && heads);
  const act = (what: Record<string, string>) => void changing.submit({ ...what, lab: lab.id }, asJson);
  const rename = () => {
    if (called.trim() !== "" && called.trim() !== lab.name) act({ do: "rename-lab", name: called.trim() });
  };
  const refused = changing.data?.reason ?? adding.data?.reason;
  return (
    <article aria-label={lab.name} className="mt-3 rounded-md border border-hairline bg-sheet p-3" data-lab={lab.name}>
      {isHead ? (
        <input
          aria-label="Name of the laboratory"
          value={called}
          maxLength={80}
          onChange={({ target }) => setCalled(target.value)}
          onBlur={rename}
          className="w-full bg-transparent font-serif text-[18px]"
        />
      ) : (
        <h3 className="font-serif text-[18px]">{lab.name}</h3>
      )}
      <ul className="mt-1">
        {lab.members.map(({ account, name, email: address, heads }) => (
          <li key={account} className="flex items-center gap-2 border-t border-hairline py-1" data-member={address}>
            <span>
              {name} <span className="text-sm text-muted">{address}</span>
            </span>
            {heads && <span className="rounded-md bg-plumage-tint px-1.5 text-xs text-plumage">heads it</span>}
            <span className="ml-auto flex gap-1">
              {isHead && (
                <Button look="quiet" onClick={() => act({ do: "set-member", account, as: heads ? "member" : "head" })}>
                  {heads ? "Only a member" : "Let them head it"}
                </Button>
              )}
              {(isHead || account === me) && (
                <Button look="quiet" onClick={() => act({ do: "set-member", account, as: "nobody" })}>
                  {account === me ? "Leave" : "Take out"}
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {isHead && (
        <form
          aria-label={`Add somebody to ${lab.name}`}
          className="mt-2 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (email.trim() !== "") void adding.submit({ do: "add-member", lab: lab.id, email: email.trim() }, asJson);
          }}
        >
          <input
            type="email"
            aria-label="E-mail address of a new member"
            placeholder="e-mail address"
            value={email}
            maxLength={200}
            onChange={({ target }) => setEmail(target.value)}
            className="field !w-[260px]"
          />
          <Button type="submit" icon={UserPlus} disabled={email.trim() === "" || adding.state !== "idle"}>
            Add
          </Button>
        </form>
      )}
      {refused && (
        <p role="alert" className="mt-2 text-alarm">
          {refused}
        </p>
      )}
    </article>
  );
}
