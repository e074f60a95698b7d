import type { AppLoadContext } from "react-router";
import * as yup from "yup";
import { originOf } from "~/app/account.server";
import { deedOf, type Deed, type Done } from "~/app/deeds.server";
import { closeAndHandOver, reopenAccount, setAdmin } from "~/server/account-list";
import { accountById, type Account } from "~/server/accounts";
import { forgotten, invite, inviteDays, takeBack } from "~/server/invites";
import { addLab, changeLab } from "~/server/labs";
import type { Mail } from "~/server/mail";
import { removeFactor } from "~/server/second-factor";
import { whoIs } from "~/server/study-log";

/** Who asks, by which request, and what the server has. */
type Asking = { account: Account; request: Request; context: AppLoadContext };
/** Something done with accounts or laboratories, and whether it is for administrators. */
type TeamDeed = { admins: boolean; does: Deed<Asking> };

const deed = <T extends yup.AnyObject>(
  admins: boolean,
  shape: yup.ObjectSchema<T>,
  does: (sent: T, asking: Asking) => Promise<Done | string | null | void>,
): TeamDeed => ({ admins, does: deedOf(shape, does) });

/** A link that works once, mailed to whom it is for where that can be. */
async function link(
  { request, context }: Asking,
  secret: string,
  to: string,
  mail: (address: string) => Omit<Mail, "to">,
): Promise<Done> {
  const address = `${originOf(request, context)}/invited/${secret}`;
  const isMailed = to !== "" && (await context.mailer?.send({ to, ...mail(address) })) === true;
  return { made: address, mailed: isMailed ? to : null };
}

const id = yup.string().max(100).required();
const email = yup.string().trim().max(200).defined();
const name = yup.string().trim().min(1).max(80).required();
const whose = yup.object({ account: id });

/** Everything that is done with accounts, by administrators, and with laboratories, by those who head them. */
export const teamDeeds: Record<string, TeamDeed> = {
  invite: deed(true, yup.object({ email }), async ({ email: to }, asking) => {
    const { account, context } = asking;
    if (to !== "" && !yup.string().email().isValidSync(to)) return `“${to}” is not an e-mail address.`;
    const made = await invite(context.store, { email: to, by: account.name });
    if ("reason" in made) return made;
    return link(asking, made.secret, to, (address) => ({
      subject: `${account.name} invites you to Lapwing`,
      text: `${account.name} invites you to work on studies in Lapwing.\n\nMake your account here, within ${inviteDays.account} days:\n${address}\n`,
    }));
  }),
  "take-back": deed(true, yup.object({ invite: id }), (sent, { context }) => takeBack(context.store, sent.invite)),
  password: deed(true, whose, async (sent, asking) => {
    const account = await accountById(asking.context.store, sent.account);
    if (!account || account.isClosed) return "There is no such account, or it is closed.";
    const secret = await forgotten(asking.context.store, account, asking.account.name);
    return link(asking, secret, account.email, (address) => ({
      subject: "A new password for Lapwing",
      text: `Set a new password here, within ${inviteDays.password} days:\n${address}\n`,
    }));
  }),
  "no-code": deed(true, whose, (sent, { context }) => removeFactor(context.store, sent.account)),
  admin: deed(true, whose.shape({ is: yup.boolean().required() }), (sent, { context }) =>
    setAdmin(context.store, sent.account, sent.is),
  ),
  close: deed(true, whose.shape({ to: id }), async (sent, { account, context }) =>
    sent.account === account.id
      ? "You cannot close your own account: another administrator does."
      : closeAndHandOver(context.store, sent.account, { id: sent.to, by: whoIs(account) }),
  ),
  reopen: deed(true, whose, (sent, { context }) => reopenAccount(context.store, sent.account)),
  "add-lab": deed(false, yup.object({ name }), async (sent, { account, context }) => {
    await addLab(context.store, account.id, sent.name);
  }),
  "rename-lab": deed(false, yup.object({ lab: id, name }), (sent, { account, context }) =>
    changeLab(context.store, account.id, sent.lab, { name: sent.name }),
  ),
  "add-member": deed(false, yup.object({ lab: id, email: email.min(1) }), (sent, { account, context }) =>
    changeLab(context.store, account.id, sent.lab, { email: sent.email }),
  ),
  "set-member": deed(
    false,
    yup.object({
      lab: id,
      account: id,
      as: yup
        .string()
        .oneOf(["head", "member", "nobody"] as const)
        .required(),
    }),
    (sent, { account, context }) =>
      changeLab(context.store, account.id, sent.lab, {
        account: sent.account,
        as: sent.as === "nobody" ? null : sent.as,
      }),
  ),
};
