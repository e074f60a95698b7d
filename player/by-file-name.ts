/**
 * What a folder's files export, by the files' names. `words` are the kinds there have to be: a file that is missing, or
 * that does not export what it should, is a mistake of ours, told as soon as anything is loaded.
 */
export function byFileName<W extends string, T>(files: Record<string, unknown>, words: readonly W[]): Record<W, T> {
  const known = new Map(
    Object.entries(files).map(([path, exported]) => [path.replace(/^.*\/|\.tsx?$/g, ""), exported as T | undefined]),
  );
  return Object.fromEntries(
    words.map((word) => {
      const exported = known.get(word);
      if (exported === undefined) throw new Error(`There is no file for “${word}” beside ${Object.keys(files)[0]}`);
      return [word, exported];
    }),
  ) as Record<W, T>;
}
