// The service worker of the field page: everything that page needs, and nothing of the office.
import { readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { generateSW } from 'workbox-build';

const built = resolve(dirname(fileURLToPath(import.meta.url)), '../../src/skavo/web/static');
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

const { count, size, warnings } = await generateSW({
  swDest: resolve(built, 'sw.js'),
  globDirectory: built,
  // Workers are not in the manifest of chunks; the engine's folder carries its content's hash in its name.
  globPatterns: [...files, 'assets/worker-*.js', 'engine/**/*'],
  maximumFileSizeToCacheInBytes: 40 * 1024 * 1024,
  dontCacheBustURLsMatching: /\/?(assets|engine)\//,
  navigateFallback: '/field.html',
  navigateFallbackAllowlist: [/^\/field(\/|$)/],
  cleanupOutdatedCaches: true,
  inlineWorkboxRuntime: true,
  sourcemap: false,
});
for (const warning of warnings) console.warn(warning);
console.log(`service worker: ${count} files, ${(size / 1e6).toFixed(1)} MB`);
