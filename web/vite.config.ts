import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
	plugins: [react()],
	build: { chunkSizeWarningLimit: 1500, assetsInlineLimit: 0 },
	server: { proxy: { "/api": "http://127.0.0.1:4280" } },
	test: {
		// Functions of the pages alone: what is drawn is tested in a browser. The floor only rises.
		coverage: {
			include: ["src/**/*.{ts,tsx}"],
			reporter: ["text-summary"],
			thresholds: { statements: 8.7, branches: 7.6, functions: 5.7, lines: 8.2 },
		},
	},
});
