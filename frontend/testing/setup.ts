// What the browser has and jsdom lacks.
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
// jsdom's Blob has no content that can be read; Node's own has.
const { Blob: NodeBlob } = await import('node:buffer');
Object.defineProperty(globalThis, 'Blob', { value: NodeBlob });
