import { expect, it } from "vitest";
import { freshOwner, freshStore } from "~/tests/support/store";
import type { ComputerResult } from "../core/timing/self-test";
import { keepComputerTest, listComputerTests } from "./computer-tests";

it("self-tests belong to the account that made them", async () => {
  const store = await freshStore();
  const [ann, bo] = [await freshOwner(store, "ann@x.example"), await freshOwner(store, "bo@x.example")];
  await keepComputerTest(store, { id: ann }, "by the window", { verdict: ["exact"] } as unknown as ComputerResult);
  expect((await listComputerTests(store, { id: ann })).map(({ computer }) => computer)).toEqual(["by the window"]);
  expect(await listComputerTests(store, { id: bo })).toEqual([]);
});
