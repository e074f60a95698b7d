import { plannedAssignment } from "../allocate/allocate";
import type { StudyDocument } from "../design/document";
import { compile, type Plan } from "./compile";

/** The plan of a participant with the assignment they get when all earlier ones have started and no one drops out. */
export function compilePlanned(document: StudyDocument, participant: number): Plan {
  const { group, orders } = plannedAssignment(document, participant);
  return compile(document, participant, document.settings.seed, group, orders);
}
