import type { StudyDocument } from "../../design/document";
import type { Assignment, Start } from "../scheme";

/** One way to give places out to those whom nobody has put into a group. */
export type Method = (document: StudyDocument, start: Start) => Assignment;
