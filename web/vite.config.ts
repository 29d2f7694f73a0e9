import path from 'node:path';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';

export default defineConfig({
  plugins: [
    react(),
    // Once, when they are built, and not at every request.
    compression({
      include: /\.(js|css|svg|aff|dic)$/,
      algorithms: [defineAlgorithm('gzip', { level: 9 }), defineAlgorithm('brotliCompress', { params: {} })],
    }),
  ],
  resolve: {
    alias: [
      // The packages of dictionaries let nobody import the files they are made of.
      {
        find: /^(dictionary-[a-z-]+)\/index\.(aff|dic)/,
        replacement: path.resolve(import.meta.dirname, '../node_modules/$1/index.$2'),
      },
    ],
  },
  html: { cspNonce: 'NONCE-OF-THIS-ANSWER' }, // the server puts a new one into every page it sends
  build: {
    outDir: 'dist',
    // Dictionaries are fetched, which an address that holds them itself is not allowed to be.
    assetsInlineLimit: (file) => (/\.(aff|dic)$/.test(file) ? false : undefined),
    emptyOutDir: true,
    chunkSizeWarningLimit: 1500,
    // What is loaded first says so in its file, however it is cut into pieces: the number of styles is looked for at once.
    // The second page is opened by the press alone, on the server or from the command line.
    rolldownOptions: {
      input: ['index.html', 'print.html'],
      output: {
        strictExecutionOrder: true,
        // What several pages use comes in a few pieces: each piece is a request, and many were smaller than its head.
        codeSplitting: {
          groups: [{ name: 'shared', minShareCount: 2, entriesAware: true, entriesAwareMergeThreshold: 30_000 }],
        },
        chunkFileNames: ({ name }) => `assets/${name.split('~')[0]}-[hash].js`,
        assetFileNames: ({ names }) => `assets/${path.parse(names[0] ?? '').name.split('~')[0]}-[hash][extname]`,
      },
    },
  },
});
