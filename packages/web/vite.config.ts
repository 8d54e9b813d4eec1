import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ["tourney-source", "browser", "module"] },
  build: {
    outDir: "dist",
    emptyOutDir: true,
    chunkSizeWarningLimit: 600, // Fonts come from the app itself; its policy allows none from data addresses.
    assetsInlineLimit: 0,
  },
});
