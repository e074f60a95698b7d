import * as yup from "yup";
import { codeList, endNames, type EndName } from "~/core/collect/ends";
import { listProblem, mostLinks } from "~/core/collect/link-list";
import { terms, termsProblem, type Terms } from "~/core/collect/terms";
import { waveStates, wavePlan, wavePlanProblem, type WavePlan } from "~/core/collect/wave";
import { withoutUndefined } from "~/core/shape/without-undefined";
import type { Right } from "~/core/rights/rights";
import type { Store } from "~/server/database/open";
import { addCodes, removeCodes } from "~/server/ends";
import { addLinkSet, renewLink, setLinkSet } from "~/server/link-sets";
import { addLink, setLink, type LinkChange } from "~/server/links";
import { addWave } from "~/server/new-wave";
import { noteDeed, type DeedKind } from "~/server/study-log";
import { addNote, whoseSession } from "~/server/session-view";
import { setExcluded } from "~/server/sessions";
import type { Study } from "~/server/studies";
import { planOf, removeWave, setWave, waveOf } from "~/server/waves";
import { deedOf, type Deed, type Done } from "~/app/deeds.server";

/** Who asks, as the team reads their name and as the log names them, in which study. */
type Asking = { store: Store; study: Study; name: string; by: string };
/** Something that can be done on the page, and the right it needs. */
type CollectDeed = { right: Right; does: Deed<Asking> };
/** What the log says of what was done; nothing where that is no matter for it. */
type Logged<T> = { kind: DeedKind; says: (sent: T, asking: Asking) => string | null | Promise<string | null> };

/** A deed by the right it needs, the shape of what is sent, what it does, and what the log says of it. */
const deed = <T extends yup.AnyObject>(
  right: Right,
  shape: yup.ObjectSchema<T>,
  does: (store: Store, study: Study, sent: T, name: string) => Promise<Done | void>,
  logged?: Logged<T>,
): CollectDeed => ({
  right,
  does: deedOf(shape, async (sent, asking: Asking) => {
    const { store, study, name, by } = asking;
    const done = (await does(store, study, sent, name)) ?? {};
    const what = done.reason === undefined ? await logged?.says(sent, asking) : null;
    if (logged && what) await noteDeed(store.db, { code: study.code, by, what, kind: logged.kind });
    return done;
  }),
});

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
export const deeds: Record<string, CollectDeed> = {
  "set-link": deed("hand-out", yup.object({ link: id, ...change }), async (store, study, sent) => {
    const reason = sent.terms ? termsProblem(sent.terms) : null;
    if (reason !== null) return { reason };
    return setLink(store, study.id, sent.link, changeOf(sent as LinkChange));
  }),
  "set-links": deed("hand-out", yup.object({ set: id, ...change }), async (store, study, sent) => {
    const reason = sent.terms ? termsProblem(sent.terms) : null;
    if (reason !== null) return { reason };
    return setLinkSet(store, study.id, sent.set, changeOf(sent as LinkChange));
  }),
  "add-link": deed(
    "hand-out",
    yup.object({ wave: id, label: label.required() }),
    async (store, study, sent) => {
      const made = await addLink(store, study.id, sent.wave, sent.label);
      return "reason" in made ? made : { made: made.link.token };
    },
    { kind: "collecting", says: ({ label: called }) => `The link “${called}” was made.` },
  ),
  "add-links": deed(
    "hand-out",
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
    {
      kind: "collecting",
      says: ({ label: called, links }) => `${links.length} links “${called}” were made, one for each person.`,
    },
  ),
  "add-codes": deed(
    "hand-out",
    yup.object({
      of: id,
      ending,
      codes: yup.mixed<string[]>((value): value is string[] => codeList.fits(value)).required(),
    }),
    async (store, study, sent) => refused(await addCodes(store, study.id, sent.of, sent.ending, sent.codes)),
  ),
  "remove-codes": deed("hand-out", yup.object({ of: id, ending }), (store, study, sent) =>
    removeCodes(store, study.id, sent.of, sent.ending),
  ),
  "renew-link": deed(
    "hand-out",
    yup.object({ link: id }),
    async (store, study, sent) => void (await renewLink(store, study.id, sent.link)),
  ),
  exclude: deed(
    "leave-out",
    yup.object({ session: id, excluded: yup.boolean().required(), because: yup.string().trim().max(1000) }),
    (store, study, sent) =>
      setExcluded(store, study.id, sent.session, sent.excluded, sent.because?.trim() ? sent.because.trim() : null),
    {
      kind: "left-out",
      says: async ({ session, excluded }, { store }) =>
        `${await whoseSession(store.db, session)} ${excluded ? "does not count" : "counts again"}.`,
    },
  ),
  "add-note": deed(
    "note",
    yup.object({ session: id, text: yup.string().trim().min(1).max(4000).required() }),
    async (store, study, sent, name) =>
      refused(await addNote(store, study.id, sent.session, { by: name, text: sent.text.trim() })),
  ),
  "add-wave": deed(
    "hand-out",
    yup.object({ release: id, name: label.required() }),
    async (store, study, sent) => madeOr(await addWave(store, study.id, sent.release, sent.name)),
    { kind: "collecting", says: ({ name }) => `The wave “${name}” was made.` },
  ),
  "set-wave": deed(
    "hand-out",
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
    {
      kind: "collecting",
      says: async ({ wave, state }, { store, study }) => {
        if (state === undefined) return null;
        const row = await waveOf(store.db, study.id, wave);
        const done = { open: "opened", paused: "paused", closed: "closed" }[state];
        return `The wave “${row ? planOf(row).name : ""}” was ${done}.`;
      },
    },
  ),
  "remove-wave": deed("hand-out", yup.object({ wave: id }), async (store, study, sent) =>
    refused(await removeWave(store, study.id, sent.wave)),
  ),
};
