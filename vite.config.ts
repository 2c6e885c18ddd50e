import react from '@vitejs/plugin-react';
import { resolve } from 'node:path';
import { defineConfig } from 'vite';

const root = resolve(import.meta.dirname, 'frontend');

export default defineConfig({
  root,
  appType: 'mpa',
  plugins: [react()],
  worker: { format: 'es' },
  build: {
    outDir: resolve(import.meta.dirname, 'src/skavo/web/static'),
    emptyOutDir: true,
    // Whatever the phone needs lies in the scope of its service worker; the office page takes the same files.
    assetsDir: 'field/assets',
    manifest: true,
    chunkSizeWarningLimit: 1500,
    rolldownOptions: {
      input: { office: resolve(root, 'office.html'), field: resolve(root, 'field.html'), answer: resolve(root, 'answer.html') },
    },
  },
  server: { port: 5173, proxy: { '/api': 'http://127.0.0.1:8060' } },
});
