import { rename, rm } from "node:fs/promises";
import { newSecret } from "../chance";
import { withFile } from "../http/receive";
import type { MediaKeeper } from "../media/keeper";

const named = /^[\w-]{32}$/;

/** Where a data file of somebody waits until they say whether it is taken in; null for what is no name of one. */
export const arrivedAt = (media: Pick<MediaKeeper, "incoming">, accountId: string, name: string): string | null =>
  named.test(name) ? media.incoming(`${accountId}.${name}`) : null;

/**
 * Keeps the file of a form for an hour at least, and gives the name by which it is asked for; null where there is none. It takes the
 * place of what waits of the same account.
 */
export const receiveArrived = (
  request: Request,
  media: Pick<MediaKeeper, "incoming" | "forgetIncoming">,
  accountId: string,
): Promise<string | null> =>
  withFile(request, media, async ({ path }) => {
    await media.forgetIncoming(`${accountId}.`);
    const name = newSecret();
    await rename(path, arrivedAt(media, accountId, name) ?? path);
    return name;
  });

export const forgetArrived = (path: string): Promise<void> => rm(path, { force: true });
