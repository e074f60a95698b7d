import { index, route, type RouteConfig } from "@react-router/dev/routes";

export default [
  index("routes/home.ts"),
  route("sign-in", "routes/sign-in.tsx"),
  route("sign-out", "routes/sign-out.ts"),
  route("look-around", "routes/look-around.ts"),
  route("first-account", "routes/first-account.tsx"),
  route("studies", "routes/studies.tsx"),
  route("studies/:code", "routes/study.tsx", [
    index("routes/study-start.ts"),
    route("plan", "routes/plan.tsx"),
    route("compose", "routes/compose.tsx"),
    route("rehearse", "routes/rehearse.tsx"),
    route("collect", "routes/collect.tsx"),
    route("results", "routes/results.tsx"),
  ]),
  route("studies/:code/edits", "routes/study-edits.ts"),
  route("studies/:code/history", "routes/study-history.ts"),
  route("studies/:code/rehearsals", "routes/study-rehearsals.ts"),
  route("studies/:code/media", "routes/study-media-add.ts"),
  route("studies/:code/media/:sha256", "routes/study-media.ts"),
  route("studies/:code/file", "routes/study-file.ts"),
  route("studies/:code/data", "routes/study-data.ts"),
  route("studies/:code/trials.csv", "routes/study-trials.ts"),
  route("studies/:code/sequences.csv", "routes/study-sequences.ts"),
  route("studies/:code/lab", "routes/study-lab.ts"),
  route("*", "routes/not-found.tsx"),
] satisfies RouteConfig;
