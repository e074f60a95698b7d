import { defineConfig } from "vite";

/** The participant's player: plain script, no framework. */
export default defineConfig({
  base: "/player/",
  publicDir: false,
  resolve: { tsconfigPaths: true },
  build: {
    outDir: "build/player",
    emptyOutDir: true,
    manifest: true,
    target: "es2022",
    assetsInlineLimit: 0,
    rollupOptions: { input: "player/main.ts" },
  },
});
