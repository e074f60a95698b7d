import * as yup from "yup";
import { codeList, endNames, type EndName } from "~/core/collect/ends";
import { listProblem, mostLinks } from "~/core/collect/link-list";
import { terms, termsProblem, type Terms } from "~/core/collect/terms";
import { waveStates, wavePlan, wavePlanProblem, type WavePlan } from "~/core/collect/wave";
import { withoutUndefined } from "~/core/shape/without-undefined";
import type { Store } from "~/server/database/open";
import { addCodes, removeCodes } from "~/server/ends";
import { addLinkSet, renewLink, setLinkSet } from "~/server/link-sets";
import { addLink, setLink, type LinkChange } from "~/server/links";
import { addWave } from "~/server/new-wave";
import { addNote } from "~/server/session-view";
import { setExcluded } from "~/server/sessions";
import type { Study } from "~/server/studies";
import { removeWave, setWave } from "~/server/waves";

/** What a deed gives: why it was not done, and what it made. */
type Done = { reason?: string; made?: string };
type Deed = (store: Store, study: Study, sent: unknown, by: string) => Promise<Done | null>;

/** A deed by the shape of what it needs; null where what was sent does not have it. */
const deed =
  <T extends yup.AnyObject>(
    shape: yup.ObjectSchema<T>,
    does: (store: Store, study: Study, sent: T, by: string) => Promise<Done | void>,
  ): Deed =>
  async (store, study, sent, by) =>
    shape.isValidSync(sent, { strict: true }) ? ((await does(store, study, sent as T, by)) ?? {}) : null;

const id = yup.string().max(100).required();
const label = yup.string().trim().min(1).max(80);
const ending = yup
  .string<EndName>()
  .oneOf([...endNames])
  .required();
const change = {
  open: yup.boolean(),
  label,
  terms: yup.mixed<Terms>((value): value is Terms => terms.fits(value)),
};
const changeOf = ({ open, label: called, terms: asked }: LinkChange): LinkChange =>
  withoutUndefined({ open, label: called, terms: asked });
const refused = (reason: string | null): Done => (reason === null ? {} : { reason });
const madeOr = (made: { id: string } | { reason: string }): Done =>
  "id" in made ? { made: made.id } : { reason: made.reason };

/** Everything that can be done on the page Collect beside releasing, by its name. */
export const deeds: Record<string, Deed> = {
  "set-link": deed(yup.object({ link: id, ...change }), async (store, study, sent) => {
    const reason = sent.terms ? termsProblem(sent.terms) : null;
    if (reason !== null) return { reason };
    return setLink(store, study.id, sent.link, changeOf(sent as LinkChange));
  }),
  "set-links": deed(yup.object({ set: id, ...change }), async (store, study, sent) => {
    const reason = sent.terms ? termsProblem(sent.terms) : null;
    if (reason !== null) return { reason };
    return setLinkSet(store, study.id, sent.set, changeOf(sent as LinkChange));
  }),
  "add-link": deed(yup.object({ wave: id, label: label.required() }), async (store, study, sent) => {
    const made = await addLink(store, study.id, sent.wave, sent.label);
    return "reason" in made ? made : { made: made.link.token };
  }),
  "add-links": deed(
    yup.object({
      wave: id,
      label: label.required(),
      links: yup
        .array(yup.object({ label: yup.string().required(), note: yup.string().defined() }).required())
        .max(mostLinks)
        .required(),
    }),
    async (store, study, sent) => {
      const wrong = listProblem(sent.links);
      return wrong === null
        ? madeOr(await addLinkSet(store, study.id, sent.wave, sent.label, sent.links))
        : { reason: wrong };
    },
  ),
  "add-codes": deed(
    yup.object({
      of: id,
      ending,
      codes: yup.mixed<string[]>((value): value is string[] => codeList.fits(value)).required(),
    }),
    async (store, study, sent) => refused(await addCodes(store, study.id, sent.of, sent.ending, sent.codes)),
  ),
  "remove-codes": deed(yup.object({ of: id, ending }), (store, study, sent) =>
    removeCodes(store, study.id, sent.of, sent.ending),
  ),
  "renew-link": deed(
    yup.object({ link: id }),
    async (store, study, sent) => void (await renewLink(store, study.id, sent.link)),
  ),
  exclude: deed(
    yup.object({ session: id, excluded: yup.boolean().required(), because: yup.string().trim().max(1000) }),
    (store, study, sent) =>
      setExcluded(store, study.id, sent.session, sent.excluded, sent.because?.trim() ? sent.because.trim() : null),
  ),
  "add-note": deed(
    yup.object({ session: id, text: yup.string().trim().min(1).max(4000).required() }),
    async (store, study, sent, by) =>
      refused(await addNote(store, study.id, sent.session, { by, text: sent.text.trim() })),
  ),
  "add-wave": deed(yup.object({ release: id, name: label.required() }), async (store, study, sent) =>
    madeOr(await addWave(store, study.id, sent.release, sent.name)),
  ),
  "set-wave": deed(
    yup.object({
      wave: id,
      plan: yup.mixed<WavePlan>((value): value is WavePlan => wavePlan.fits(value)),
      release: yup.string().max(100),
      state: yup.string().oneOf([...waveStates]),
      says: yup.string().max(1000),
    }),
    async (store, study, sent) => {
      const { plan, release, state, says } = sent;
      const wrong = plan ? wavePlanProblem(plan) : null;
      if (wrong !== null) return { reason: wrong };
      return refused(await setWave(store, study.id, sent.wave, withoutUndefined({ plan, release, state, says })));
    },
  ),
  "remove-wave": deed(yup.object({ wave: id }), async (store, study, sent) =>
    refused(await removeWave(store, study.id, sent.wave)),
  ),
};
