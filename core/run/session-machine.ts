import { drawPools, type Plan } from "../compile/compile";
import type { StudyDocument } from "../design/document";
import { machineOf, type SessionMachine } from "./machine";
import { following } from "./following";
import { reactions } from "./reactions";
import type { Beginning, Told } from "./state";
import { trials } from "./trials";

/** The machine of a plan with all its pieces. */
export const sessionMachine = (document: StudyDocument, plan: Plan, begins?: Beginning, told?: Told): SessionMachine =>
  machineOf(document, plan, { rules: reactions, trials, following, pools: drawPools }, begins, told);
