import type { StudyDocument } from "../../design/document";
import type { Assignment, Start } from "../scheme";

/** One way to assign participants whose group no one has chosen. */
export type Method = (document: StudyDocument, start: Start) => Assignment;
