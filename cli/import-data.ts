import { existsSync } from "node:fs";
import { accountByEmail } from "../server/accounts";
import { fatesInWords, takeInInWords } from "../server/moving/in-words";
import { takeInFile } from "../server/moving/take-in";
import { Plain } from "./arguments";
import { withStore } from "./store";

type Asked = { owner?: string | undefined; codes?: boolean | undefined; report?: boolean | undefined };

/** `import F.lapwing-data.zip`: a study with its data from another installation, or what taking it in would do. */
export function importData(path: string, { owner, codes = false, report = false }: Asked): Promise<number> {
  if (!existsSync(path)) throw new Plain(`The file ${path} cannot be read.`);
  return withStore(async (store) => {
    const account = owner === undefined ? null : await accountByEmail(store, owner);
    if (owner !== undefined && !account)
      throw new Plain(`There is no account ${owner}. Create it on the sign-in page first.`);
    const asked = { account: null, by: "the command line", owner: account?.id ?? null, codes };
    const taken = await takeInFile(store, path, { ...asked, write: !report });
    if (!taken.ok) throw new Plain(taken.reason);
    for (const sentence of takeInInWords(taken.report)) console.log(sentence);
    for (const { session, participant, sitting, fate, why } of taken.report.told)
      console.log(
        `${participant > 0 ? `participant ${participant}, sitting ${sitting}` : session}: ${fatesInWords[fate]}. ${why}`,
      );
    return 0;
  });
}
