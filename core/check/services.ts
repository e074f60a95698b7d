import type { StudyDocument } from "../design/document";
import type { ActionOf } from "../rules/action";
import { isOwnComputer, serviceUrl } from "../values/service";
import type { Finding } from "./finding";

type Told = Pick<Finding, "level" | "message">;

/** A service that is gone, and what it is told, which leaves this server. */
export function serviceProblems({ services }: StudyDocument, { service: id, sends }: ActionOf<"ask">): Told[] {
  const service = services.find((each) => each.id === id);
  if (!service) return [{ level: "error", message: "It asks a service that has been removed. Choose another." }];
  const told = sends.length === 0 ? "nothing but that it is asked" : sends.map(({ name }) => name).join(", ");
  const isOwn = isOwnComputer(service);
  const leaves: Told = {
    level: "warning",
    message: `It asks ${service.name} at ${service.address} and tells it ${told}${isOwn ? "" : ": that leaves this server. Say so to participants"}.`,
  };
  const isOpen = serviceUrl(service.address)?.protocol === "http:" && !isOwn;
  return [
    isOwn ? { ...leaves, level: "note" } : leaves,
    ...(isOpen
      ? [
          {
            level: "warning" as const,
            message: `${service.name} has an http address: what is sent can be read on the way, and a page with https may not ask it.`,
          },
        ]
      : []),
  ];
}
