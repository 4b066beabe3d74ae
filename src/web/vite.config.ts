import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: 'script-defer',
      // The page itself must open with the server gone; what is typed then waits on the device.
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallbackDenylist: [/^\/(api|let-in|health)/],
        inlineWorkboxRuntime: true,
      },
      manifest: {
        name: 'Rusty Ledger',
        short_name: 'Ledger',
        description: 'The working book of a control-board technician',
        display: 'standalone',
        background_color: '#efe9dd',
        theme_color: '#2a2622',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
    }),
  ],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700, modulePreload: { polyfill: false } },
  server: {
    port: 7419,
    strictPort: true, // The server takes writes only from its own origin.
    proxy: {
      '/api': { target: 'http://127.0.0.1:7418', changeOrigin: true, headers: { origin: 'http://127.0.0.1:7418' } },
    },
  },
});
