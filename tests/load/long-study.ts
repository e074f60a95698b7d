import { createHash, randomBytes } from "node:crypto";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { MediaFile } from "~/core/values/study-values";
import type { StudyDocument } from "~/core/design/document";
import { createAccount } from "~/server/accounts";
import { openStore } from "~/server/database/open";
import { storeMedia } from "~/server/media/study-media";
import { freezeRelease } from "~/server/releases";
import { addStudy } from "~/server/studies";
import { plainStudy, withBlock } from "~/tests/support/studies";

export const freshFolder = (): string => mkdtempSync(join(tmpdir(), "lapwing-load-"));

/** The plain study with at least so many trials. */
export const withBlockOf = (trials: number): StudyDocument =>
  withBlock(plainStudy(), (block) => {
    const rows = block.table.rows.reduce((sum, { copies }) => sum + copies, 0);
    block.order = { method: "shuffled", passes: Math.ceil(trials / rows), limits: [] };
  });

/** A database in the folder with the study released, some pictures of random noise in it, closed again. */
export async function releasedAt(
  folder: string,
  document: StudyDocument | ((pictures: MediaFile[]) => StudyDocument),
  pictureCount = 12,
): Promise<{ folder: string; token: string; pictures: string[] }> {
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  const { store } = opened;
  const account = await createAccount(store, "owner@lapwing.example", "owner", "a long password");
  if (!account.ok) throw new Error(account.reason);
  const study = await addStudy(store, account.account.id, plainStudy());
  const media: MediaFile[] = [];
  for (let each = 0; each < pictureCount; each++) {
    const stored = await storeMedia(store, study.id, `picture-${each}.svg`, noisePicture());
    if (!stored.ok) throw new Error(stored.reason);
    media.push(stored.file);
  }
  const whole = typeof document === "function" ? document(media) : document;
  const frozen = await freezeRelease(store, { ...study, document: { ...whole, media } }, "load");
  if (!frozen.ok) throw new Error(frozen.findings.map(({ where, message }) => `${where}: ${message}`).join("\n"));
  await store.close();
  return { folder, token: frozen.link?.token ?? "", pictures: media.map(({ sha256 }) => sha256) };
}

/** About 60 kB that do not shrink by packing. */
function noisePicture(): Uint8Array {
  const dots = Array.from({ length: 700 }, () => {
    const [x = 0, y = 0] = randomBytes(2);
    return `<circle cx="${x}" cy="${y}" r="2" fill="#${createHash("sha256").update(randomBytes(8)).digest("hex").slice(0, 6)}"/>`;
  });
  return new TextEncoder().encode(
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 256 256">${dots.join("")}</svg>`,
  );
}
