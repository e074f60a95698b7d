import { useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Choice, Property, Tick } from "~/app/components/fields";
import { adapterNames, wayNames } from "~/core/bridge/in-words";
import {
  bridgeDevice,
  isTracker,
  trackerAdapters,
  type BridgeDevice,
  type DeviceSettings,
  type DeviceWay,
  type TrackerSettings,
} from "~/core/bridge/messages";
import { hasShape, mistakesIn } from "~/core/shape/shape";
import type { BridgeLink } from "~/player/bridge/link";

/** What is typed of a device, before it is one. */
type Typed = {
  is: "line" | "tracker";
  adapter: TrackerSettings["adapter"];
  name: string;
  kind: DeviceWay;
  path: string;
  baud: string;
  host: string;
  port: string;
  pulse: string;
};
const usual = {
  line: { name: "Marker line", port: "7712" },
  tracker: { name: "Eye tracker", port: "7713" },
};

const typedOf = (device: BridgeDevice | null, ports: readonly string[]): Typed => {
  const settings = device?.settings;
  const tracker = settings && isTracker(settings) ? settings : null;
  const line = settings && !isTracker(settings) ? settings : null;
  return {
    is: tracker ? "tracker" : "line",
    adapter: tracker?.adapter ?? "lines",
    name: device?.name ?? usual.line.name,
    kind: line?.kind ?? (ports.length > 0 ? "serial" : "tcp"),
    path: settings && "path" in settings ? settings.path : (ports[0] ?? ""),
    baud: settings?.kind === "serial" ? String(settings.baud) : "115200",
    host: settings && "host" in settings ? settings.host : "127.0.0.1",
    port: settings && "port" in settings ? String(settings.port) : usual.line.port,
    pulse: String(line?.pulseMs ?? 5),
  };
};
const number = (written: string) => (written.trim() === "" ? NaN : Number(written.trim().replace(",", ".")));

function settingsOf({ is, adapter, kind, path, baud, host, port, pulse }: Typed, answers: boolean): DeviceSettings {
  if (is === "tracker") return { kind: "tracker", adapter, host: host.trim(), port: number(port) };
  const line = { pulseMs: kind === "file" ? 0 : number(pulse), answers: kind !== "file" && answers };
  const at = { path: path.trim() };
  switch (kind) {
    case "serial":
      return { kind, ...at, baud: number(baud), ...line };
    case "tcp":
    case "udp":
      return { kind, host: host.trim(), port: number(port), ...line };
    default:
      return { kind, ...at, ...line };
  }
}

const fieldNames: Record<string, string> = {
  ...{ name: "The name", "settings.path": "The path", "settings.baud": "The speed", "settings.host": "The computer" },
  ...{ "settings.port": "The port", "settings.pulseMs": "The pulse" },
};

/** Adds a device to the bridge of this computer, or changes one. */
export function DeviceForm({
  device,
  link,
  close,
}: {
  device: BridgeDevice | null;
  link: BridgeLink;
  close: () => void;
}) {
  const { ways = [], serialPorts = [] } = link.hello ?? {};
  const [typed, setTyped] = useState(() => typedOf(device, serialPorts));
  const [answers, setAnswers] = useState(device && !isTracker(device.settings) ? device.settings.answers : true);
  const [id] = useState(() => device?.id ?? crypto.randomUUID().slice(0, 8));
  const [problem, setProblem] = useState<string | null>(null);
  const set = (change: Partial<Typed>) => {
    setProblem(null);
    setTyped({ ...typed, ...change });
  };
  const { kind } = typed;
  const isLine = typed.is === "line";
  /** What it is called and where it listens, as long as nothing else was typed. */
  const choose = (is: Typed["is"]) => {
    const before = usual[typed.is];
    const [name, port] = (["name", "port"] as const).map((of) =>
      typed[of] === before[of] ? usual[is][of] : typed[of],
    );
    set({ is, name: name ?? "", port: port ?? "" });
  };
  const save = async () => {
    const made = { id, name: typed.name.trim(), settings: settingsOf(typed, answers) };
    const [mistake] = mistakesIn(bridgeDevice, made);
    if (mistake) return setProblem(`${fieldNames[mistake.path] ?? mistake.path} ${mistake.message}.`);
    if (!hasShape(bridgeDevice, made)) return;
    await link.keep(made);
    close();
  };
  return (
    <Dialog
      open
      onOpenChange={close}
      title={device ? `Change “${device.name}”` : "A new device"}
      description={
        isLine
          ? "A marker line takes the markers of a study: numbers from 1 to 255 as a byte, other values as a text with its line’s end."
          : "An eye tracker is reached through its own program. It opens, records and closes with each session of a study that records gaze."
      }
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          save().catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)));
        }}
      >
        {!device && (
          <Property label="What it is">
            <Choice
              label="What it is"
              value={typed.is}
              options={[
                ["line", "a marker line"],
                ["tracker", "an eye tracker"],
              ]}
              onChange={choose}
            />
          </Property>
        )}
        <Field label="Name" value={typed.name} maxLength={60} onChange={({ target }) => set({ name: target.value })} />
        <Property label="Reached by">
          {isLine ? (
            <Choice
              label="Reached by"
              value={kind}
              options={ways.map((way) => [way, wayNames[way]] as const)}
              onChange={(chosen) => set({ kind: chosen })}
            />
          ) : (
            <Choice
              label="Reached by"
              value={typed.adapter}
              options={trackerAdapters.map((adapter) => [adapter, adapterNames[adapter]] as const)}
              onChange={(adapter) => set({ adapter })}
            />
          )}
        </Property>
        {!isLine || kind === "tcp" || kind === "udp" ? (
          <div className="grid grid-cols-[1fr_110px] gap-3">
            <Field
              label="Computer"
              value={typed.host}
              maxLength={253}
              onChange={({ target }) => set({ host: target.value })}
            />
            <Field
              label="Port"
              inputMode="numeric"
              value={typed.port}
              onChange={({ target }) => set({ port: target.value })}
            />
          </div>
        ) : (
          <div className={kind === "serial" ? "grid grid-cols-[1fr_110px] gap-3" : ""}>
            <Field
              label={kind === "serial" ? "Port" : "Path"}
              value={typed.path}
              maxLength={400}
              list={kind === "serial" ? "serial-ports" : undefined}
              placeholder={kind === "serial" ? "/dev/ttyUSB0 or COM3" : "/home/lab/markers"}
              onChange={({ target }) => set({ path: target.value })}
            />
            {kind === "serial" && (
              <>
                <datalist id="serial-ports">
                  {serialPorts.map((each) => (
                    <option key={each} value={each} />
                  ))}
                </datalist>
                <Field
                  label="Baud"
                  inputMode="numeric"
                  value={typed.baud}
                  onChange={({ target }) => set({ baud: target.value })}
                />
              </>
            )}
          </div>
        )}
        {isLine && kind !== "file" && (
          <>
            <Field
              label="Pulse in ms"
              inputMode="decimal"
              value={typed.pulse}
              hint="Then the line returns to zero. With 0 each value stands until the next."
              onChange={({ target }) => set({ pulse: target.value })}
            />
            <Tick checked={answers} onChange={setAnswers}>
              the device sends back what it takes, so that its arrival is known
            </Tick>
          </>
        )}
        {problem !== null && (
          <p role="alert" className="text-sm text-alarm">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary">
            {device ? "Change it" : "Add it"}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
