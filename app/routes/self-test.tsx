import { Play } from "lucide-react";
import { useState } from "react";
import { data, Link, useFetcher } from "react-router";
import * as yup from "yup";
import { computerOf, requireAccount } from "~/app/account.server";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Strip } from "~/app/components/strip";
import { Choice, NumberField } from "~/app/components/fields";
import { readJson } from "~/app/form.server";
import { RunTest } from "~/app/self-test/run-test";
import { shareInWords } from "~/core/timing/verdict";
import type { ComputerResult, Square } from "~/core/timing/self-test";
import { keepComputerTest, listComputerTests } from "~/server/computer-tests";
import { actionOrAway } from "~/app/when-away";
import type { Route } from "./+types/self-test";

const small = () => yup.number().required().min(0).max(1e6);
const schema = yup
  .object({
    computer: yup.string().required().max(80),
    result: yup
      .object({
        browser: yup.string().required().max(400),
        refreshHz: small(),
        refreshSd: small(),
        window: yup.string().required().max(60),
        isolated: yup.boolean().required(),
        scenes: small(),
        exact: small(),
        late: small(),
        worstFrames: small(),
        keys: small(),
        keyDelay: yup.object({ median: small(), p99: small() }).nullable().defined().default(null),
        square: yup
          .object({
            corner: yup.string().oneOf(["upper-left", "upper-right", "lower-left", "lower-right"]).required(),
            side: small(),
          })
          .nullable()
          .defined()
          .default(null),
        verdict: yup.array(yup.string().required().max(500)).required().max(10),
      })
      .noUnknown()
      .required(),
  })
  .noUnknown();

export const meta: Route.MetaFunction = () => [{ title: "Self-test of this computer · Lapwing" }];

/** Whose test it is: the laboratory’s computer’s, or else of whoever is signed in. */
async function testing(request: Request, context: Route.LoaderArgs["context"]) {
  const computer = await computerOf(request, context);
  if (computer && !computer.isLocked) return { id: computer.accountId, computer };
  const { id } = await requireAccount(request, context);
  return { id, computer: null };
}

export async function loader({ request, context }: Route.LoaderArgs) {
  const who = await testing(request, context);
  const seconds = Number(new URL(request.url).searchParams.get("seconds")) || 60;
  return {
    computerName: who.computer?.name ?? null,
    tests: await listComputerTests(context.store, who),
    seconds: Math.min(600, Math.max(5, seconds)),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const who = await testing(request, context);
  const sent = await readJson(request, schema);
  if (!sent) return data({ ok: false }, { status: 400 });
  await keepComputerTest(context.store, who, sent.computer, sent.result as ComputerResult);
  return { ok: true };
}

export const clientAction = actionOrAway;

const cornerNames: readonly (readonly [Square["corner"] | "none", string])[] = [
  ["none", "no square"],
  ["upper-left", "upper left corner"],
  ["upper-right", "upper right corner"],
  ["lower-left", "lower left corner"],
  ["lower-right", "lower right corner"],
];

export default function SelfTest({ loaderData }: Route.ComponentProps) {
  const { tests, seconds, computerName } = loaderData;
  const [computer, setComputer] = useState(computerName ?? "");
  const [corner, setCorner] = useState<Square["corner"] | "none">("none");
  const [side, setSide] = useState(80);
  const [running, setRunning] = useState<{ square: Square | null } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const keeping = useFetcher<typeof action>();
  const lost = keeping.data?.ok === false ? "What was found could not be kept. Run the test again." : null;
  const begin = async () => {
    if (computer.trim() === "") return setProblem("Say which computer this is, for example “lab 2, by the window”.");
    setProblem(null);
    await document.documentElement.requestFullscreen().catch(() => undefined);
    setRunning({ square: corner === "none" ? null : { corner, side } });
  };
  const end = (result: ComputerResult | null) => {
    setRunning(null);
    if (!result) return setProblem("The test was stopped before its end, so nothing is kept.");
    void keeping.submit({ computer: computer.trim(), result } as never, {
      method: "post",
      encType: "application/json",
    });
  };
  return (
    <div className="flex h-full flex-col">
      <Strip
        beside={
          <span className="flex items-baseline gap-3">
            <Link to={computerName === null ? "/studies" : "/laboratory"} className="text-muted hover:text-ink">
              {computerName === null ? "Studies" : "Laboratory"}
            </Link>
            <span className="font-serif text-[18px]">Self-test of this computer</span>
          </span>
        }
      />
      <main className="min-h-0 flex-1 overflow-auto px-5 py-4">
        <p className="max-w-[75ch]">
          For {seconds} seconds scenes of 50 to 500 ms are shown by the code that plays studies, and now and then a ring
          asks for the space bar. Then you see what this computer and this browser can do. Close other programs first,
          and leave the window in full screen.
        </p>
        <div className="mt-3 flex flex-wrap items-end gap-4">
          <label className="grid gap-1 text-sm">
            <span className="text-muted">Which computer is this?</span>
            <input
              className="field !w-64"
              value={computer}
              maxLength={80}
              placeholder="lab 2, by the window"
              onChange={({ target }) => setComputer(target.value)}
            />
          </label>
          <div className="grid gap-1 text-sm">
            <span className="text-muted">White square with each flash, for a light sensor</span>
            <span className="flex items-center gap-2">
              <span className="w-44">
                <Choice label="Corner of the square" value={corner} options={cornerNames} onChange={setCorner} />
              </span>
              {corner !== "none" && (
                <span className="flex w-24">
                  <NumberField
                    label="Side of the square in pixels"
                    value={side}
                    whole
                    least={10}
                    suffix="px"
                    onChange={setSide}
                  />
                </span>
              )}
            </span>
          </div>
          <Button look="primary" icon={Play} onClick={() => void begin()}>
            Run the test
          </Button>
        </div>
        {(problem ?? lost) && (
          <p role="alert" className="mt-2 text-alarm">
            {problem ?? lost}
          </p>
        )}
        <h2 className="mt-6 text-xs font-semibold text-muted">What was found</h2>
        {tests.length === 0 ? (
          <p className="mt-1 text-muted">No computer has been tested yet.</p>
        ) : (
          <table className="mt-1 w-full border border-hairline bg-sheet text-sm" data-tests>
            <thead>
              <tr className="h-8 border-b border-hairline text-left text-xs text-muted">
                {[
                  "When",
                  "Computer",
                  "Refresh",
                  "Scenes exact",
                  "Worst",
                  "Keys",
                  "Key to script",
                  "Window",
                  "Square",
                  "Browser",
                ].map((each) => (
                  <th key={each} scope="col" className="px-2 font-semibold">
                    {each}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {tests.map(({ id, at, computer: name, result }) => (
                <tr
                  key={id}
                  className="h-[34px] border-b border-hairline last:border-b-0"
                  title={result.verdict.join(" ")}
                >
                  <td className="whitespace-nowrap px-2 text-muted">
                    <When iso={at} />
                  </td>
                  <td className="px-2">{name}</td>
                  <td className="whitespace-nowrap px-2 font-mono text-xs">
                    {result.refreshHz} Hz ± {result.refreshSd} ms
                  </td>
                  <td className="whitespace-nowrap px-2 font-mono text-xs">
                    {result.scenes === 0
                      ? "no fixed refresh"
                      : `${shareInWords(result.exact, result.scenes)} of ${result.scenes}`}
                  </td>
                  <td className="whitespace-nowrap px-2 font-mono text-xs">
                    {result.worstFrames === 0
                      ? ""
                      : `${result.worstFrames} ${result.worstFrames === 1 ? "frame" : "frames"}`}
                  </td>
                  <td className="px-2 font-mono text-xs">{result.keys}</td>
                  <td className="whitespace-nowrap px-2 font-mono text-xs">
                    {result.keyDelay ? `${result.keyDelay.median} · ${result.keyDelay.p99} ms` : ""}
                  </td>
                  <td className="whitespace-nowrap px-2 font-mono text-xs">{result.window}</td>
                  <td className="whitespace-nowrap px-2 text-xs">
                    {result.square ? `${result.square.corner.replace("-", " ")}, ${result.square.side} px` : ""}
                  </td>
                  <td className="max-w-[220px] truncate px-2 text-xs text-muted" title={result.browser}>
                    {result.browser}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {tests[0] && (
          <p className="mt-3 max-w-[75ch] font-serif text-[17px]" data-verdict>
            {tests[0].computer}: {tests[0].result.verdict.join(" ")}
            {!tests[0].result.isolated && " The page was not isolated, so that times are stamped to 0.1 ms only."}
          </p>
        )}
        <p className="mt-3 max-w-[85ch] text-sm text-muted">
          “Key to script” is the median and the 99th percentile of the time from a key event’s own stamp to the script.
          What the keyboard itself and the panel add can only be measured with hardware: put a light sensor on the
          square, and see docs/timing.md.
        </p>
      </main>
      {running && <RunTest seconds={seconds} square={running.square} onDone={end} />}
    </div>
  );
}
