import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

/** In development the service's calls are passed on, so that the console runs against a real service. */
const service = process.env.GANTREL_URL ?? "http://127.0.0.1:8480";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "dist", assetsInlineLimit: 0, chunkSizeWarningLimit: 2500 },
  // tests of generated cases take their time on a machine that is busy
  test: { testTimeout: 120_000 },
  server: { proxy: { "/api": service } },
});
