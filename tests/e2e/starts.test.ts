import { expect, it } from "vitest";
import type { StudyDocument } from "~/core/design/document";
import { applyEdit, together } from "~/core/design/edits/edit";
import { copyPart } from "~/core/design/edits/parts";
import { bracketRound } from "~/core/design/edits/running-order";
import { addGroup } from "~/core/design/edits/study";
import { newSecret } from "~/server/chance";
import { startServer } from "~/tests/support/server";
import { freshFolder, released } from "~/tests/support/store";
import { firstBlock, plainStudy } from "~/tests/support/studies";

/** Five hundred participants start at the same moment, over HTTP, each with its document, against the built server and its database on disk. */
const starts = 500;

it("five hundred simultaneous starts keep the cells within one of each other", async () => {
  const block = firstBlock(plainStudy());
  const { document } = applyEdit(
    plainStudy(),
    together(
      addGroup({ id: "late", name: "Late" }),
      copyPart(block.id, "b2"),
      copyPart("b2", "b3"),
      bracketRound([block.id, "b3"], "bracket", "latin-square"),
    ),
  );
  const folder = freshFolder();
  const { store, link } = await released(document, folder);
  await store.close();
  const server = await startServer({ folder });
  const begin = performance.now();
  const answers = await Promise.all(
    Array.from({ length: starts }, async () => {
      const asked = performance.now();
      const secret = newSecret();
      const response = await fetch(`${server.address}/api/join/${link.token}`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ secret, documentApart: true }),
      });
      const { group, orders, participant } = (await response.json()) as {
        group: string;
        orders: Record<string, number>;
        participant: number;
      };
      const apart = await fetch(`${server.address}/api/session/document`, {
        headers: { Authorization: `Bearer ${secret}` },
      });
      const ms = performance.now() - asked;
      expect(((await apart.json()) as StudyDocument).title).toBe(document.title);
      return { participant, cell: `${group} ${orders["bracket"]}`, ms };
    }),
  );
  const all = performance.now() - begin;
  await server.stop();
  const cells = new Map<string, number>();
  for (const { cell } of answers) cells.set(cell, (cells.get(cell) ?? 0) + 1);
  const times = answers.map(({ ms }) => ms).sort((a, b) => a - b);
  console.log(
    `${starts} starts at once: all answered in ${all.toFixed(0)} ms, median ${times[250]?.toFixed(0)} ms, 99th ${times[494]?.toFixed(0)} ms; cells ${[...cells.values()].join(" ")}`,
  );
  expect(new Set(answers.map(({ participant }) => participant)).size).toBe(starts);
  expect(cells.size).toBe(6);
  expect(Math.max(...cells.values()) - Math.min(...cells.values())).toBeLessThanOrEqual(1);
});
