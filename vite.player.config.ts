import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

/**
 * The participant's player: plain script, no framework. With `--mode preview`, its pages to be looked at while a study is
 * designed; they are built apart, so that the player stays in one file.
 */
export default defineConfig(({ mode }) => {
  const name = mode === "preview" ? "preview" : "player";
  return {
    base: `/${name}/`,
    publicDir: false,
    resolve: {
      tsconfigPaths: true,
      alias: { yup: fileURLToPath(new URL("player/without-words.ts", import.meta.url)) },
    },
    build: {
      outDir: `build/${name}`,
      emptyOutDir: true,
      manifest: true,
      target: "es2022",
      assetsInlineLimit: 0,
      rollupOptions: {
        input: mode === "preview" ? "player/preview.ts" : "player/main.ts",
        output: {
          codeSplitting: {
            groups: [{ name: "shared", test: /core.(shape|values|design|questions)./, minShareCount: 2 }],
          },
        },
      },
    },
  };
});
