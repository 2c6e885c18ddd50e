// Prepares the interview engine for the browser: Pyodide's files, the engine's modules, and a snapshot of memory with
// the engine already imported, so that a phone starts in a second. Everything goes into one folder named by its content.
import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { gzipSync } from 'node:zlib';

const here = dirname(fileURLToPath(import.meta.url));
const root = resolve(here, '../..');
const pyodideFolder = resolve(root, 'node_modules/pyodide');
// Below /field/, so that the engine's worker and all it fetches belong to the service worker.
const out = resolve(root, 'frontend/public/field/engine');
const PYODIDE_FILES = ['pyodide.mjs', 'pyodide.asm.mjs', 'pyodide.asm.wasm', 'python_stdlib.zip', 'pyodide-lock.json'];
const ENGINE_SOURCES = [
  'src/skavo/__init__.py',
  'src/skavo/core/__init__.py',
  'src/skavo/core/documents.py',
  'src/skavo/core/errors.py',
  'src/skavo/core/interview',
  'src/skavo/core/rules/__init__.py',
  'src/skavo/core/rules/evaluate.py',
  'src/skavo/core/rules/automaton.py',
  'src/skavo/core/rules/functions.py',
  'src/skavo/core/rules/state.py',
  'src/skavo/core/rules/values.py',
  'src/skavo/core/rules/geodesy.py',
  'src/skavo/core/rules/check_digits.py',
  'src/skavo/core/visits/__init__.py',
  'src/skavo/core/visits/attempts.py',
  'src/skavo/core/visits/day.py',
  'src/skavo/core/visits/way.py',
];

function pythonFiles(path) {
  if (path.endsWith('.py')) return [path];
  return readdirSync(path)
    .filter((name) => name.endsWith('.py'))
    .sort()
    .map((name) => join(path, name));
}

const modules = {};
for (const source of ENGINE_SOURCES) {
  for (const file of pythonFiles(resolve(root, source))) {
    modules[relative(resolve(root, 'src'), file)] = readFileSync(file, 'utf8');
  }
}
const version = JSON.parse(readFileSync(join(pyodideFolder, 'package.json'), 'utf8')).version;
const recipe =
  readFileSync(fileURLToPath(import.meta.url), 'utf8') + readFileSync(join(here, 'engine-start.py'), 'utf8');
const digest = createHash('sha256')
  .update(version)
  .update(JSON.stringify(modules))
  .update(recipe)
  .digest('hex')
  .slice(0, 12);
const folder = join(out, digest);

function isThere() {
  try {
    return statSync(join(folder, 'snapshot.packed')).size > 0;
  } catch {
    return false;
  }
}

if (!isThere()) {
  rmSync(out, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  for (const name of PYODIDE_FILES) copyFileSync(join(pyodideFolder, name), join(folder, name));
  writeFileSync(join(folder, 'modules.json'), JSON.stringify(modules));
  const { loadPyodide } = await import(pathToFileURL(join(pyodideFolder, 'pyodide.mjs')).href);
  const py = await loadPyodide({ _makeSnapshot: true });
  for (const [path, text] of Object.entries(modules)) {
    py.FS.mkdirTree(`/engine/${dirname(path)}`);
    py.FS.writeFile(`/engine/${path}`, text);
  }
  py.runPython(readFileSync(join(here, 'engine-start.py'), 'utf8'));
  const snapshot = py.makeMemorySnapshot();
  writeFileSync(join(folder, 'snapshot.packed'), gzipSync(snapshot, { level: 9 }));
  console.log(`engine ${digest}: snapshot ${(snapshot.length / 1e6).toFixed(1)} MB`);
}
writeFileSync(
  resolve(root, 'frontend/shared/engine/generated.ts'),
  `// Written by frontend/build/engine.mjs.\nexport const ENGINE_FOLDER = '/field/engine/${digest}/';\n`,
);
