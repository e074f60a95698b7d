import type { ServerContext } from "~/server/http/context";

declare module "react-router" {
  // Loaders and actions get what the server gives them.
  interface AppLoadContext extends ServerContext {}
}
