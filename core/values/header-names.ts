/*
 * Names of exported columns. They are valid at once in R, in the syntax of statistics programs and, unquoted, in SQL: a letter
 * first, then letters, digits and underscores, at most 64 bytes, and no word these languages keep for themselves.
 */

/** Words that R, statistics programs' syntax, or the databases Lapwing runs on do not take as the name of a column. */
const reserved = new Set(
  [
    "break else false for function if in inf na nan next null repeat true while",
    "all and by eq ge gt le lt ne not or to with",
    "abort action add alter analyse analyze any array as asc asymmetric authorization autoincrement begin between binary both",
    "cascade case cast check collate collation column commit concurrently conflict constraint create cross current_catalog",
    "current_date current_role current_schema current_time current_timestamp current_user default deferrable deferred delete",
    "desc distinct do drop each end escape except exists explain fetch filter foreign freeze from full glob grant group having",
    "ilike index indexed initially inner insert instead intersect into is isnull join lateral leading left like limit",
    "localtime localtimestamp match natural notnull of offset on only order outer over overlaps placing primary references",
    "regexp replace returning right rollback select session_user set similar some symmetric system_user table",
    "tablesample temp temporary then trailing transaction trigger union unique update user using values variadic verbose view when where window",
  ].flatMap((line) => line.split(" ")),
);

const mostBytes = 64;
const utf8 = new TextEncoder();
const bytes = (text: string) => utf8.encode(text).length;

/** The name a column has in the export: the given one where it is valid, else the nearest that is. */
export function headerName(name: string): string {
  const plain = name.normalize("NFC").replace(/[^\p{L}\p{N}_]+/gu, "_");
  const begun = /^\p{L}/u.test(plain) && !reserved.has(plain.toLowerCase()) ? plain : `x_${plain}`;
  return shortened(begun, mostBytes);
}

/** Left out are letters of the middle: a name's beginning says what it is of, and its end what it holds. */
function shortened(name: string, most: number): string {
  const letters = [...name];
  while (bytes(letters.join("")) > most) letters.splice(Math.floor(letters.length * 0.6), 1);
  return letters.join("");
}

/** Names that differ also without regard to case, as databases compare them: a name that is taken gets the first free number. */
export function distinctHeaders(names: readonly string[], taken: Iterable<string> = []): string[] {
  const used = new Set([...taken].map((name) => name.toLowerCase()));
  return names.map((name) => {
    const wanted = headerName(name);
    let free = wanted;
    for (let count = 2; used.has(free.toLowerCase()); count++)
      free = `${shortened(wanted, mostBytes - 1 - String(count).length)}_${count}`;
    used.add(free.toLowerCase());
    return free;
  });
}
