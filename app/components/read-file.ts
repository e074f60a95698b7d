import { toast } from "sonner";
import { mistakesIn, hasShape, type Shape } from "~/core/shape/shape";
import { download } from "./download";

/** What is taken in this way is small. */
const mostBytes = 1_000_000;

/** What a JSON file of somebody’s holds, if it has the shape of what it should be; else says why not, and gives null. */
export async function readFileAs<T>(file: File, shape: Shape<T>, what: string): Promise<T | null> {
  if (file.size > mostBytes) {
    toast(`“${file.name}” is too large to be a ${what}.`);
    return null;
  }
  const read: unknown = await file
    .text()
    .then((text) => JSON.parse(text) as unknown)
    .catch(() => undefined);
  if (hasShape(shape, read)) return read;
  const [mistake] = read === undefined ? [] : mistakesIn(shape, read);
  const why = mistake ? [mistake.path, mistake.message].filter(Boolean).join(" ") : "it could not be read";
  toast(`“${file.name}” is not a ${what}: ${why}.`);
  return null;
}

/** Offers a value as a JSON file. */
export const saveAsFile = (value: object, name: string): void =>
  download(new Blob([`${JSON.stringify(value, null, 1)}\n`], { type: "application/json" }), name);
