import { plannedAssignment } from "../allocate/allocate";
import type { StudyDocument } from "../design/document";
import { seedOf } from "../order/seed";
import { compile, type Plan } from "./compile";

/** The plan of a participant for a sitting with the assignment they get when all earlier ones have started and no one drops out. */
export function compilePlanned(document: StudyDocument, participant: number, sitting = 1): Plan {
  const { group, orders } = plannedAssignment(document, participant);
  return compile(document, participant, seedOf(document, sitting), group, orders);
}
