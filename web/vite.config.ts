declare const process: { env: Record<string, string | undefined> };

import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { target: "es2022", chunkSizeWarningLimit: 1600, sourcemap: false },
  server: {
    proxy: { "/api": { target: `http://127.0.0.1:${process.env.DREIZACK_PORT ?? 7340}`, ws: true } },
  },
  // Few tests need a page; those say so in their first line. A busy machine takes its time to read modules.
  test: {
    environment: "node",
    include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
