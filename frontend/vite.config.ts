import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

import { guide } from "./guidePlugin.ts";

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    guide(),
    VitePWA({
      // A newer page takes over when no tab of the older one is open any more: nothing jumps under anyone's hands.
      registerType: "prompt",
      injectRegister: null,
      manifest: {
        name: "Pondus",
        short_name: "Pondus",
        description: "Tuning violins, violas and cellos",
        start_url: "/",
        display: "standalone",
        background_color: "#f4efe4",
        theme_color: "#f4efe4",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
          { src: "/mark.svg", sizes: "any", type: "image/svg+xml" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,png,woff2}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  server: { proxy: { "/api": { target: "http://127.0.0.1:8088", ws: true } } },
  build: { target: "es2022", chunkSizeWarningLimit: 900 },
});
