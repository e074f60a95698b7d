import { defineConfig } from "vite";

/** What Node runs: the server's start and the command line. Packages stay outside and are loaded from node_modules. */
export default defineConfig({
  publicDir: false,
  resolve: { tsconfigPaths: true },
  build: {
    ssr: true,
    outDir: "build/node",
    emptyOutDir: true,
    target: "node20",
    rollupOptions: {
      input: {
        start: "cli/start.ts",
        cli: "cli/main.ts",
        "demo-files": "demo/make-files.ts",
        "results-worker": "server/results/worker.ts",
        "judging-worker": "server/judging/worker.ts",
        "export-worker": "server/export/worker.ts",
        "moving-worker": "server/moving/worker.ts",
        "workshop-worker": "server/workshop/worker.ts",
      },
    },
  },
});
