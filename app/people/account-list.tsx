import { Clipboard, MoreHorizontal, UserPlus } from "lucide-react";
import { useState } from "react";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button, IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { Menu, MenuItem } from "~/app/components/menu";
import type { ListedAccount } from "~/server/account-list";
import type { Invite } from "~/server/invites";
import type { Done } from "~/app/deeds.server";

const asJson = { method: "post", encType: "application/json" } as const;
type Props = {
  me: string;
  accounts: ListedAccount[];
  invites: (Invite & { id: string })[];
  sendsMail: boolean;
};

/** Everybody's accounts, for administrators: inviting, passwords that were forgotten, closing. */
export function AccountList({ me, accounts, invites, sendsMail }: Props) {
  const doing = useFetcher<Done>();
  const inviting = useFetcher<Done>();
  const [email, setEmail] = useState("");
  const [closing, setClosing] = useState<ListedAccount | null>(null);
  useDone(inviting, () => setEmail(""));
  const act = (what: Record<string, string | boolean>) => void doing.submit(what, asJson);
  return (
    <section aria-labelledby="accounts">
      <h1 id="accounts" className="font-serif text-[26px] leading-8">
        Accounts
      </h1>
      <table className="mt-3 w-full border border-hairline bg-sheet text-left" data-accounts>
        <thead>
          <tr className="h-8 border-b border-hairline text-xs text-muted">
            {["person", "studies", "last seen"].map((head) => (
              <th key={head} scope="col" className="px-3 font-semibold">
                {head}
              </th>
            ))}
            <th scope="col">
              <span className="sr-only">actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {accounts.map((account) => (
            <tr
              key={account.id}
              data-account={account.email}
              className={`border-b border-hairline last:border-b-0 ${account.isClosed ? "text-muted" : ""}`}
            >
              <td className="px-3 py-1.5">
                <b>{account.name}</b> {account.id === me && <span className="text-muted">(you)</span>}
                <span className="block text-sm text-muted">
                  {account.email}
                  {account.isAdmin && ", administrator"}
                  {account.isClosed && ", closed"}
                </span>
              </td>
              <td className="px-3 font-mono text-xs">{account.studies}</td>
              <td className="px-3 text-sm text-muted">{account.seenAt && <When iso={account.seenAt} />}</td>
              <td className="px-2 text-right">
                <Menu align="end" trigger={<IconButton icon={MoreHorizontal} label={`More about ${account.name}`} />}>
                  {account.isClosed ? (
                    <MenuItem onSelect={() => act({ do: "reopen", account: account.id })}>Open it again</MenuItem>
                  ) : (
                    <>
                      <MenuItem onSelect={() => act({ do: "password", account: account.id })}>
                        Link for a new password
                      </MenuItem>
                      <MenuItem onSelect={() => act({ do: "no-code", account: account.id })}>
                        Stop asking for a code
                      </MenuItem>
                      <MenuItem onSelect={() => act({ do: "admin", account: account.id, is: !account.isAdmin })}>
                        {account.isAdmin ? "No longer an administrator" : "Make administrator"}
                      </MenuItem>
                      {account.id !== me && (
                        <MenuItem onSelect={() => setClosing(account)}>Close the account …</MenuItem>
                      )}
                    </>
                  )}
                </Menu>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {doing.data && <Told done={doing.data} />}
      <form
        aria-label="Invite somebody"
        className="mt-4 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void inviting.submit({ do: "invite", email: email.trim() }, asJson);
        }}
      >
        <input
          type="email"
          aria-label="E-mail address of whom you invite"
          placeholder={sendsMail ? "e-mail address" : "e-mail address, if you like"}
          value={email}
          maxLength={200}
          onChange={({ target }) => setEmail(target.value)}
          className="field !w-[260px]"
        />
        <Button type="submit" icon={UserPlus} disabled={inviting.state !== "idle"}>
          Invite
        </Button>
        <span className="text-sm text-muted">
          {sendsMail ? "They are mailed a link that works once." : "You get a link that works once, to give to them."}
        </span>
      </form>
      {inviting.data && <Told done={inviting.data} />}
      {invites.length > 0 && (
        <ul className="mt-3 text-sm" aria-label="Open invitations">
          {invites.map((each) => (
            <li key={each.id} className="flex items-center gap-2 border-b border-hairline py-1">
              <span>
                {each.email || "whoever has the link"}
                <span className="text-muted">
                  , invited by {each.by}, until <When iso={each.expiresAt} />
                </span>
              </span>
              <Button look="quiet" className="ml-auto" onClick={() => act({ do: "take-back", invite: each.id })}>
                Take it back
              </Button>
            </li>
          ))}
        </ul>
      )}
      {closing && (
        <CloseAccount
          account={closing}
          others={accounts.filter(({ id, isClosed }) => id !== closing.id && !isClosed)}
          me={me}
          onClose={() => setClosing(null)}
        />
      )}
    </section>
  );
}

/** What came of it: why not, or a link to give to somebody. */
function Told({ done: { reason, made, mailed } }: { done: Done }) {
  if (reason !== undefined)
    return (
      <p role="alert" className="mt-2 text-alarm">
        {reason}
      </p>
    );
  if (made === undefined) return null;
  return (
    <div role="status" className="mt-2 rounded-md border border-plumage bg-plumage-tint p-3 text-sm">
      <p>
        {mailed ? `Mailed to ${mailed}. The link, should the mail not arrive:` : "Give them this link. It works once."}
      </p>
      <p className="mt-1 flex items-center gap-2">
        <code className="select-all break-all font-mono text-xs" data-made-link>
          {made}
        </code>
        <Button
          icon={Clipboard}
          look="quiet"
          onClick={() =>
            copyText(made, "The link is copied.", "The browser blocked copying. Select the link and copy it.")
          }
        >
          Copy
        </Button>
      </p>
    </div>
  );
}

function CloseAccount({
  account,
  others,
  me,
  onClose,
}: {
  account: ListedAccount;
  others: ListedAccount[];
  me: string;
  onClose: () => void;
}) {
  const closing = useFetcher<Done>();
  const [to, setTo] = useState(me);
  useDone(closing, onClose);
  return (
    <Dialog
      open
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title={`Close the account of ${account.name}?`}
      description={`Nobody can sign in to it any more. ${account.studies === 0 ? "It owns no studies." : "Its studies go to another of their owners, or where there is none to the person below."}`}
    >
      <label className="grid gap-1 text-sm">
        Who gets its studies
        <select className="field" value={to} onChange={({ target }) => setTo(target.value)}>
          {others.map(({ id, name, email }) => (
            <option key={id} value={id}>
              {`${name}, ${email}`}
            </option>
          ))}
        </select>
      </label>
      {closing.data?.reason && (
        <p role="alert" className="text-alarm">
          {closing.data.reason}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Keep it open</Button>
        <Button
          look="alarm"
          disabled={closing.state !== "idle"}
          onClick={() => void closing.submit({ do: "close", account: account.id, to }, asJson)}
        >
          Close the account
        </Button>
      </div>
    </Dialog>
  );
}
