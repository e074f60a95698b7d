import * as yup from "yup";
import type { OpenedStudy } from "~/app/study-access.server";
import { deedOf, type Deed, type Done } from "~/app/deeds.server";
import { mayDo, roles, type Right } from "~/core/rights/rights";
import type { Store } from "~/server/database/open";
import { dismiss } from "~/server/lab-computers";
import { endKey, makeKey, mostKeyDays } from "~/server/script-keys";
import { setReaderLink } from "~/server/reader-link";
import { setShare, setShowsGroups } from "~/server/sharing";

type Asking = { store: Store; study: OpenedStudy };
/** Something done on the page of a study's people, and the rights of which one is needed; none where anyone of the study may. */
type PeopleDeed = { oneOf: readonly Right[]; does: Deed<Asking> };

const deed = <T extends yup.AnyObject>(
  oneOf: readonly Right[],
  shape: yup.ObjectSchema<T>,
  does: (store: Store, study: OpenedStudy, sent: T) => Promise<Done | string | null | void>,
): PeopleDeed => ({ oneOf, does: deedOf(shape, (sent, { store, study }: Asking) => does(store, study, sent)) });

const id = yup.string().max(100);
const asRoles = yup
  .array(
    yup
      .string()
      .oneOf([...roles])
      .required(),
  )
  .max(roles.length)
  .required();

/** Everything that is done on the page of a study's people, by its name. */
export const peopleDeeds: Record<string, PeopleDeed> = {
  share: deed(
    ["share"],
    yup.object({ email: yup.string().trim().max(200), lab: id, account: id, roles: asRoles }),
    async (store, study, { email, lab, account, roles: wanted }) => {
      if (study.account.isDemo) return "In a demo everyone is the same person, so that nothing can be shared.";
      const whom = email ? { email } : lab ? { lab } : account ? { account } : null;
      return whom ? setShare(store, study, whom, wanted, study.by) : "Say with whom.";
    },
  ),
  groups: deed(["share"], yup.object({ shows: yup.boolean().required() }), (store, study, { shows }) =>
    setShowsGroups(store, study, shows, study.by),
  ),
  "reading-link": deed(["share"], yup.object({ open: yup.boolean().required() }), async (store, study, { open }) => {
    const secret = await setReaderLink(store, study, open, study.by);
    return secret === null ? {} : { made: secret };
  }),
  leave: deed([], yup.object({}), (store, study) =>
    setShare(store, study, { account: study.account.id }, [], study.by),
  ),
  "make-key": deed(
    ["see-results"],
    yup.object({
      name: yup.string().trim().min(1).max(80).required(),
      days: yup.number().integer().min(1).max(mostKeyDays).required(),
    }),
    async (store, study, { name, days }) => {
      const made = await makeKey(store, study, study.account, { name: name.trim(), days, by: study.by });
      return "key" in made ? { made: made.key } : made;
    },
  ),
  dismiss: deed(["hand-out"], yup.object({ computer: id.required() }), (store, study, { computer }) =>
    dismiss(store, study, computer, study.by),
  ),
  "end-key": deed(["see-results", "share"], yup.object({ key: id.required() }), (store, study, { key }) =>
    endKey(store, study, key, { account: study.account.id, anyones: mayDo(study.roles, "share"), by: study.by }),
  ),
};
