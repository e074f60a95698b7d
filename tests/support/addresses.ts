import type { RouteConfigEntry } from "@react-router/dev/routes";
import routes from "~/app/routes";
import type { Store } from "~/server/database/open";
import { pages } from "~/server/http/pages";
import { participants } from "~/server/http/participants";
import { scriptFrame } from "~/server/http/script-frame";

/** Every address there is: the paths in the application's routes and in the routers beside them. */
export function allPaths(): string[] {
  const walk = (entries: readonly RouteConfigEntry[], before: string): string[] =>
    entries.flatMap(({ path = "", index, children = [] }) => {
      const whole = path === "" ? before : `${before}/${path}`;
      return [...(index || path !== "" ? [whole || "/"] : []), ...walk(children, whole)];
    });
  type Layer = { route?: { path: string } };
  const nothing = { script: "", styles: [], preload: [] };
  const ofRouter = ({ stack }: { stack: Layer[] }) => stack.flatMap(({ route }) => (route ? [route.path] : []));
  const store = {} as Store;
  return [
    ...walk(routes as RouteConfigEntry[], ""),
    ...ofRouter(participants(store, nothing, nothing) as unknown as { stack: Layer[] }),
    ...ofRouter(pages(store) as unknown as { stack: Layer[] }),
    ...ofRouter(scriptFrame() as unknown as { stack: Layer[] }),
    "/healthz",
  ];
}
