// What the browser has and jsdom lacks.
import '@testing-library/jest-dom/vitest';
import { cleanup } from '@testing-library/react';
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { afterEach } from 'vitest';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
// jsdom's Blob has no content that can be read; Node's own has.
const { Blob: NodeBlob } = await import('node:buffer');
Object.defineProperty(globalThis, 'Blob', { value: NodeBlob });
// Nothing scrolls where nothing is laid out.
Element.prototype.scrollIntoView = () => undefined;

afterEach(cleanup);
