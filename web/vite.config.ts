import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
    // Everything is kept beside the browser's data, so that the app works on without its server.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Velvet Porch',
        short_name: 'Velvet Porch',
        description:
          'Turns a tune into playable fingerstyle or chord-melody tablature, and teaches it measure by measure.',
        theme_color: '#4a2438',
        background_color: '#faf5ec',
        display: 'standalone',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2,json,wav}'],
        maximumFileSizeToCacheInBytes: 8_000_000,
        navigateFallback: '/index.html',
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  root: import.meta.dirname,
  worker: { format: 'es' },
  build: { outDir: '../dist', emptyOutDir: true, chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
});
