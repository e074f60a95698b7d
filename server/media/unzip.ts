import { unzipSync } from "fflate";

export type Unzipped =
  | { ok: true; files: Map<string, Uint8Array> }
  | { ok: false; kind: "damaged" | "large" | "many" | "path"; about: string };

const megabyte = 1024 * 1024;
/** What is unpacked may be so many times as large as what is packed, and a little more: designs pack well, files that do harm better. */
const mostTimes = 30;
const alwaysAllowed = 20 * megabyte;

/**
 * The files of a zip, all in memory, folders left out. It is refused by its directory before anything is unpacked; and what
 * a file is unpacked into is no longer than the directory says, so that one that lies is found damaged.
 */
export function unzipped(
  bytes: Uint8Array,
  { mostBytes, mostFiles }: { mostBytes: number; mostFiles: number },
): Unzipped {
  const most = Math.min(mostBytes, bytes.length * mostTimes + alwaysAllowed);
  let [total, count] = [0, 0];
  let refused: Unzipped | null = null;
  const refuse = (kind: "large" | "many" | "path", about: string) => {
    refused ??= { ok: false, kind, about };
    return false;
  };
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        count++;
        if (refused !== null) return false;
        if (total > most) return refuse("large", `${Math.round(most / megabyte)} MB`);
        if (count > mostFiles) return refuse("many", `${mostFiles} files`);
        if (name.startsWith("/") || name.includes("\\") || /^[a-z]:/i.test(name) || name.split("/").includes(".."))
          return refuse("path", name.slice(0, 80));
        return !name.endsWith("/");
      },
    });
    return refused ?? { ok: true, files: new Map(Object.entries(files)) };
  } catch {
    return refused ?? { ok: false, kind: "damaged", about: "" };
  }
}
