import { CircleAlert, CircleCheck, CircleDashed, Ellipsis, Plus } from "lucide-react";
import { useState, type ReactNode } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { deviceInWords, testInWords } from "~/core/bridge/in-words";
import type { BridgeDevice, DeviceTest, ListedDevice } from "~/core/bridge/messages";
import type { BridgeLink } from "~/player/bridge/link";
import { DeviceForm } from "./device-form";
import { useBridge } from "./use-bridge";

const messagesOfTest = 40;

/** The devices of this computer, which its bridge reaches: paired, added, tested in place. */
export function Devices() {
  const { state, port, setPort, look, pair } = useBridge();
  const [editing, setEditing] = useState<BridgeDevice | "new" | null>(null);
  const link = state.is === "there" ? state.link : null;
  const isPaired = link?.hello?.isPaired === true;
  return (
    <section aria-label="Devices">
      <div className="-mt-1 mb-2 flex min-h-7 items-center justify-between gap-2">
        <h2 className="font-serif text-[17px]">
          <b className="font-semibold">Devices</b> <em className="text-muted">of this computer</em>
        </h2>
        {isPaired && (
          <Button icon={Plus} look="quiet" onClick={() => setEditing("new")}>
            Device
          </Button>
        )}
      </div>
      {!link && (
        <Card>
          <p className="text-sm" role="status">
            {state.is === "refused"
              ? state.says
              : state.is === "away"
                ? "No bridge answers at this port of this computer."
                : "Marker lines and other devices are reached by the bridge, a small program on this computer."}{" "}
            {state.is !== "refused" && (
              <>
                Start it with <code className="font-mono text-xs">./lapwing bridge</code>.
              </>
            )}
          </p>
          <div className="mt-2 flex items-end gap-2">
            <label className="text-sm text-muted">
              Port{" "}
              <input
                className="field ml-1 !w-20 font-mono !text-xs"
                inputMode="numeric"
                value={String(port)}
                onChange={({ target }) => setPort(Math.min(65_535, Number(target.value.replace(/\D/g, "")) || 0))}
              />
            </label>
            <Button disabled={state.is === "looking"} onClick={look}>
              {state.is === "looking" ? "Looking for it…" : "Look for the bridge"}
            </Button>
          </div>
        </Card>
      )}
      {link && !isPaired && <Pairing name={link.hello?.name ?? ""} pair={pair} />}
      {link && isPaired && (
        <div className="rounded-md border border-hairline bg-sheet" data-devices>
          {link.devices.length === 0 && (
            <p className="p-3.5 text-sm text-muted">
              The bridge is there. “Device” adds a marker line or an eye tracker.
            </p>
          )}
          {link.devices.map((each) => (
            <Line key={each.device.id} listed={each} link={link} change={() => setEditing(each.device)} />
          ))}
        </div>
      )}
      {editing !== null && link && (
        <DeviceForm device={editing === "new" ? null : editing} link={link} close={() => setEditing(null)} />
      )}
    </section>
  );
}

const Card = ({ children }: { children: ReactNode }) => (
  <div className="rounded-md border border-hairline bg-sheet p-3.5">{children}</div>
);

function Pairing({ name, pair }: { name: string; pair: (code: string) => Promise<void> }) {
  const [code, setCode] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <Card>
      <form
        className="grid max-w-[420px] gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          pair(code).catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)));
        }}
      >
        <p className="text-sm">
          A bridge answers on {name}. It works for the installation that is paired with it: type the code it shows.
        </p>
        <Field
          label="Code"
          value={code}
          inputMode="numeric"
          autoComplete="off"
          maxLength={20}
          problem={problem ?? undefined}
          onChange={({ target }) => {
            setCode(target.value);
            setProblem(null);
          }}
        />
        <div>
          <Button type="submit" look="primary" disabled={code.trim() === ""}>
            Pair
          </Button>
        </div>
      </form>
    </Card>
  );
}

function Line({ listed, link, change }: { listed: ListedDevice; link: BridgeLink; change: () => void }) {
  const { device, state, says } = listed;
  const [test, setTest] = useState<DeviceTest | "on" | null>(null);
  const [before, setBefore] = useState(device);
  // What was tested is not what it is now.
  if (JSON.stringify(before.settings) !== JSON.stringify(device.settings)) {
    setBefore(device);
    setTest(null);
  }
  const told = test === null || test === "on" ? null : test;
  const isWrong = told ? told.problem !== null : state === "lost";
  const isGood = told ? told.problem === null : state === "ready";
  const Icon = isWrong ? CircleAlert : isGood ? CircleCheck : CircleDashed;
  const run = async () => {
    setTest("on");
    setTest(await link.test(device.id, messagesOfTest).catch(() => null));
  };
  return (
    <div
      className="flex items-center gap-4 border-b border-hairline px-3.5 py-2.5 last:border-b-0"
      aria-label={device.name}
      role="group"
    >
      <Icon
        size={17}
        className={`shrink-0 ${isWrong ? "text-alarm" : isGood ? "text-plumage" : "text-muted"}`}
        aria-label={isWrong ? "does not work" : isGood ? "works" : "not tested"}
      />
      <div className="min-w-0 flex-1">
        <h3 className="text-sm font-semibold">{device.name}</h3>
        <p className="text-xs text-muted">
          {deviceInWords(device.settings)}
          <span role="status">{test === "on" ? " · testing…" : told && ` · ${testInWords(told)}`}</span>
        </p>
        {!told && state === "lost" && <p className="text-xs text-alarm">{says}</p>}
      </div>
      <Button disabled={test === "on"} onClick={() => void run()}>
        {told ? "Test again" : "Test"}
      </Button>
      <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`More of ${device.name}`} />}>
        <MenuItem onSelect={change}>Change…</MenuItem>
        <MenuItem alarm onSelect={() => void link.remove(device.id)}>
          Remove
        </MenuItem>
      </Menu>
    </div>
  );
}
