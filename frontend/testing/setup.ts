// What the browser has and jsdom lacks.
import '@testing-library/jest-dom/vitest';
import { cleanup } from '@testing-library/react';
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { afterEach, vi } from 'vitest';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
// A PIN need not be hard to guess here.
vi.mock('../field/store/turns', () => ({ TURNS: 1000 }));
// Bytes that come out of the database are Node's own, and jsdom's are others.
Object.defineProperty(globalThis, 'Uint8Array', { value: Object.getPrototypeOf(Buffer) as unknown });
// jsdom's Blob has no content that can be read; Node's own has.
const { Blob: NodeBlob } = await import('node:buffer');
Object.defineProperty(globalThis, 'Blob', { value: NodeBlob });
// Nothing scrolls where nothing is laid out.
Element.prototype.scrollIntoView = () => undefined;

afterEach(cleanup);
