import { open } from "node:fs/promises";
import { now } from "../clock";
import { codeOf, NoLine, saidOf, type LineKind } from "./line";

/** A file of this computer, to which each marker adds a line: milliseconds of the bridge's clock, a tab, the value. */
export const file: LineKind<"file"> = {
  open: async ({ path }) => {
    const opened = await open(path, "a").catch((error: unknown) => {
      const why = {
        ENOENT: `There is no folder for ${path}: make it first.`,
        EACCES: `The bridge may not write to ${path}: choose a folder of your own.`,
        EISDIR: `${path} is a folder: write the name of a file in it, too.`,
      }[codeOf(error)];
      throw new NoLine(why ?? `The file ${path} could not be opened: ${saidOf(error)}.`);
    });
    return {
      write: async (sent) => {
        // The return to zero is no marker.
        if (sent.length === 1 && sent[0] === 0) return;
        const value = sent.length === 1 ? String(sent[0]) : new TextDecoder().decode(sent).trimEnd();
        await opened.write(`${now().toFixed(3)}\t${value}\n`);
      },
      close: () => opened.close(),
    };
  },
};
