import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

/** The researcher's application: browser and server-rendered side. */
export default defineConfig({
  plugins: [tailwindcss(), reactRouter()],
  resolve: { tsconfigPaths: true },
  worker: { format: "es" },
  build: { sourcemap: false, chunkSizeWarningLimit: 1500, emptyOutDir: true },
});
