import { basename } from 'node:path';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

/** The script that reads the shelf, in the file of the page: it is run as soon as it is there, before the whole app is. */
const AHEAD = 'src/data/ahead.ts';

function readsAhead(): Plugin {
  return {
    name: 'reads-ahead',
    transformIndexHtml(_html, { bundle }) {
      const own = Object.values(bundle ?? {}).find(
        file => file.type === 'chunk' && file.isEntry && file.facadeModuleId?.endsWith(AHEAD),
      );
      if (!own) return [];
      const attrs = { type: 'module', async: true, crossorigin: true, src: `/${own.fileName}` };
      return [{ tag: 'script', attrs, injectTo: 'head-prepend' }];
    },
  };
}

/**
 * Nearly all of the first screen's script is run at once: Chromium compiles it while it loads, beside what else is done, rather
 * than function by function in the midst of the first picture. To other browsers it is a comment; it must come first.
 */
function compiledAsItLoads(): Plugin {
  return {
    name: 'compiled-as-it-loads',
    generateBundle: {
      order: 'post',
      handler(_options, bundle) {
        for (const file of Object.values(bundle))
          if (file.type === 'chunk' && file.isEntry && file.facadeModuleId?.endsWith('index.html'))
            file.code = `//# allFunctionsCalledOnLoad\n${file.code}`;
      },
    },
  };
}

export default defineConfig({
  plugins: [
    react(),
    readsAhead(),
    compiledAsItLoads(),
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
  css: {
    modules: {
      localsConvention: 'camelCaseOnly',
      // By its style sheet and its own name, so that the same style reads the same in every build.
      generateScopedName: (name, path) => `${basename(path, '.module.css')}-${name}`,
    },
  },
  worker: { format: 'es' },
  build: {
    outDir: '../dist',
    emptyOutDir: true,
    chunkSizeWarningLimit: 900,
    assetsInlineLimit: 0,
    rolldownOptions: {
      input: { index: `${import.meta.dirname}/index.html`, ahead: `${import.meta.dirname}/${AHEAD}` },
      output: {
        chunkFileNames: ({ name }) => `assets/${name.replace(/~.*/, '')}-[hash].js`,
        // What the first screen needs is two files, what screens share a few: each file costs a turn of its own.
        codeSplitting: {
          groups: [
            // What reads the shelf, with all that it needs; then the rest.
            { name: 'data', tags: ['$initial'], test: /[\\/]data[\\/]ahead\.ts$/, priority: 4 },
            { name: 'first', tags: ['$initial'], priority: 3 },
            // The parts of the interface's library that come later: by themselves, as none of them needs a part of ours, and
            // files that need each other can't begin in any order.
            { name: 'library', test: /[\\/]@(mantine|tabler)[\\/]/, priority: 2 },
            {
              name: 'shared',
              // Not the formats, the checks of records and what they need: they are heavy, and rarely wanted at once.
              test: /[\\/](web[\\/]src[\\/](?!screens)\w+|core[\\/](?!formats|records)\w+)[\\/]/,
              minShareCount: 2,
              entriesAware: true,
              entriesAwareMergeThreshold: 100_000,
              priority: 1,
            },
          ],
        },
      },
    },
  },
});
