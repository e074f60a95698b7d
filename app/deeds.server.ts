import type * as yup from "yup";

/** Why something was not done; or what was made: an id, a key, the address of a link and to whom that was mailed. */
export type Done = { reason?: string; made?: string; mailed?: string | null };
/** What a page can ask for; null where what was sent does not have the shape it needs. */
export type Deed<Asking> = (sent: unknown, asking: Asking) => Promise<Done | null>;

/** A deed by the shape of what is sent and what it does, which gives why it was not done, what it made, or nothing. */
export const deedOf =
  <T extends yup.AnyObject, Asking>(
    shape: yup.ObjectSchema<T>,
    does: (sent: T, asking: Asking) => Promise<Done | string | null | void>,
  ): Deed<Asking> =>
  async (sent, asking) => {
    if (!shape.isValidSync(sent, { strict: true })) return null;
    const done = await does(sent as T, asking);
    return typeof done === "string" ? { reason: done } : (done ?? {});
  };
