import type { StudyDocument } from "../../design/document";
import type { Place, Start } from "../scheme";

/** One way to give places out to those whom nobody has put into a group. */
export type Method = (document: StudyDocument, start: Start) => Place;
