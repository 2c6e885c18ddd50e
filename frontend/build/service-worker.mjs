// The service worker of the field page: everything that page needs, and nothing of the office.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';
import { injectManifest } from 'workbox-build';

const here = dirname(fileURLToPath(import.meta.url));
const built = resolve(here, '../../src/skavo/web/static');
const chunks = JSON.parse(readFileSync(resolve(built, '.vite/manifest.json'), 'utf8'));
const files = new Set(['field.html', 'field.webmanifest', 'icon.svg', 'icon-192.png', 'icon-512.png']);

function take(name) {
  const chunk = chunks[name];
  if (files.has(chunk.file)) return;
  files.add(chunk.file);
  for (const file of [...(chunk.css ?? []), ...(chunk.assets ?? [])]) if (!file.endsWith('.woff')) files.add(file);
  for (const other of [...(chunk.imports ?? []), ...(chunk.dynamicImports ?? [])]) take(other);
}
take('field.html');

const scratch = mkdtempSync(join(tmpdir(), 'skavo-'));
await build({
  configFile: false,
  publicDir: false,
  logLevel: 'warn',
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    outDir: scratch,
    emptyOutDir: true,
    lib: {
      entry: resolve(here, '../field/serviceWorker.ts'),
      formats: ['iife'],
      name: 'serviceWorker',
      fileName: () => 'sw.js',
    },
  },
});
const { count, size, warnings } = await injectManifest({
  swSrc: join(scratch, 'sw.js'),
  swDest: resolve(built, 'field/sw.js'),
  globDirectory: built,
  // Workers are not in the manifest of chunks; the engine's folder carries its content's hash in its name.
  globPatterns: [...files, 'field/assets/worker-*.js', 'field/engine/**/*'],
  maximumFileSizeToCacheInBytes: 40 * 1024 * 1024,
  dontCacheBustURLsMatching: /\/?field\/(assets|engine)\//,
  modifyURLPrefix: { '': '/' },
});
rmSync(scratch, { recursive: true });
for (const warning of warnings) console.warn(warning);
console.log(`service worker: ${count} files, ${(size / 1e6).toFixed(1)} MB`);
