// A map sheet as it is drawn: what it is, and how its bytes are had, on a phone from its own store.
import { createContext } from 'react';
import type { Schemas } from '../api/client';

export interface Sheet {
  line: Schemas['SheetLine'];
  /** Bytes of its content. */
  read: (from: number, length: number) => Promise<ArrayBuffer>;
}

/** The sheets at hand; none where nothing can be shown on a map. */
export const SheetsContext = createContext<Sheet[]>([]);
