import { expect, it } from "vitest";
import { resultNames } from "~/server/results/registry";
import { viewOf } from "./result-views";

it.each(resultNames)("%s can be shown", (name) => expect(viewOf(name)).toBeTypeOf("function"));
