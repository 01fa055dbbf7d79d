// Builds the page that the tests of single parts ask; it is never shipped.
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  base: "./",
  build: { outDir: "../build/parts", emptyOutDir: true, rollupOptions: { input: "parts.html" } },
});
