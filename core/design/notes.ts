import { text } from "../shape/plain";

/** What the team writes for itself. Participants never see it. */
export const notes = text({ most: 20_000 });
