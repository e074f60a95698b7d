/** The secret a participant's player sends along; empty where there is none. */
export const bearerOf = (request: Request): string =>
  /^Bearer (\S+)$/.exec(request.headers.get("Authorization") ?? "")?.[1] ?? "";
export const noSession = (): Response =>
  Response.json({ reason: "This session is not known here. Open the link again." }, { status: 404 });
