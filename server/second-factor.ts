import { Secret, TOTP } from "otpauth";
import type { Store } from "./database/open";

/** One-time passwords by time: RFC 6238, six digits, a step of 30 s, SHA-1, as apps expect them. */
const [stepSeconds, digits] = [30, 6];
/** A clock may be off by so many steps. */
const window = 1;

const made = (secret: Secret, email = "") =>
  new TOTP({ issuer: "Lapwing", label: email, algorithm: "SHA1", digits, period: stepSeconds, secret });

/** A new secret for an app, as text and as the address that apps scan. */
export function newFactor(email: string): { secret: string; address: string } {
  const secret = new Secret({ size: 20 });
  return { secret: secret.base32, address: made(secret, email).toString() };
}

/** The step a code is of, near now; null where it is not right. */
export function stepOf(secret: string, code: string, now = Date.now()): number | null {
  if (!/^[A-Z2-7]{16,64}$/.test(secret) || !/^\d{6}$/.test(code.replaceAll(/\s/g, ""))) return null;
  const totp = made(Secret.fromBase32(secret));
  const delta = totp.validate({ token: code.replaceAll(/\s/g, ""), timestamp: now, window });
  return delta === null ? null : Math.floor(now / 1000 / stepSeconds) + delta;
}

/** Asks for a code of an app at each sign-in from now on, where the code shows that the app has the secret. */
export async function setFactor(
  { db }: Store,
  accountId: string,
  secret: string,
  code: string,
): Promise<string | null> {
  const step = stepOf(secret, code);
  if (step === null) return "This code is not right. Type the one your app shows just now.";
  await db.updateTable("account").set({ totp: secret, totp_step: step }).where("id", "=", accountId).execute();
  return null;
}

/** Asks for no code any more. */
export async function removeFactor({ db }: Pick<Store, "db">, accountId: string): Promise<void> {
  await db.updateTable("account").set({ totp: null, totp_step: 0 }).where("id", "=", accountId).execute();
}

/** Whether a code opens an account; each code does once. */
export async function takeCode(
  { db }: Store,
  { id, totp }: { id: string; totp: string },
  code: string,
): Promise<boolean> {
  const step = stepOf(totp, code);
  if (step === null) return false;
  const { numUpdatedRows } = await db
    .updateTable("account")
    .set({ totp_step: step })
    .where("id", "=", id)
    .where("totp_step", "<", step)
    .executeTakeFirst();
  return numUpdatedRows > 0n;
}

/** Whether an account asks for a code. */
export async function hasFactor({ db }: Store, accountId: string): Promise<boolean> {
  const row = await db.selectFrom("account").select("totp").where("id", "=", accountId).executeTakeFirst();
  return row?.totp != null;
}
