import { object } from "../shape/compound";
import { title } from "../shape/plain";
import { judged, type Of, type Shape } from "../shape/shape";
import { id } from "./ref";

const longest = 500;

/** Its origin stands in a policy of browsers, where other signs would say something else. */
const plainOrigin = /^https?:\/\/(?:[a-z0-9.-]+|\[[0-9a-f:.]+\])(?::\d{1,5})?$/;

/** The parts of a service's address; null where it is none that can be asked: http or https, without a name or password in it. */
export function serviceUrl(address: string): URL | null {
  if (address.length > longest || !URL.canParse(address)) return null;
  const url = new URL(address);
  const isPlain = url.username === "" && url.password === "" && url.hash === "";
  return isPlain && plainOrigin.test(url.origin) ? url : null;
}

const address: Shape<string> = judged((value) =>
  typeof value === "string" && serviceUrl(value) !== null
    ? null
    : `must be an address such as https://scores.example/ask, of at most ${longest} characters`,
);

const serviceFields = object({ id, name: title(60), address });
/** An address that rules may ask; what it answers is recorded. */
export interface Service extends Of<typeof serviceFields> {}
export const service: Shape<Service> = serviceFields;

/** Whether only the participant's own computer is asked, where programs of a laboratory run. */
export const isOwnComputer = ({ address: of }: Service): boolean =>
  ["localhost", "127.0.0.1", "[::1]"].includes(serviceUrl(of)?.hostname ?? "");
